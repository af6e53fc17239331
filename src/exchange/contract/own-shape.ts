import { keyed } from '../../core/base/keyed.js';
import { nodeKind, SPREAD, UNLESS_EMPTY } from '../../core/body/shapes/template.js';
import { isObject, type Loose, type LooseObject } from '../../core/reading.js';

/**
 * The member of a contract that holds the template of a shape of one's own; the client's reader
 * reads bodies by it.
 */
export const SHAPE_TEMPLATE = 'x-zeitwort-shape';

const ONE_PLACE = /^<([a-z][a-z-]*)(?:\(("[^"]*")\))?>$/;
const NUMBERS: ReadonlySet<string> = new Set(['status', 'count', 'more']);
const LISTS: ReadonlySet<string> = new Set([
  ...['fields', 'texts', 'inlines', 'codes'],
  ...['members', 'member-fragments', 'member-fields', 'member-pointers'],
]);
/** Slots whose values are no texts. */
const OTHERS: Readonly<Record<string, LooseObject>> = keyed({
  path: { type: 'array', items: { type: ['string', 'integer'] } },
  'member-paths': {
    type: 'array',
    items: { type: 'array', items: { type: ['string', 'integer'] } },
  },
  developer: {},
  details: {},
  extensions: { type: 'object' },
  broken: { const: true },
});
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
  ...['developer', 'details', 'uri', 'broken', 'beside', 'part', 'missing', 'nearest'],
  ...['fragment', 'header', 'parameter'],
  ...['members', 'member-fragments', 'member-fields', 'member-pointers', 'member-paths'],
]);

const isOptional = (node: Loose): boolean => {
  if (typeof node === 'string') return OPTIONAL.has(ONE_PLACE.exec(node)?.[1] ?? '');
  if (!isObject(node)) return false;
  const kind = nodeKind(node);
  return (
    kind === 'some' ||
    (kind === 'when' && (node.otherwise === undefined || isOptional(node.otherwise)))
  );
};

/** The schema of what is one of several parts of a template. */
function anyOf(parts: readonly Loose[]): LooseObject {
  const [first, ...others] = parts.filter((part) => part !== undefined).map(schemaOf);
  return others.length === 0 ? (first ?? {}) : { anyOf: [first, ...others] };
}

/** The parts of a list that is joined from others: of each what its entries are made of. */
const entriesOf = (part: Loose): Loose[] => {
  if (!isObject(part)) return [part];
  const kind = nodeKind(part);
  if (kind === 'each') return [part.node];
  return kind === 'when' ? [part.node, part.otherwise].flatMap(entriesOf) : [part];
};

function textSchema(text: string): LooseObject {
  const [, name, separator] = ONE_PLACE.exec(text) ?? [];
  if (name === undefined) return /<[a-z]/.test(text) ? { type: 'string' } : { const: text };
  if (NUMBERS.has(name)) return { type: 'integer' };
  if (LISTS.has(name))
    return separator === undefined
      ? { type: 'array', items: { type: 'string' } }
      : { type: 'string' };
  if (Object.hasOwn(OTHERS, name)) return OTHERS[name] ?? {};
  return { type: 'string' };
}

function schemaOf(node: Loose): LooseObject {
  if (typeof node === 'string') return textSchema(node);
  if (Array.isArray(node) && node.length === 0) return { type: 'array', maxItems: 0 };
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
  const kind = nodeKind(node);
  if (kind === 'each')
    return node.key === undefined
      ? { type: 'array', items: schemaOf(node.node) }
      : { type: 'object', additionalProperties: schemaOf(node.node) };
  if (kind === 'when') return anyOf([node.node, node.otherwise]);
  if (kind === 'some') return schemaOf(node[UNLESS_EMPTY]);
  if (kind === 'join')
    return node.with === undefined
      ? { type: 'array', items: anyOf((node.join as Loose[]).flatMap(entriesOf)) }
      : { type: 'string' };
  const members = Object.entries(node).filter(([name]) => name !== SPREAD);
  const properties = Object.fromEntries(members.map(([name, one]) => [name, schemaOf(one)]));
  const required = members.filter(([, one]) => !isOptional(one)).map(([name]) => name);
  // What is spread into an object may be called anything.
  return { type: 'object', required, properties, additionalProperties: SPREAD in node };
}

/** The schema of the bodies of a shape of one's own, with the template that they are made with. */
export const ownShapeSchema = (name: string, template: Loose): LooseObject => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: `Error bodies of the shape ${name}`,
  ...schemaOf(template),
  [SHAPE_TEMPLATE]: template,
});
