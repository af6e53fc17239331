import { leftOut } from '../../core/check/kinds/argument-mismatch.js';
import { sampleLength } from '../../core/check/kinds/wording/too-long.js';
import { rowsOf } from '../../core/check/subject/context.js';
import { Entry } from '../../core/texts/entry.js';
import { overview } from '../../core/texts/overview.js';
import type { Locale } from '../../core/locale/tag.js';
import { unitId } from '../../exchange/translations/xliff.js';
import type { ReadUnit } from '../../exchange/translations/unit.js';
import { suggestion } from '../../core/text/closest.js';
import { isArgumentName } from '../../core/path/identifier.js';
import type { Workspace } from '../reading/workspace.js';
import { speaksOf } from '../../core/texts/form-set.js';
import type { Address } from '../../core/texts/purpose.js';
import { unitKey } from './exporting.js';
import { inflectionsOf } from './inflections.js';
import { messageProblem, type TextEditor } from './texts.js';

export interface ImportedText {
  readonly address: Address;
  readonly before: string | undefined;
  readonly after: string;
}

export interface Imported {
  readonly changed: readonly ImportedText[];
  /** How many states were noted anew, of texts that stayed. */
  readonly states: number;
  readonly refused: readonly { readonly key: string; readonly why: string }[];
  /** Texts that went in although their original is another now than the translator saw. */
  readonly moved: readonly Address[];
}

const MOST_SUGGESTIONS = 20;

interface Known {
  readonly address: Address;
  readonly source: Entry;
  readonly target: string | undefined;
  /** Of the translation there is. */
  readonly room?: number | undefined;
  /** Whether it is a form of a label, made from the label itself. */
  readonly isInflection?: boolean;
}

/** All texts that a locale can have, by the word that stands for them. */
function knownTexts(workspace: Workspace, locale: Locale): Map<string, Known> {
  const { original } = workspace.config;
  const written = overview(workspace.table).flatMap(({ texts, ...address }) => {
    const source = texts.get(original);
    return source
      ? [
          [
            unitKey(address),
            {
              address,
              source,
              target: texts.get(locale)?.text,
              limit: texts.get(locale)?.details.room,
            },
          ] as const,
        ]
      : [];
  });
  const inflections = inflectionsOf(workspace, locale).map(
    ({ address, label, text }) =>
      [unitKey(address), { address, source: label, target: text, isInflection: true }] as const,
  );
  return new Map<string, Known>([...inflections, ...written]);
}

/**
 * An inflection of a known label that nobody asked for, such as one that a translator added.
 */
function furtherForm(
  workspace: Workspace,
  locale: Locale,
  key: string,
  known: ReadonlyMap<string, Known>,
): Known | undefined {
  const [, label, form] = /^(.*\|label\|)([^|\\]+)$/s.exec(key) ?? [];
  const base = label === undefined ? undefined : known.get(label);
  if (!base || form === undefined || !isArgumentName(form) || form === 'text') return undefined;
  const address = { ...base.address, key: form };
  return {
    address,
    source: base.source,
    target: workspace.table.at(locale, address)?.text,
    isInflection: true,
  };
}

/** Why a translation cannot go in; nothing where it can. */
function problemOf(
  workspace: Workspace,
  text: string,
  locale: Locale,
  { address, source, room: own, isInflection }: Known,
): string | undefined {
  if (isInflection && address.key === 'gender')
    return isArgumentName(text) ? undefined : 'a gender is one word of letters, such as feminine';
  const broken = messageProblem(text);
  if (broken !== undefined) return `refused ${broken}`;
  const entry = new Entry(text, { file: source.file, locale }, source.slot);
  const lost = source.error ? [] : leftOut(source, entry);
  if (lost.length > 0)
    return `it loses ${lost.map((name) => `{${name}}`).join(', ')}, which the original tells`;
  const limit = own ?? source.details.room;
  if (limit === undefined) return undefined;
  const forms = [...workspace.forms.values()]
    .map(({ form }) => form)
    .filter(({ id }) => speaksOf(address.form, id));
  const rows = rowsOf(forms).filter(
    (row) =>
      row.keys.includes(address.key) &&
      (address.path === undefined || row.field.path === address.path),
  );
  const length = sampleLength({ entry, rows, key: address.key });
  return length > limit
    ? `with sample values it has ${length} characters, and there is room for ${limit}`
    : undefined;
}

/** Takes translations back: what is good goes in, what is not is listed with the reason. */
export function importUnits(
  workspace: Workspace,
  editor: TextEditor,
  locale: Locale,
  units: readonly ReadUnit[],
  into?: string,
): Imported {
  const known = knownTexts(workspace, locale);
  // A tool that does not keep the names of units keeps their ids.
  const byId = new Map([...known].map(([key, one]) => [unitId(key), one]));
  const changed: ImportedText[] = [];
  const refused: { key: string; why: string }[] = [];
  const moved: Address[] = [];
  /** Texts that came in just now: of a label its forms may follow. */
  const labelled = new Set<string>();
  let states = 0;
  for (const { key, source, target, state, confirmed, broken } of units) {
    const found = known.get(key) ?? byId.get(key) ?? furtherForm(workspace, locale, key, known);
    if (broken !== undefined) {
      refused.push({ key, why: broken });
      continue;
    }
    if (!found) {
      // To look for what each of thousands may have meant helps nobody.
      const near = refused.length < MOST_SUGGESTIONS ? suggestion(key, known.keys()) : '';
      refused.push({ key, why: `there is no such text in the original${near}` });
      continue;
    }
    if (target === undefined) continue;
    const { address } = found;
    const base = found.isInflection ? { ...address, key: '' } : undefined;
    if (base && !workspace.table.at(locale, base) && !labelled.has(unitKey(base))) {
      refused.push({ key, why: 'the label itself has no text yet; give that too' });
      continue;
    }
    const same = found.target === target;
    if (!same) {
      const problem = problemOf(workspace, target, locale, found);
      if (problem !== undefined) {
        refused.push({ key, why: problem });
        continue;
      }
    }
    const file = editor.fileForDraft(locale, address, into);
    if (!same) {
      editor.set(file, address, target);
      changed.push({ address, before: found.target, after: target });
      labelled.add(unitKey(address));
    }
    // Of a form there is nothing in the original that it could be out of date with.
    if (found.isInflection) continue;
    const from = source ?? found.source.text;
    if (!same && from !== found.source.text) moved.push(address);
    const noted = editor.stateOf(file, address);
    const now = state ?? (same ? undefined : 'translated');
    // An unchanged text keeps what is noted of it, and one of which nothing is noted counts as
    // translated.
    if (now === undefined || (same && !confirmed && now === (noted ?? 'translated'))) continue;
    editor.mark(file, address, now, target, from);
    if (same) states++;
  }
  return { changed, states, refused, moved };
}
