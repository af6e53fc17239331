import { isObject, type LooseObject } from '../core/reading.js';
import { workspaceOpenApi } from '../workspace/answering/contracts.js';
import { publishedSchemas } from '../workspace/answering/published.js';
import { readerNames } from '../workspace/answering/violations.js';
import type { Workspace } from '../workspace/reading/workspace.js';

const named = (name: string, about: string): LooseObject => ({
  name,
  in: 'path',
  required: true,
  schema: { type: 'string' },
  description: about,
});

const wanted: readonly LooseObject[] = [
  {
    name: 'locale',
    in: 'query',
    schema: { type: 'string' },
    description: 'the language of the answer; wins over Accept-Language',
  },
  { name: 'shape', in: 'query', schema: { type: 'string' }, description: 'the layout of the body' },
];

const FOREIGN: LooseObject = {
  description: 'What another validator found, for the reader that the query names.',
};
const WITH_PAYLOAD: LooseObject = {
  description: 'The same, with the payload that was validated, for what the list leaves out.',
  type: 'object',
  required: ['errorList', 'payload'],
  properties: { errorList: {}, payload: {} },
  additionalProperties: false,
};

/**
 * The OpenAPI document of the service: its own paths, and those of the forms that it stands in for.
 */
export function serviceOpenApi(workspace: Workspace, version: string): LooseObject {
  const document = workspaceOpenApi(workspace, version);
  const paths = isObject(document.paths) ? document.paths : {};
  const violations = { ...publishedSchemas()['violations.schema.json'], $schema: undefined };
  const json = (schema: LooseObject): LooseObject => ({ 'application/json': { schema } });
  const answers = {
    default: { description: 'The body for the client, with its own status and headers.' },
  };
  return {
    ...document,
    info: {
      title: 'Zeitwort',
      version,
      description: 'Error bodies for violations, packed catalogs, and a stand-in backend.',
    },
    paths: {
      '/zeitwort/render/{form}': {
        post: {
          operationId: 'zeitwort-render',
          parameters: [
            named('form', "the form's id"),
            ...wanted,
            {
              name: 'reader',
              in: 'query',
              schema: { enum: readerNames(workspace.config.readers), default: 'violations' },
              description: 'what reads the error list',
            },
          ],
          requestBody: {
            required: true,
            content: json({ anyOf: [violations, WITH_PAYLOAD, FOREIGN] }),
          },
          responses: answers,
        },
      },
      '/zeitwort/problem/{problem}': {
        post: {
          operationId: 'zeitwort-problem',
          parameters: [named('problem', 'such as not-found'), ...wanted],
          requestBody: {
            content: json({
              type: 'object',
              properties: {
                params: { type: 'object' },
                instance: { type: 'string' },
                members: { type: 'object' },
              },
              additionalProperties: false,
            }),
          },
          responses: answers,
        },
      },
      '/zeitwort/packs/{locale}': {
        get: {
          operationId: 'zeitwort-pack',
          parameters: [named('locale', 'a language of the workspace')],
          responses: {
            '200': { description: 'The pack, with a strong ETag.' },
            '304': { description: 'What the client has is current.' },
          },
        },
      },
      '/zeitwort/packs': {
        get: {
          operationId: 'zeitwort-pack-for-client',
          responses: { '200': { description: 'The pack that Accept-Language asks for.' } },
        },
      },
      '/zeitwort/metrics': {
        get: {
          operationId: 'zeitwort-metrics',
          responses: { '200': { description: 'Counts in OpenMetrics 1.0.0.' } },
        },
      },
      '/zeitwort/live': {
        get: { operationId: 'zeitwort-live', responses: { '200': { description: 'It runs.' } } },
      },
      '/zeitwort/ready': {
        get: {
          operationId: 'zeitwort-ready',
          responses: {
            '200': { description: 'It answers.' },
            '503': { description: 'It is stopping.' },
          },
        },
      },
      ...paths,
    },
  };
}
