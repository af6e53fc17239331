import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { pathAs, readReply, readResponse } from '../../src/client.js';
import { openWorkspace } from '../../src/library.js';
import { copyOf } from '../support/program.js';

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
          nights: ['You can ask for 14 nights at most.'],
          'targets.2.name': ['Please give the name of target 3.', 'Target 3: name must have at most 60 characters.'],
        },
        form: [expect.stringContaining('must be an object')],
        parameters: { dryRun: [expect.stringContaining('Dry run')] },
      });
      expect(Object.keys((readReply(reply, { paths: 'brackets' }) as { fields: object }).fields)).toContain('targets[2].name');
      expect(Object.keys((readReply(reply, { paths: 'pointer' }) as { fields: object }).fields)).toContain('/targets/2/name');
      const paths = outcome.kind === 'invalid' ? outcome.errors.map((error) => error.path) : [];
      expect(paths).toEqual([['nights'], ['targets', 2, 'name']]);
    },
  );

  test.each(['problem', 'jsonapi', 'graphql', 'fields', 'list'])('of another problem in the shape %s is told apart', (shape) => {
    const { status, headers, body } = workspace.renderProblem('telescope-closed', { locale: 'en', shape });
    expect(readReply({ status, mediaType: headers['content-type'] ?? null, text: body })).toMatchObject({
      kind: 'problem',
      status: 409,
      code: 'telescope-closed',
      title: expect.stringMatching(/The telescope is closed|No proposals/),
    });
  });
});

describe('what is no answer of the service', () => {
  test.each([
    ['a proxy’s page', { status: 502, mediaType: 'text/html', text: '<html>Bad Gateway</html>' }, 'foreign'],
    ['no media type', { status: 500, mediaType: null, text: '' }, 'foreign'],
    ['half a body', { status: 422, mediaType: 'application/problem+json', text: '{"type":"about:b' }, 'broken'],
    ['somebody else’s JSON', { status: 400, mediaType: 'application/json', text: '{"message":"no"}' }, 'foreign'],
    ['null', { status: 400, mediaType: 'application/json', text: 'null' }, 'foreign'],
  ])('%s', (_, reply, reason) => {
    expect(readReply(reply)).toEqual({ kind: 'no-answer', reason, status: reply.status });
  });

  test('a network error, also in the middle of a body, is an outcome', async () => {
    expect(await readResponse(fetch('http://127.0.0.1:1/'))).toEqual({ kind: 'no-answer', reason: 'network' });
    const torn = { status: 422, headers: { get: () => 'application/json' }, text: () => Promise.reject(new Error('torn')) };
    expect(await readResponse(torn)).toEqual({ kind: 'no-answer', reason: 'network', status: 422 });
    expect(await readResponse(Promise.resolve(new Response('', { status: 201 })))).toEqual({ kind: 'accepted' });
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
        const outcome = readReply({ status, mediaType: 'application/json', text: JSON.stringify(body) });
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
  expect(built.length).toBeLessThan(8000);
  expect(built).not.toMatch(/\bimport\b|\brequire\(/);
});
