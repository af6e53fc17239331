import { FAILSAFE_SCHEMA, load, Type } from 'js-yaml';

// Scalars without quotes mean what YAML 1.2's core schema says (section 10.3.2), to the letter of
// the parser that has positions: what a file says does not hang on which of the two read it.

const scalar = (name: string, shape: RegExp, construct: (text: string) => unknown): Type =>
  new Type(`tag:yaml.org,2002:${name}`, {
    kind: 'scalar',
    resolve: (text: unknown) => typeof text === 'string' && shape.test(text),
    construct,
  });

const SCHEMA = FAILSAFE_SCHEMA.extend({
  implicit: [
    new Type('tag:yaml.org,2002:null', {
      kind: 'scalar',
      resolve: (text: unknown) =>
        text === null || (typeof text === 'string' && /^(?:~|[Nn]ull|NULL|)$/.test(text)),
      construct: () => null,
    }),
    scalar('bool', /^(?:[Tt]rue|TRUE|[Ff]alse|FALSE)$/, (text) => /^t/i.test(text)),
    scalar('int', /^(?:[-+]?[0-9]+|0o[0-7]+|0x[0-9a-fA-F]+)$/, Number),
    scalar(
      'float',
      /^(?:[-+]?(?:\.[0-9]+|[0-9]+(?:\.[0-9]*)?)(?:[eE][-+]?[0-9]+)?|[-+]?\.(?:inf|Inf|INF)|\.nan|\.NaN|\.NAN)$/,
      (text) =>
        /nan$/i.test(text)
          ? NaN
          : /inf$/i.test(text)
            ? text.startsWith('-')
              ? -Infinity
              : Infinity
            : Number(text),
    ),
  ],
});

/**
 * Matches YAML that only the parser with positions reads correctly: anchors, since it limits their
 * aliases; directives; comments without a blank before them; keys that are not plain texts, or very
 * long; tabs before the first sign of a line.
 */
const ASKS_FOR_MORE = new RegExp(
  [
    /(?:^|[\s,[{])&[\w.-]+(?=[\s,\]}]|$)/,
    /^%/,
    // Names of members are not that long.
    /[^\s:]{1000}/,
    /[\]}]#/,
    /^ *\t/,
    /(?:^|[\s[{,])\?(?=[\s,[\]{}]|$)/,
    // A colon is a mark before a blank, and inside of flow collections before their signs too.
    /^ *:(?=[\s,[\]{}]|$)/,
    /(?:^|[\s,{[])[[{][^\]}\n]*[\]}]\s*:(?=[\s,[\]{}]|$)/,
    /\}\s*:(?=[\s,[\]{}]|$)/,
    /(?<!\[(?:\*|\d+))\]\s*:(?=[\s,[\]{}]|$)/,
  ]
    .map(({ source }) => source)
    .join('|'),
  'm',
);

/** Whether a key is null: the quick parser spells it, the other has an empty text for it. */
function hasNullKey(value: unknown): boolean {
  if (typeof value !== 'object' || value === null) return false;
  if (Array.isArray(value)) return value.some(hasNullKey);
  return Object.hasOwn(value, 'null') || Object.values(value).some(hasNullKey);
}

/**
 * Reads YAML that has nothing unusual in it, in a tenth of the time; nothing where there is, or
 * where anything is wrong: then the parser with positions says what and where.
 */
export function quickYaml(text: string): { readonly value: unknown } | undefined {
  if (ASKS_FOR_MORE.test(text)) return undefined;
  try {
    const value = load(text, { schema: SCHEMA });
    // Of an empty file, what it holds is for the other to say.
    return value === undefined || value === null || hasNullKey(value) ? undefined : { value };
  } catch {
    return undefined;
  }
}
