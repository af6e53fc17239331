import { isObject, type Loose, type LooseObject } from '../../core/reading.js';

/**
 * The member of a contract that holds the template of a shape of one's own; the client's reader
 * reads bodies by it.
 */
export const SHAPE_TEMPLATE = 'x-zeitwort-shape';

const ONE_PLACE = /^<([a-z][a-z-]*)(?:\(("[^"]*")\))?>$/;
const NUMBERS: ReadonlySet<string> = new Set(['status', 'count', 'more']);
const LISTS: ReadonlySet<string> = new Set(['fields', 'texts', 'codes', 'members']);
/**
 * Placeholders without a value in some answers: a member that is only one of these may be absent.
 */
const OPTIONAL: ReadonlySet<string> = new Set([
  'detail',
  'instance',
  'time',
  'request-id',
  'trace-id',
  'address',
  'developer',
  'members',
]);

const isOptional = (node: Loose): boolean =>
  typeof node === 'string' && OPTIONAL.has(ONE_PLACE.exec(node)?.[1] ?? '');

function textSchema(text: string): LooseObject {
  const [, name, separator] = ONE_PLACE.exec(text) ?? [];
  if (name === undefined) return /<[a-z]/.test(text) ? { type: 'string' } : { const: text };
  if (NUMBERS.has(name)) return { type: 'integer' };
  if (LISTS.has(name))
    return separator === undefined
      ? { type: 'array', items: { type: 'string' } }
      : { type: 'string' };
  if (name === 'developer') return {};
  return { type: 'string' };
}

function schemaOf(node: Loose): LooseObject {
  if (typeof node === 'string') return textSchema(node);
  if (Array.isArray(node))
    return {
      type: 'array',
      // What is not there leaves its place empty, so that the others keep theirs.
      prefixItems: node.map((one: Loose) =>
        isOptional(one) ? { anyOf: [schemaOf(one), { type: 'null' }] } : schemaOf(one),
      ),
      minItems: node.length,
      maxItems: node.length,
    };
  if (!isObject(node)) return { const: node };
  if (typeof node.each === 'string')
    return node.key === undefined
      ? { type: 'array', items: schemaOf(node.node) }
      : { type: 'object', additionalProperties: schemaOf(node.node) };
  const properties = Object.fromEntries(
    Object.entries(node).map(([name, one]) => [name, schemaOf(one)]),
  );
  const required = Object.keys(node).filter((name) => !isOptional(node[name]));
  return { type: 'object', required, properties, additionalProperties: false };
}

/** The schema of the bodies of a shape of one's own, with the template that they are made with. */
export const ownShapeSchema = (name: string, template: Loose): LooseObject => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: `Error bodies of the shape ${name}`,
  ...schemaOf(template),
  [SHAPE_TEMPLATE]: template,
});
