import { getOrMake } from '../../core/base/get-or-make.js';
import type { CheckResult } from '../../core/check/subject/result.js';
import { COVERAGES, type Coverage } from '../../core/check/subject/coverage.js';
import { rowsOf } from '../../core/check/subject/context.js';
import type { Finding } from '../../core/finding.js';
import { directionOf, type Locale } from '../../core/locale/tag.js';
import type { Origin } from '../../core/origin.js';
import { sampleIn } from '../../core/violation/samples.js';
import { addressText, unitKey } from '../reading/address.js';
import { entryOf } from '../../core/texts/entry.js';
import type { Address, TextKind } from '../../core/texts/purpose.js';
import { overview } from '../../core/texts/overview.js';
import type { Term } from '../../core/texts/terms.js';
import { termsOf } from '../reading/terms.js';
import { readIn } from '../reading/read-in.js';
import type { Moment } from './history.js';
import type { Workspace } from '../reading/workspace.js';
import type { Sentences } from '../../core/violation/sentence.js';
import { newSentences } from '../answering/answering.js';

/** The kind of text of a report row. */
export type ReportKind = TextKind;

/**
 * One text in all locales, kept short since there can be hundreds of thousands: form, place, rule,
 * kind, the texts by locale (nothing where there is none), a letter for each locale (w, s, d, f, m:
 * written, starter, draft, fallback, missing), the findings by their places in the list, and what
 * the text is called in files for translators.
 */
export type ReportRow = readonly [
  string,
  string,
  string,
  ReportKind,
  readonly (string | null)[],
  string,
  readonly number[],
  string,
];

export interface ReportFinding {
  readonly kind: string;
  readonly severity: string;
  readonly message: string;
  readonly locale?: string | undefined;
  readonly place: string;
}

/** Everything that the page shows. */
export interface ReportData {
  readonly locales: readonly {
    readonly tag: string;
    readonly name: string;
    readonly dir: 'ltr' | 'rtl';
  }[];
  readonly original: string;
  /** By form, then by locale: how many rules have each coverage, in the order of `COVERAGES`. */
  readonly coverage: readonly {
    readonly form: string;
    readonly counts: readonly (readonly number[])[];
  }[];
  readonly rows: readonly ReportRow[];
  readonly findings: readonly ReportFinding[];
  /** The terms: a note, and the word in each locale. */
  readonly terms: readonly {
    readonly note: string;
    readonly in: readonly (Term | null)[];
  }[];
  /** The coverage at the last revisions, the oldest first; the last is now. */
  readonly history: readonly Moment[];
}

export interface ReportOptions {
  /** The coverage at earlier commits, and now. */
  readonly history: readonly Moment[];
  /** Whether findings say in which files they are. */
  readonly hasPlaces: boolean;
}

const LETTERS: Readonly<Record<Coverage, string>> = {
  written: 'w',
  house: 'h',
  starter: 's',
  draft: 'd',
  fallback: 'f',
  missing: 'm',
};

const idOf = ({ file, keys }: Origin): string =>
  `${file}\n${keys.filter((key) => key !== 'text').join('\n')}`;

/** Findings by the text, or by the rule and locale, that they are about. */
class FindingIndex {
  private readonly byPlace = new Map<string, number[]>();
  private readonly byRule = new Map<string, number[]>();

  constructor(findings: readonly Finding[]) {
    for (const [at, { spot, form, path, rule, locale }] of findings.entries()) {
      if (spot) this.add(this.byPlace, idOf(spot), at);
      if (form !== undefined && path !== undefined && rule !== undefined)
        this.add(this.byRule, `${form}\n${path}\n${rule}\n${locale ?? ''}`, at);
    }
  }

  private add(map: Map<string, number[]>, id: string, at: number): void {
    getOrMake(map, id, () => []).push(at);
  }

  ofText(origin: Origin): readonly number[] {
    return this.byPlace.get(idOf(origin)) ?? [];
  }

  ofRule(form: string, path: string, rule: string, locale: Locale): readonly number[] {
    return [
      ...(this.byRule.get(`${form}\n${path}\n${rule}\n${locale}`) ?? []),
      ...(this.byRule.get(`${form}\n${path}\n${rule}\n`) ?? []),
    ];
  }
}

/** The rules of all forms, each with the sentence that clients would read for sample arguments. */
function messageRows(
  workspace: Workspace,
  matrix: CheckResult['matrix'],
  locales: readonly Locale[],
  index: FindingIndex,
): ReportRow[] {
  let sentences: Sentences | undefined;
  // The lines of the coverage stand for the same rules in the same order, form by form.
  return rowsOf([...workspace.forms.values()].map(({ form }) => form)).map(
    ({ form, field, use, code }, nth): ReportRow => {
      const speaker =
        sentences?.form.form === form
          ? sentences
          : newSentences(workspace, workspace.form(form.id));
      sentences = speaker;
      const violation = sampleIn(speaker.form.form, field, use);
      const found = new Set<number>();
      let states = '';
      const texts = locales.map((locale) => {
        const sentence = speaker.say(violation, locale);
        states += LETTERS[matrix[nth]?.locales.get(locale) ?? 'missing'];
        for (const at of index.ofRule(form.id, field.path, code, locale)) found.add(at);
        const entry = entryOf(sentence.case.found);
        if (entry) for (const at of index.ofText(entry.origin)) found.add(at);
        return sentence.text;
      });
      const place = (field.path || 'the body') + (field.in === 'body' ? '' : ` (${field.in})`);
      const named = entryOf(speaker.say(violation, workspace.config.original).case.found);
      const key = unitKey(named?.purpose ?? { kind: 'message', key: code });
      return [form.id, place, code, 'message', texts, states, [...found], key];
    },
  );
}

/** Labels, names of values and problem texts, as they are written. */
function writtenRows(
  workspace: Workspace,
  locales: readonly Locale[],
  index: FindingIndex,
): ReportRow[] {
  return overview(workspace.table).flatMap((row): ReportRow[] => {
    if (row.kind === 'message') return [];
    const address: Address = { ...row, path: undefined, form: undefined };
    const found = new Set<number>();
    let states = '';
    const texts = locales.map((locale) => {
      const entry = row.texts.get(locale);
      states += LETTERS[readIn(workspace, row, locale).coverage];
      if (entry) for (const at of index.ofText(entry.origin)) found.add(at);
      return entry?.text ?? null;
    });
    const what =
      row.kind === 'label'
        ? row.key === ''
          ? 'label'
          : row.key
        : row.kind === 'problem'
          ? row.key
          : addressText(address);
    return [
      [
        row.form ?? '',
        row.path === undefined ? '' : row.path || 'the body',
        what,
        row.kind,
        texts,
        states,
        [...found],
        unitKey(row),
      ],
    ];
  });
}

function coverageByForm(
  { matrix }: CheckResult,
  locales: readonly Locale[],
): ReportData['coverage'] {
  const forms = new Map<string, number[][]>();
  for (const { form, locales: states } of matrix) {
    const counts = getOrMake(forms, form, () => locales.map(() => COVERAGES.map(() => 0)));
    for (const [at, locale] of locales.entries()) {
      const count = counts[at];
      const state = COVERAGES.indexOf(states.get(locale) ?? 'missing');
      if (count) count[state] = (count[state] ?? 0) + 1;
    }
  }
  return [...forms].map(([form, counts]) => ({ form, counts }));
}

function termsIn(workspace: Workspace, locales: readonly Locale[]): ReportData['terms'] {
  const terms = termsOf(workspace);
  return terms.concepts.map((concept) => ({
    note: concept.note ?? '',
    in: locales.map((locale) => terms.of(concept, locale) ?? null),
  }));
}

/** The name of a locale in English, beside its tag; its own where there is none. */
function nameOf(locale: Locale): string {
  try {
    return new Intl.DisplayNames(['en'], { type: 'language' }).of(locale) ?? locale;
  } catch {
    return locale;
  }
}

/**
 * Gathers what the report shows of a workspace and a check of it.
 */
export function reportData(
  workspace: Workspace,
  result: CheckResult,
  locales: readonly Locale[],
  { history, hasPlaces }: ReportOptions,
): ReportData {
  const index = new FindingIndex(result.findings);
  return {
    locales: locales.map((tag) => ({ tag, name: nameOf(tag), dir: directionOf(tag) })),
    original: workspace.config.original,
    history,
    terms: termsIn(workspace, locales),
    coverage: coverageByForm(result, locales),
    rows: [
      ...messageRows(workspace, result.matrix, locales, index),
      ...writtenRows(workspace, locales, index),
    ],
    findings: result.findings.map(({ kind, severity, message, locale, spot }) => {
      const { file, line, column } =
        spot && hasPlaces
          ? workspace.place(spot)
          : { file: '', line: undefined, column: undefined };
      return {
        kind,
        severity,
        message,
        locale,
        place: [file, line, column].filter((part) => part !== undefined && part !== '').join(':'),
      };
    }),
  };
}
