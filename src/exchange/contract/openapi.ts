import type { LooseObject } from '../../core/reading.js';
import { JSON_MEDIA, type Form } from '../../core/rules/form.js';
import { FormIndex } from '../../core/rules/form-index.js';
import { parametersOf, writingIn } from '../../core/rules/parameters.js';
import type { Written } from '../schema/write.js';
import { keyed } from '../../core/base/keyed.js';

/** One response of the contract. */
export interface ContractBodies {
  readonly mediaType: string;
  readonly schema: LooseObject;
}

/** The addresses of pages for people who write clients. */
export interface PagesForPeople {
  readonly index: string;
  readonly of: (form: string) => string;
}

const TYPES = { list: { type: 'array' }, object: { type: 'object' }, plain: {} };

function parametersIn(form: Form): LooseObject[] {
  const index = new FormIndex(form);
  return parametersOf(index).map(({ name, in: part, shape, writing: { style, explode } }) => {
    const uses = index.field([name], part)?.uses ?? [];
    const required =
      part === 'path' || uses.some(({ rule, onlyIf }) => rule === 'required' && !onlyIf);
    const schema = TYPES[shape];
    const goesByPlace = shape === 'plain' && style === writingIn(part).style;
    const written = goesByPlace ? {} : { style, explode };
    return {
      name,
      in: part,
      required,
      ...(style === 'json'
        ? { content: { 'application/json': { schema } } }
        : { ...written, schema }),
    };
  });
}

/** The definitions of a schema moved to where a document keeps its schemas. */
function rebased(value: unknown, prefix: string): unknown {
  if (Array.isArray(value)) return value.map((one: unknown) => rebased(one, prefix));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, member]) => [
      key,
      key === '$ref' && typeof member === 'string'
        ? member.replace(/^#\/\$defs\//, `${prefix}/$defs/`)
        : rebased(member, prefix),
    ]),
  );
}

/**
 * An OpenAPI 3.1 document of the forms that have a request, with the error bodies that they answer
 * with.
 * @param bodyOf a form's body as JSON Schema
 */
export function contractOpenApi(
  forms: readonly Form[],
  { mediaType, schema }: ContractBodies,
  bodyOf: (form: Form) => Written,
  version: string,
  pages?: PagesForPeople,
): LooseObject {
  const paths: Record<string, Record<string, unknown>> = keyed();
  const component = '#/components/schemas/ErrorBody';
  const error = { content: { [mediaType]: { schema: { $ref: component } } } };
  for (const form of forms) {
    const [method = '', path = ''] = form.request?.split(' ') ?? [];
    if (path === '') continue;
    const declared = parametersIn(form);
    const named = new Set(declared.filter((one) => one.in === 'path').map((one) => one.name));
    const fromPath = [...path.matchAll(/\{([^}]+)\}/g)].flatMap(([, name = '']) =>
      named.has(name) ? [] : [{ name, in: 'path', required: true, schema: { type: 'string' } }],
    );
    const parameters = [...declared, ...fromPath];
    const hasBody =
      form.fields.some((field) => field.in === 'body') && method !== 'GET' && method !== 'HEAD';
    const body = { ...bodyOf(form).schema, $schema: undefined };
    (paths[path] ??= {})[method.toLowerCase()] = {
      operationId: form.id,
      ...(pages ? { externalDocs: { url: pages.of(form.id) } } : {}),
      ...(parameters.length > 0 ? { parameters } : {}),
      ...(hasBody
        ? {
            requestBody: {
              required: form.bodyOptional !== true,
              content: Object.fromEntries(
                (form.media ?? [JSON_MEDIA]).map((type) => [type, { schema: body }]),
              ),
            },
          }
        : {}),
      responses: {
        '2XX': { description: 'What was sent is accepted.' },
        '422': { description: 'Rules were broken.', ...error },
        default: { description: 'Another problem.', ...error },
      },
    };
  }
  const bare = { ...schema, $schema: undefined };
  return {
    openapi: '3.1.0',
    info: { title: 'Forms and their error bodies', version },
    ...(pages ? { externalDocs: { url: pages.index } } : {}),
    paths,
    components: { schemas: { ErrorBody: rebased(bare, component) } },
  };
}
