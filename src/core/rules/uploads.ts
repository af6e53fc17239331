import {
  argument,
  holds,
  type ArgumentDefinition,
  type Parameter,
  type RuleDefinition,
  type Test,
} from './definition.js';

/**
 * How many bytes: of what has a `size`, as uploads have, else of a text in UTF-8; nothing where it
 * is neither.
 */
export function bytesOf(value: unknown): number | undefined {
  if (typeof value === 'string') {
    let bytes = 0;
    for (const character of value) {
      const code = character.codePointAt(0) ?? 0;
      bytes += code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x10000 ? 3 : 4;
    }
    return bytes;
  }
  // An upload of the platform (Blob, File) has its members from a prototype.
  const size: unknown =
    typeof value === 'object' && value !== null && 'size' in value ? value.size : undefined;
  return typeof size === 'number' ? size : undefined;
}

/** The media type that an upload says it has, without parameters. */
function mediaTypeOf(value: unknown): string | undefined {
  const upload = value as { readonly type?: unknown; readonly mediaType?: unknown };
  const said = upload.type ?? upload.mediaType;
  return typeof said === 'string' ? said.split(';')[0]?.trim().toLowerCase() : undefined;
}

const fits = (type: string, wanted: string): boolean =>
  wanted.endsWith('/*')
    ? type.startsWith(wanted.slice(0, -1))
    : wanted === '*/*' || type === wanted;

const bytes = (name: 'min' | 'max', about: string): Parameter => ({
  name,
  type: 'count',
  unit: 'bytes',
  about,
});

const argumentsFor = (
  name: 'min' | 'max',
  sample: number,
  about: string,
): readonly ArgumentDefinition[] => [
  argument(name, 'number', sample, `${about}, in bytes`),
  argument('size', 'text', '5 MB', `${about}, with its unit as the locale writes it`),
  argument(
    'actual',
    'number',
    name === 'min' ? sample - 1 : sample + 1,
    'the number of bytes given',
  ),
];

const sized =
  (fine: (actual: number, params: Readonly<Record<string, unknown>>) => boolean): Test =>
  (value, params) => {
    const actual = bytesOf(value);
    return actual === undefined || fine(actual, params) || { actual };
  };

export const UPLOADS: readonly RuleDefinition[] = [
  {
    id: 'minBytes',
    family: 'size',
    about: 'must have at least so many bytes',
    appliesTo: 'any',
    parameters: [bytes('min', 'the least number of bytes')],
    arguments: argumentsFor('min', 1024, 'the least size'),
    test: sized((actual, { min }) => actual >= Number(min)),
  },
  {
    id: 'maxBytes',
    family: 'size',
    about: 'must have at most so many bytes',
    appliesTo: 'any',
    parameters: [bytes('max', 'the greatest number of bytes')],
    arguments: argumentsFor('max', 5_000_000, 'the greatest size'),
    test: sized((actual, { max }) => actual <= Number(max)),
  },
  {
    id: 'mediaType',
    family: 'kind',
    about: 'must be a file of one of these media types',
    appliesTo: 'object',
    parameters: [
      { name: 'types', type: 'names', about: 'media types such as image/png, or image/*' },
    ],
    arguments: [
      argument(
        'types',
        'list',
        ['image/png', 'image/jpeg'],
        "the media types, joined in the locale's way",
      ),
    ],
    test: (value, { types }) => {
      const type = mediaTypeOf(value);
      return (
        type === undefined ||
        holds((types as readonly string[]).some((wanted) => fits(type, wanted.toLowerCase())))
      );
    },
  },
];
