import { createHash } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import { DEFAULT_SHAPE_OPTIONS } from '../../core/body/shapes/shape.js';
import { SHAPES } from '../../core/body/shapes/shapes.js';
import { parentsAmong } from '../../core/locale/chain.js';
import { parseLocale, type Locale } from '../../core/locale/tag.js';
import { withCurrencies } from '../../core/message/local-currency.js';
import { readMessage } from '../../core/message/parse.js';
import { plainSignature } from '../../core/message/simple.js';
import type { Pack, PackStyle } from '../../core/pack/pack.js';
import { packLocale } from '../../core/pack/packer.js';
import { packTree, type PackTree } from '../../core/pack/trees.js';
import { isObject } from '../../core/reading.js';
import { keysOf, type Form } from '../../core/rules/form.js';
import { withStandIns } from '../../core/rules/unnamed.js';
import { VOCABULARY } from '../../core/rules/vocabulary.js';
import { sameLanguage } from '../../core/locale/chain.js';
import { answerOptions, audienceOf } from './answering.js';
import { complaint } from '../disk/complaint.js';
import { readText } from '../disk/files.js';
import { parseJson } from '../documents/json.js';
import type { Workspace } from '../reading/workspace.js';
import { keyed } from '../../core/base/keyed.js';

/** The trees say what the texts say. */
const hashOf = (pack: Omit<Pack, 'hash'>): string =>
  createHash('sha256')
    .update(JSON.stringify({ ...pack, trees: undefined }))
    .digest('hex');

/** All texts of a pack, each with its language. */
function* textsOf(value: unknown, locale: string): Generator<[string, string]> {
  if (!isObject(value)) {
    if (Array.isArray(value)) for (const one of value) yield* textsOf(one, locale);
    return;
  }
  const own = typeof value.locale === 'string' ? value.locale : locale;
  if (typeof value.text === 'string') {
    yield [value.text, own];
    if (typeof value.inline === 'string') yield [value.inline, own];
    if (isObject(value.inflections))
      for (const one of Object.values(value.inflections)) yield [String(one), own];
  }
  for (const [key, one] of Object.entries(value))
    if (key !== 'settings' && key !== 'params') yield* textsOf(one, own);
}

/** The messages of a pack that need a parser, parsed. */
export function withTrees(pack: Pack): Pack {
  const trees: Record<string, PackTree> = keyed();
  const own = parseLocale(pack.locale);
  for (const [text, tag] of textsOf({ ...pack, text: undefined }, pack.locale)) {
    if (plainSignature(text) !== undefined || Object.hasOwn(trees, text)) continue;
    const locale = parseLocale(tag);
    // A text of the same language is said with the money of the pack's region.
    const asking = sameLanguage(locale, own) ? own : locale;
    trees[text] = packTree(withCurrencies(readMessage(text), asking));
  }
  return { ...pack, trees };
}

/** The shapes of a workspace's own, by name. */
export const ownShapes = (
  shapes: Workspace['config']['shapes'],
): NonNullable<PackStyle['shapes']> =>
  Object.fromEntries(
    [...shapes].flatMap(([name, { mediaType, template }]) =>
      SHAPES.has(name) ? [] : [[name, { mediaType, body: template }] as const],
    ),
  );

/** Returns the settings of bodies that packs must have. */
function styleOf({ body, shapes }: Workspace['config']): PackStyle {
  const { shape, prefix, texts, html } = body;
  const usual = DEFAULT_SHAPE_OPTIONS;
  const own = ownShapes(shapes);
  return {
    ...(shape === 'problem' ? {} : { shape }),
    ...(Object.keys(own).length > 0 ? { shapes: own } : {}),
    ...(prefix === usual.prefix ? {} : { prefix }),
    ...(texts === usual.texts ? {} : { texts }),
    ...(body.inline === 'alone' ? { inline: body.inline } : {}),
    ...(isDeepStrictEqual({ ...html }, usual.html) ? {} : { html }),
  };
}

/** The keys that the rules of some forms ask for, and those of what stands in. */
const usedKeys = (forms: readonly Form[]): Set<string> =>
  new Set(
    forms.flatMap(({ fields }) =>
      fields.flatMap(({ uses }) => uses.flatMap((use) => withStandIns(keysOf(use)).flat())),
    ),
  );

/** The keys of the vocabulary, those that texts are written for, and those of what stands in. */
function allKeys({ texts }: Workspace): string[] {
  const keys = texts.table.purposes.forAll().flatMap((scope) => [...scope.keysOf('message')]);
  return [...new Set([...VOCABULARY.keys(), ...keys].flatMap((key) => withStandIns([key]).flat()))];
}

/**
 * One locale of a workspace, or of some of its forms, with every lookup resolved. The same
 * workspace gives the same pack to the byte.
 */
export function makePack(workspace: Workspace, locale: Locale, only?: readonly string[]): Pack {
  const { texts, config } = workspace;
  const options = answerOptions(workspace);
  // Which keys have texts is known when the files are read.
  workspace.table.readAll(texts.chain(locale));
  const all = [...workspace.forms.values()].map(({ form }) => form);
  const forms = only === undefined ? all : only.map((id) => workspace.form(id).form);
  const packed = packLocale(
    {
      forms,
      texts,
      original: config.original,
      parents: parentsAmong(config.locales),
      options,
      style: styleOf(workspace.config),
      audience: audienceOf(config),
      production: config.production,
      rules: only === undefined ? allKeys(workspace) : [...usedKeys(forms)],
      isPart: only !== undefined,
    },
    locale,
  );
  const { pack, locale: tag, ...rest } = packed;
  return { pack, locale: tag, hash: hashOf(packed), ...rest };
}

/** A pack as an ES module, for bundlers: what is not used of the page is not in it. */
export const packModule = (pack: Pack): string =>
  // Not as a literal: there a member called __proto__ would be no member.
  `// Written by "zeitwort pack".\nexport default JSON.parse(${JSON.stringify(JSON.stringify(withTrees(pack)))});\n`;

/** A pack as it is written into its file. */
export const packText = (pack: Pack): string => `${JSON.stringify(pack, undefined, 1)}\n`;

/**
 * Holds what should be a pack against its own hash.
 * @param named the file, where there is one
 * @throws {Complaint} when it is none, is of another version, or was changed since it was made
 */
export function checkPack(root: unknown, named?: string): Pack {
  const location = named === undefined ? undefined : { file: named };
  if (!isObject(root) || root.pack !== 1 || typeof root.hash !== 'string')
    throw complaint(
      'wrong-content',
      ['this is not a pack of version 1; write it again with "zeitwort pack"'],
      location,
    );
  const { hash, ...rest } = root as unknown as Pack;
  if (hashOf(rest) !== hash)
    throw complaint(
      'wrong-content',
      ['this pack was changed after it was made; write it again with "zeitwort pack"'],
      location,
    );
  return { ...rest, hash };
}

/**
 * Reads a pack from a file.
 * @throws {Complaint} when it is none, is of another version, or was changed since it was made
 */
export function readPack(file: string): Pack {
  return checkPack(parseJson(readText(file, file, 'a pack'), file, false), file);
}
