import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { pathAs, readReply, readResponse } from '../../src/client.js';
import { openWorkspace } from '../../src/library.js';
import { copyOf, zeitwort } from '../support/program.js';

const workspace = openWorkspace(copyOf('observatory'));
const violations = [
  { path: 'dryRun', in: 'query' as const, rule: 'enum' },
  { path: '', rule: 'type' },
  { path: 'targets[2].name', rule: 'required' },
  { path: 'targets[2].name', rule: 'maxLength' },
  { path: 'nights', rule: 'maximum' },
];

describe('a body', () => {
  const report = { form: 'observing-proposal', violations };

  test.each(['problem', 'jsonapi', 'graphql', 'fields', 'list'])(
    'in the shape %s is read: field → texts, the form, parameters',
    (shape) => {
      const { status, headers, body } = workspace.render(report, { locale: 'en', shape });
      const reply = { status, mediaType: headers['content-type'] ?? null, text: body };
      const outcome = readReply(reply);
      expect(outcome).toMatchObject({
        kind: 'invalid',
        fields: {
          nights: ['You can ask for at most 14 nights.'],
          'targets.2.name': [
            'Please give the name for target 3.',
            'Target 3: name must have at most 60 characters.',
          ],
        },
        form: [expect.stringContaining('must be an object')],
        parameters: { dryRun: [expect.stringContaining('Dry run')] },
      });
      expect(
        Object.keys((readReply(reply, { paths: 'brackets' }) as { fields: object }).fields),
      ).toContain('targets[2].name');
      expect(
        Object.keys((readReply(reply, { paths: 'pointer' }) as { fields: object }).fields),
      ).toContain('/targets/2/name');
      const paths = outcome.kind === 'invalid' ? outcome.errors.map((error) => error.path) : [];
      expect(paths).toEqual([['nights'], ['targets', 2, 'name']]);
    },
  );

  test.each(['problem', 'jsonapi', 'graphql', 'fields', 'list'])(
    'of another problem in the shape %s is told apart',
    (shape) => {
      const { status, headers, body } = workspace.renderProblem('telescope-closed', {
        locale: 'en',
        shape,
      });
      expect(
        readReply({ status, mediaType: headers['content-type'] ?? null, text: body }),
      ).toMatchObject({
        kind: 'problem',
        status: 409,
        code: 'telescope-closed',
        title: expect.stringMatching(/The telescope is closed|No proposals/),
      });
    },
  );
});

describe('what is no answer of the service', () => {
  test.each([
    [
      'a proxy’s page',
      { status: 502, mediaType: 'text/html', text: '<html>Bad Gateway</html>' },
      'foreign',
    ],
    ['no media type', { status: 500, mediaType: null, text: '' }, 'foreign'],
    [
      'half a body',
      { status: 422, mediaType: 'application/problem+json', text: '{"type":"about:b' },
      'broken',
    ],
    [
      'somebody else’s JSON',
      { status: 400, mediaType: 'application/json', text: '{"message":"no"}' },
      'foreign',
    ],
    ['null', { status: 400, mediaType: 'application/json', text: 'null' }, 'foreign'],
  ])('%s', (_, reply, reason) => {
    expect(readReply(reply)).toEqual({ kind: 'no-answer', reason, status: reply.status });
  });

  test('a network error, also in the middle of a body, is an outcome', async () => {
    expect(await readResponse(fetch('http://127.0.0.1:1/'))).toEqual({
      kind: 'no-answer',
      reason: 'network',
    });
    const torn = {
      status: 422,
      headers: { get: () => 'application/json' },
      text: () => Promise.reject(new Error('torn')),
    };
    expect(await readResponse(torn)).toEqual({
      kind: 'no-answer',
      reason: 'network',
      status: 422,
      response: torn,
    });
  });

  test('what was taken comes back: data, where it is now, the response', async () => {
    const made = new Response('{"id":41}', {
      status: 201,
      headers: { 'content-type': 'application/json', location: '/proposals/41' },
    });
    const taken = { kind: 'accepted', status: 201, data: { id: 41 }, location: '/proposals/41' };
    expect(await readResponse(Promise.resolve(made))).toEqual({ ...taken, response: made });
    expect(readReply({ status: 204, mediaType: null, text: '' })).toEqual({
      kind: 'accepted',
      status: 204,
    });
    expect(readReply({ status: 200, mediaType: 'text/plain', text: 'x' })).toEqual({
      kind: 'accepted',
      status: 200,
      data: 'x',
    });
    const torn = { status: 200, mediaType: 'application/json', text: '{' };
    expect(readReply(torn)).toEqual({ kind: 'accepted', status: 200, data: '{' });
  });

  test('extension members, and the code of a problem without a type', () => {
    const body = { type: 'about:blank', title: 'Not Found', status: 404, detail: '', balance: 30 };
    const reply = {
      status: 404,
      mediaType: 'application/problem+json',
      text: JSON.stringify(body),
    };
    expect(readReply(reply)).toEqual({
      kind: 'problem',
      status: 404,
      code: 'not-found',
      title: 'Not Found',
      detail: '',
      members: { balance: 30 },
    });
    const errors = { ...body, errors: [{ pointer: '#/a', detail: 'no', code: 'x' }] };
    expect(readReply({ ...reply, text: JSON.stringify(errors) })).toMatchObject({
      kind: 'invalid',
      members: { balance: 30 },
    });
  });

  test.each([
    [
      'a list',
      {
        error: {
          says: '<title>: <detail>',
          what: '<problem>',
          list: {
            each: 'violation',
            node: { at: '<field>', in: '<in>', say: '<text>', why: '<code>' },
          },
        },
      },
    ],
    [
      'by field',
      {
        status: '<status>',
        more: '<more>',
        fields: {
          each: 'field',
          key: '<pointer>',
          node: { at: '<in>', texts: '<texts>', codes: '<codes>' },
        },
      },
    ],
    [
      'with parts for some answers only',
      {
        what: '<problem>',
        '...': '<extensions>',
        line: { join: ['<title>', '<detail>'], with: ': ' },
        meta: { 'unless-empty': { id: '<request-id>', more: { when: 'more', node: '<more>' } } },
        errors: {
          when: 'broken',
          node: {
            join: [
              {
                each: 'violation',
                node: {
                  at: { 'unless-empty': { body: '<fragment>', query: '<parameter>' } },
                  say: '<text>',
                  why: '<code>',
                },
              },
              { when: 'more', node: { more: '<more>' } },
            ],
          },
          otherwise: [],
        },
      },
    ],
  ])('a shape of one’s own is read by its contract: %s', (_, template) => {
    const folder = copyOf('observatory');
    const config = readFileSync(path.join(folder, 'zeitwort.yaml'), 'utf8');
    writeFileSync(
      path.join(folder, 'zeitwort.yaml'),
      `${config}\nshapes: { own: { body: ${JSON.stringify(template)} } }\n`,
    );
    const { out, code } = zeitwort(['contract', '--shape', 'own'], folder);
    const shape = JSON.parse(out) as object;
    const validate = new Ajv2020({ strict: false }).compile(shape);
    const own = openWorkspace(folder);
    const { status, headers, body } = own.render(
      { form: 'observing-proposal', violations },
      { locale: 'en', shape: 'own' },
    );
    expect([code, validate(JSON.parse(body))]).toEqual([0, true]);
    const outcome = readReply(
      { status, mediaType: headers['content-type'] ?? null, text: body },
      { shape },
    );
    expect(outcome).toMatchObject({
      kind: 'invalid',
      fields: {
        nights: ['You can ask for at most 14 nights.'],
        'targets.2.name': [expect.any(String), expect.any(String)],
      },
      form: [expect.stringContaining('must be an object')],
      parameters: { dryRun: [expect.stringContaining('Dry run')] },
    });
    const problem = own.renderProblem('not-found', { locale: 'en', shape: 'own' });
    expect(validate(JSON.parse(problem.body))).toBe(true);
    const read = readReply(
      { status: 404, mediaType: 'application/json', text: problem.body },
      { shape },
    );
    expect(read).toMatchObject({ kind: 'problem', status: 404, code: 'not-found' });
    expect(
      readReply({ status: 404, mediaType: 'application/json', text: '{"a":1}' }, { shape }),
    ).toMatchObject({
      reason: 'foreign',
    });
  });

  test('nothing makes it throw', () => {
    const key = fc.constantFrom(
      'errors',
      'status',
      'title',
      'fields',
      'parameters',
      'type',
      'detail',
      'source',
      'pointer',
      'extensions',
      'message',
      'input',
      'field',
      'text',
      'code',
      '__proto__',
    );
    const { value } = fc.letrec((tie) => ({
      value: fc.oneof(
        { maxDepth: 4 },
        fc.constantFrom(null, '', '#/a/%zz', 'a[0]."', 0, 422, true),
        fc.array(tie('value'), { maxLength: 3 }),
        fc.dictionary(key, tie('value'), { maxKeys: 5 }),
      ),
    }));
    fc.assert(
      fc.property(value, fc.integer({ min: 0, max: 700 }), (body, status) => {
        const outcome = readReply({
          status,
          mediaType: 'application/json',
          text: JSON.stringify(body),
        });
        expect(['accepted', 'invalid', 'problem', 'no-answer']).toContain(outcome.kind);
      }),
    );
  });
});

test('paths are written as form libraries want them', () => {
  const deep = ['targets', 2, 'a/b', 0];
  expect([pathAs(deep), pathAs(deep, 'brackets'), pathAs(deep, 'pointer')]).toEqual([
    'targets.2.a/b.0',
    'targets[2].a/b[0]',
    '/targets/2/a~1b/0',
  ]);
});

test('the built reader is a few kilobytes and stands alone', () => {
  const built = readFileSync(path.join(__dirname, '..', '..', 'dist', 'client.js'), 'utf8');
  expect(built.length).toBeLessThan(8600);
  expect(built).not.toMatch(/\bimport\b|\brequire\(/);
});
