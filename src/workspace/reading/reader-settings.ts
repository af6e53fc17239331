import * as z from 'zod';
import { FIELD_PLACES, type RequestPart } from '../../core/rules/form.js';
import type { ReaderDeclaration } from '../../exchange/violations/declared.js';
import { keyed } from '../../core/base/keyed.js';

const PLACES = FIELD_PLACES as readonly [RequestPart, ...RequestPart[]];

const pointer = z.string().regex(/^(?:@key|(?:\/(?:[^~/]|~[01])*)*)$/, {
  error: 'this is not a JSON Pointer; write one such as /errors/0, "" for the whole, or @key',
});
const pointers = z.union([pointer, z.array(pointer).min(1)]);

const target = z.union([
  z.string(),
  z.array(z.string()).min(1),
  z.strictObject({
    rule: z.string(),
    as: z.string().optional(),
    params: z.record(z.string(), z.unknown()).optional(),
    add: z.union([z.string(), z.int().min(0)]).optional(),
    last: z.string().optional(),
    validate: z.boolean().optional(),
  }),
]);
const targets = z.record(z.string(), target);

/** A reader of one's own, under `readers` of the workspace file. */
export const readerSchema = z.strictObject({
  entries: pointers.optional(),
  children: pointers.optional(),
  path: z
    .union([pointers, z.strictObject({ at: pointers, drop: z.array(z.string()).optional() })])
    .optional(),
  rule: z.union([pointers, z.strictObject({ at: pointers, map: targets.optional() })]).optional(),
  rules: z
    .strictObject({
      keys: pointers.optional(),
      items: pointers.optional(),
      map: targets.optional(),
    })
    .optional(),
  params: z.record(z.string(), pointers).optional(),
  value: pointers.optional(),
  in: z
    .union([
      pointers,
      z.strictObject({ at: pointers, map: z.record(z.string(), z.enum(PLACES)).optional() }),
    ])
    .optional(),
  validate: z.boolean().optional(),
});

/** The keys of a reader and of its parts, for suggestions. */
export const READER_KEYS: Readonly<Record<string, readonly string[]>> = keyed({
  '': Object.keys(readerSchema.shape),
  path: ['at', 'drop'],
  rule: ['at', 'map'],
  rules: ['keys', 'items', 'map'],
  in: ['at', 'map'],
});

/** Pointers that lead out of an entry: a reader needs an entry to resolve them. */
export function readerTrouble(reader: ReaderDeclaration): string | undefined {
  if (reader.path === undefined)
    return '"path" is missing: it says where in an entry its path stands, or @key';
  if (reader.rule === undefined && reader.rules === undefined && !reader.validate)
    return 'neither "rule" nor "rules" says where an entry names its rule; without names write "validate: true"';
  if (reader.rules && reader.rules.keys === undefined && reader.rules.items === undefined)
    return '"rules" needs "keys" or "items": where the names of several rules stand';
  return undefined;
}
