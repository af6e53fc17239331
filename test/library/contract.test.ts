import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { printPath, samplePath } from '../../src/core/path/path.js';
import { codeOf } from '../../src/core/rules/form.js';
import { CONTRACT_SHAPES } from '../../src/exchange/contract/contract.js';
import { VOCABULARY } from '../../src/core/rules/vocabulary.js';
import { workspaceContract, workspaceOpenApi } from '../../src/workspace/answering/contracts.js';
import { workspaceRenderer } from '../../src/workspace/answering/renderer.js';
import { Workspace } from '../../src/workspace/reading/workspace.js';
import { copyOf, zeitwort } from '../support/program.js';

const folder = copyOf('observatory', {
  'rules/odd.yaml': `forms:
  odd:
    header: { X-Station: { required: true }, 'X-Marks[*]': { type: integer } }
    path: { id: { type: integer } }
    query: { 'tags[*]': { type: integer }, 'filter.from': { required: true }, 'more.*': { maxLength: 3 } }
    fields:
      '["a/b~c"].d': { required: true }
      'map.*': { maxLength: 3 }
      'list[*][*]': { type: string }
      '["odd.name"]': { enum: [1] }
`,
});
const workspace = Workspace.open(folder);
const renderer = workspaceRenderer(workspace);
const forms = [...workspace.forms.values()].map(({ form }) => form);

/**
 * Any violation that a backend may tell: a field of the form or what is around it, a rule that it
 * declares or any of the vocabulary.
 */
const report = fc.constantFrom(...forms).chain((form) =>
  fc.record({
    form: fc.constant(form.id),
    instance: fc.constantFrom('/a/1', 'urn:uuid:2f1c9e0a-51d3-4c8e-9b7a-0d6f3e2a4b18'),
    violations: fc.array(
      fc.constantFrom(...form.fields).chain((field) =>
        fc
          .tuple(
            fc.nat({ max: field.pattern.length }),
            fc.nat({ max: 12 }),
            fc.constantFrom(
              ...field.uses,
              ...[...VOCABULARY.keys()].map((rule) => ({ rule, as: undefined })),
            ),
          )
          .map(([length, place, use]) => {
            const from = field.in === 'body' ? 0 : 1;
            const path = samplePath(
              'params' in use ? field.pattern : field.pattern.slice(0, Math.max(from, length)),
              place,
            );
            return {
              path: printPath(path),
              in: field.in,
              rule: use.rule,
              as: codeOf(use) === use.rule ? undefined : codeOf(use),
              params: {},
              value: 'x',
            };
          }),
      ),
      { minLength: 1, maxLength: 5 },
    ),
  }),
);

describe.each(CONTRACT_SHAPES)('the contract of the shape %s', (shape) => {
  const ajv = new Ajv2020({ strict: false, allErrors: true });
  const validate = ajv.compile(workspaceContract(workspace, shape));
  const accepted = (text: string): unknown =>
    validate(JSON.parse(text)) ? true : validate.errors?.slice(0, 3);

  test('is kept by every body', () => {
    fc.assert(
      fc.property(report, fc.constantFrom(...workspace.config.locales), (one, locale) => {
        expect(accepted(renderer.render(one, { locale, shape, requestId: 'r' }).body)).toBe(true);
      }),
      { numRuns: 60 },
    );
    const rest = {
      form: 'visitor-pass',
      violations: [{ path: 'visitor', rule: 'required' }],
      more: 7,
    };
    expect(accepted(renderer.render(rest, { shape }).body)).toBe(true);
    for (const problem of workspace.config.statuses.keys())
      for (const locale of workspace.config.locales)
        expect([
          problem,
          accepted(renderer.renderProblem(problem, { locale, shape, instance: '/x' }).body),
        ]).toEqual([problem, true]);
    const place = {
      params: { located: 'yes', line: 1, column: 2 },
      members: { line: 1, column: 2 },
    };
    expect(accepted(renderer.renderProblem('malformed-body', { ...place, shape }).body)).toBe(true);
  });

  test('is broken by a code that nobody declared, a path that no form has, another layout', () => {
    const good = renderer.render(
      { form: 'visitor-pass', violations: [{ path: 'visitor', rule: 'required' }] },
      { shape },
    ).body;
    expect(accepted(good)).toBe(true);
    // A layout of fields tells no codes.
    const wrong = [
      good.replaceAll(/visitor/g, 'vizitor'),
      good.replace('"required"', '"requird"'),
      '{}',
      '[1]',
      'null',
    ];
    for (const one of wrong)
      expect([one, one === good || accepted(one) !== true]).toEqual([one, true]);
  });
});

test('as OpenAPI it names the forms with their bodies and answers, and is kept up to date by --check', () => {
  expect(workspaceOpenApi(workspace, '1')).toMatchObject({
    openapi: '3.1.0',
    paths: {
      '/passes': {
        post: {
          operationId: 'visitor-pass',
          requestBody: {},
          responses: { '422': { content: { 'application/problem+json': {} } } },
        },
      },
    },
    components: {
      schemas: {
        ErrorBody: {
          anyOf: expect.arrayContaining([
            { $ref: '#/components/schemas/ErrorBody/$defs/form-visitor-pass' },
          ]),
        },
      },
    },
  });
  expect(zeitwort(['contract', '--out', 'contract.json'], folder).code).toBe(0);
  expect(zeitwort(['contract', '--out', 'contract.json', '--check'], folder)).toMatchObject({
    code: 0,
    out: 'contract.json is up to date\n',
  });
  expect(
    zeitwort(['contract', '--shape', 'list', '--out', 'contract.json', '--check'], folder).code,
  ).toBe(1);
  expect(zeitwort(['contract', '--shape', 'html'], folder)).toMatchObject({
    code: 2,
    err: expect.stringContaining('the shape "html" has no schema'),
  });
});
