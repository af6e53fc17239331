import { getOrMake } from '../core/base/get-or-make.js';
import {
  InlayHintKind,
  type CodeLens,
  type InlayHint,
  type Range,
} from 'vscode-languageserver/node';
import { isCovered } from '../core/check/subject/coverage.js';
import type { CheckResult } from '../core/check/subject/result.js';
import type { Locale } from '../core/locale/tag.js';
import { speaksOf } from '../core/texts/form-set.js';
import { afterString } from '../workspace/documents/json-literal.js';
import { catalogIn } from './entries.js';
import type { Cursor } from './session.js';

/** The command of a lens: writes drafts for one form or all forms, in one language. */
export const DRAFT_COMMAND = 'zeitwort.draft';

/** A hint is no longer than that. */
const LONGEST = 80;

const cut = (text: string): string =>
  text.length > LONGEST ? `${text.slice(0, LONGEST - 1)}…` : text;

/** The original beside each translation in a part of a file. */
export function hintsIn({ workspace, file, source }: Cursor, range: Range): InlayHint[] {
  const catalog = catalogIn(workspace, file);
  const { original } = workspace.config;
  if (!catalog || catalog.locale === original) return [];
  const [from, to] = [source.offset(range.start), source.offset(range.end)];
  const { cells } = workspace.table.column(original);
  return catalog.texts.flatMap((entry): InlayHint[] => {
    const meant = cells[entry.purpose.id];
    if (!meant || meant.text === entry.text) return [];
    const at = workspace.offsetOf({ ...entry.origin, at: 'value' });
    if (at === undefined || at < from || at > to || source.text[at] !== '"') return [];
    return [
      {
        position: source.position(afterString(source.text, at)),
        label: cut(meant.text),
        kind: InlayHintKind.Parameter,
        paddingLeft: true,
        tooltip: `${meant.locale}: ${meant.text}`,
      },
    ];
  });
}

interface Count {
  all: number;
  covered: number;
}

/** How many rules have a text of their own, by form and language. */
function countsOf({ matrix }: CheckResult): Map<string, Map<Locale, Count>> {
  const counts = new Map<string, Map<Locale, Count>>();
  for (const { form, locales } of matrix) {
    const byLocale = getOrMake(counts, form, () => new Map());
    for (const [locale, coverage] of locales) {
      const count = byLocale.get(locale) ?? { all: 0, covered: 0 };
      count.all += 1;
      if (isCovered(coverage)) count.covered += 1;
      byLocale.set(locale, count);
    }
  }
  return counts;
}

const percent = ({ all, covered }: Count): number =>
  all === 0 ? 100 : Math.floor((100 * covered) / all);

/**
 * How far a form is in each language, over its declaration; how far a language is, over its
 * catalog.
 */
export function lensesIn(
  { workspace, file, source, project }: Cursor,
  result: CheckResult,
): CodeLens[] {
  const counts = countsOf(result);
  const catalog = catalogIn(workspace, file);
  const lens = (range: Range, title: string, args?: unknown[]): CodeLens => ({
    range,
    command: { title, command: args ? DRAFT_COMMAND : '', ...(args ? { arguments: args } : {}) },
  });
  if (catalog) {
    const forms = [...counts].filter(([form]) => speaksOf(catalog.form, form));
    const lacking = forms.reduce((sum, [, byLocale]) => {
      const { all = 0, covered = 0 } = byLocale.get(catalog.locale) ?? {};
      return sum + all - covered;
    }, 0);
    const all = forms.reduce(
      (sum, [, byLocale]) => sum + (byLocale.get(catalog.locale)?.all ?? 0),
      0,
    );
    const range = source.range({ from: 0, to: 0 });
    if (lacking === 0) return [lens(range, `${catalog.locale}: all ${all} rules have a text`)];
    return [
      lens(range, `${catalog.locale}: ${lacking} of ${all} rules have no text; draft them`, [
        project.folder,
        catalog.locale,
      ]),
    ];
  }
  return [...workspace.forms.values()].flatMap(({ form }): CodeLens[] => {
    const at =
      form.origin.file === file ? workspace.offsetOf({ ...form.origin, at: 'key' }) : undefined;
    const byLocale = counts.get(form.id);
    if (at === undefined || !byLocale) return [];
    const shares = [...byLocale]
      .map(([locale, count]) => `${locale} ${percent(count)} %`)
      .join(' · ');
    return [lens(source.range({ from: at, to: at }), shares)];
  });
}
