import path from 'node:path';
import { checking, done, type Steps } from '../../core/check/check.js';
import type { CheckOptions, CheckResult } from '../../core/check/subject/result.js';
import { Context, type Subject } from '../../core/check/subject/context.js';
import type { FindingKind, Remark } from '../../core/finding.js';
import type { Locale } from '../../core/locale/tag.js';
import { reviewFileOf } from '../disk/files.js';
import { CONFIG_FILE } from '../disk/find.js';
import { mappedRules } from './mapped-rules.js';
import { duplicateKeys } from '../documents/json.js';
import type { WorkspaceFolder } from '../reading/folder.js';
import { Workspace } from '../reading/workspace.js';
import { parseYaml } from '../documents/yaml.js';
import { isObject } from '../../core/reading.js';

/** Keys that stand twice in a catalog; the parser keeps the last of them and says nothing. */
function duplicatesIn(file: string, locale: Locale, text: string): Remark[] {
  return duplicateKeys(text).map(({ keys, nth }): Remark => {
    const message = `"${keys.at(-1) ?? ''}" stands twice in one object; this one, read later, holds. Remove one of the two.`;
    return { kind: 'duplicate-key', locale, message, spot: { file, keys, at: 'key', nth } };
  });
}

/**
 * Regular expressions that clients can keep busy; the analysis is loaded only where there are any.
 */
async function slowRegexes(workspace: Workspace): Promise<Remark[]> {
  const { usesWith } = await import('../judging/trial.js');
  const uses = [...usesWith(workspace, 'regex')];
  if (uses.length === 0) return [];
  const { slowness } = await import('./costly-pattern.js');
  return uses.flatMap(({ form, path, use, value, longest }): Remark[] => {
    const why = slowness(value, longest);
    if (why === undefined) return [];
    const message = `The regular expression ${value} is slow: ${why}. Let no two parts of it match the same characters.`;
    return [
      {
        kind: 'costly-pattern',
        form: form.id,
        path,
        rule: use.rule,
        message,
        spot: { ...use.origin, at: 'value' },
      },
    ];
  });
}

/**
 * Returns what would fail at the first request. The modules that try it are loaded only where there
 * is something to try.
 */
async function triedOut(workspace: Workspace): Promise<Remark[]> {
  const asks = (parameter: string): boolean =>
    [...workspace.forms.values()].some(({ form }) =>
      form.fields.some(({ uses }) => uses.some(({ params }) => parameter in params)),
    );
  if (workspace.schemas.size === 0 && !asks('table') && !asks('regex')) return [];
  const { exampleProblems, tableProblems } = await import('../judging/trial.js');
  return [
    ...tableProblems(workspace),
    ...exampleProblems(workspace),
    ...(await slowRegexes(workspace)),
  ];
}

/** Answers for developers, asked for in a workspace that serves anyone. */
function exposed({ config }: Workspace): Remark[] {
  if (!config.production || config.body.audience !== 'developer') return [];
  const message =
    '"audience" is developer, but this workspace is for production, which answers to clients alone. Set it to client.';
  return [
    {
      kind: 'exposed-details',
      message,
      spot: { file: CONFIG_FILE, keys: ['body', 'audience'], at: 'value' },
    },
  ];
}

/** Findings that follow from having no catalog, or no form, at all. */
const CONSEQUENCES: ReadonlySet<FindingKind> = new Set<FindingKind>([
  ...([
    'missing-message',
    'missing-label',
    'missing-choice',
    'missing-problem',
    'missing-inflection',
  ] as const),
  ...([
    'only-starter',
    'only-fallback',
    'unused-message',
    'unused-label',
    'unused-excuse',
    'unknown-problem',
    'unruled-field',
  ] as const),
]);

/** Whether a workspace has texts alone, for the rules of others. */
const isHouse = ({ rules }: Workspace['config']): boolean => rules.length === 0;

/** Catalogs of a house that speak of some forms, which are none of its own. */
const ofForms = ({ known }: Workspace['catalogFiles']): Remark[] =>
  known.flatMap(({ file, locale, form }): Remark[] =>
    form === undefined
      ? []
      : [
          {
            kind: 'wrong-structure',
            locale,
            message: 'The texts of a house are for the forms of all services. Take "form" out.',
            spot: { file, keys: ['form'], at: 'key' },
          },
        ],
  );

/** Globs without a match: a finding for each text and rule would follow from one. */
function idleGlobs({ config, unmatched, sources, catalogFiles }: Workspace): {
  readonly remarks: Remark[];
  readonly isHollow: boolean;
} {
  if (isHouse(config)) return { remarks: ofForms(catalogFiles), isHollow: true };
  if (unmatched.size === 0) return { remarks: [], isHollow: false };
  const written = parseYaml(sources.get(CONFIG_FILE) ?? '', CONFIG_FILE);
  const empty = (key: 'texts' | 'rules'): Remark[] =>
    (isObject(written) && key in written ? config[key] : []).flatMap((glob, at): Remark[] => {
      if (!unmatched.has(glob)) return [];
      const message = `No file matches "${glob}". Correct it, or take it out.`;
      return [
        {
          kind: 'wrong-structure',
          message,
          spot: { file: CONFIG_FILE, keys: [key, at], at: 'value' },
        },
      ];
    });
  const [texts, rules] = [empty('texts'), empty('rules')];
  const all = ({ length }: readonly Remark[], key: 'texts' | 'rules'): boolean =>
    length > 0 && length === config[key].length;
  return { remarks: [...texts, ...rules], isHollow: all(texts, 'texts') || all(rules, 'rules') };
}

/** A check asked for, with what it hangs on. */
export interface CheckRequest extends Pick<CheckOptions, 'asked' | 'progress'> {
  readonly locales?: readonly Locale[] | undefined;
  /** Whether a result that was kept may be used, and this one is kept. */
  readonly keep?: boolean;
}

/**
 * Checks the workspace in a folder, or gives the result that was kept of it as long as nothing
 * changed.
 */
export async function checkFolder(
  folder: WorkspaceFolder,
  request: CheckRequest = {},
): Promise<CheckResult> {
  const { locales = folder.config.locales, keep = false, asked = [] } = request;
  const cache = keep
    ? new (await import('./check-cache.js')).CheckCache(folder, [...locales, ...asked].join(' '))
    : undefined;
  const kept = cache?.read();
  if (kept) return kept;
  const workspace = Workspace.in(folder);
  const result = await checkWorkspace(workspace, locales, request);
  for (const [file, text] of workspace.sources) folder.sources.set(file, text);
  cache?.write(result, workspace.sources.keys());
  return result;
}

/** Checks a workspace, for all its languages or for some. */
export function checkWorkspace(
  workspace: Workspace,
  locales?: readonly Locale[],
  options: Pick<CheckOptions, 'asked' | 'only' | 'progress'> = {},
): Promise<CheckResult> {
  return new WorkspaceCheck(locales, options).next(workspace);
}

/** @param earlier of a reading before, or of the same, whose links may hold */
const contextOf = (
  workspace: Workspace,
  more: Partial<Subject> = {},
  earlier?: Context,
): Context => {
  const { config } = workspace;
  const subject: Subject = {
    forms: [...workspace.forms.values()].map(({ form }) => form),
    indexOf: (form) => workspace.form(form.id),
    texts: workspace.texts,
    drafts: workspace.allTexts === workspace.texts ? undefined : workspace.allTexts,
    locales: config.locales,
    allLocales: config.locales,
    original: config.original,
    problems: config.statuses,
    problemArguments: new Map(
      [...config.problemParams].map(([id, params]): [string, string[]] => [
        id,
        Object.keys(params),
      ]),
    ),
    settings: CONFIG_FILE,
    isHouse: isHouse(config),
    asksInline: config.body.inline !== false,
    remarks: [],
    ...more,
  };
  return new Context(subject, earlier);
};

/** Results that depend on rules and their tables alone. */
interface OfRules {
  readonly book: Workspace['book'];
  readonly config: Workspace['config'];
  readonly tried: readonly Remark[];
  readonly ruled: Map<FindingKind, readonly Remark[]>;
}

/** Runs steps to their end, unless somebody calls them off between two. */
export type Run = <T>(steps: Steps<T>) => T | Promise<T>;

/**
 * Checks a workspace, and what becomes of it: what rules alone decide is worked out again only
 * where they changed.
 */
export class WorkspaceCheck {
  private ofRules: OfRules | undefined;
  private known: { readonly of: Workspace; readonly context: Context } | undefined;

  constructor(
    private readonly locales?: readonly Locale[],
    private readonly options: Pick<CheckOptions, 'asked' | 'only' | 'progress'> = {},
  ) {}

  /**
   * Checks a reading.
   * @param changed the files that changed since the one before; all may have, where nothing is said
   */
  async next(
    workspace: Workspace,
    changed?: ReadonlySet<string>,
    run: Run = done,
  ): Promise<CheckResult> {
    const { config } = workspace;
    const { tried, ruled } = (this.ofRules = await this.rulesOf(workspace, changed));
    const reviewOf = await reviewsOf(workspace);
    // What was noticed is known once all files are read.
    const remarks = workspace.remarks();
    const globs = idleGlobs(workspace);
    const subject = {
      locales: this.locales ?? config.locales,
      remarks: [
        ...globs.remarks,
        ...remarks,
        ...duplicates(workspace),
        ...exposed(workspace),
        ...mappedRules(workspace),
        ...tried,
      ],
      reviewOf,
      terms: await termsIn(workspace),
    };
    const context = contextOf(workspace, subject, this.contextFor(workspace));
    const result = await run(
      checking(context, { ...this.options, settings: config.checks, ruled }),
    );
    return globs.isHollow
      ? { ...result, findings: result.findings.filter(({ kind }) => !CONSEQUENCES.has(kind)) }
      : result;
  }

  /** Returns the links between rules and texts of each reading in turn. */
  contextFor(workspace: Workspace): Context {
    if (this.known?.of !== workspace)
      this.known = { of: workspace, context: contextOf(workspace, {}, this.known?.context) };
    return this.known.context;
  }

  private async rulesOf(
    workspace: Workspace,
    changed: ReadonlySet<string> | undefined,
  ): Promise<OfRules> {
    const { book, config } = workspace;
    const isSame =
      changed !== undefined && this.ofRules?.book === book && this.ofRules.config === config;
    if (isSame && this.ofRules && !Object.values(config.tables).some((table) => changed.has(table)))
      return this.ofRules;
    // Trying rules out compiles every schema, and finds none of the kinds that `only` may name.
    const tried = this.options.only ? [] : await triedOut(workspace);
    return { book, config, tried, ruled: new Map() };
  }
}

const duplicates = ({ catalogFiles: { files, suspects }, sources }: Workspace): Remark[] =>
  files.flatMap(({ file, locale }) =>
    suspects.has(file) ? duplicatesIn(file, locale, sources.get(file) ?? '') : [],
  );

/** Reads the terms; the module is loaded only where files are named. */
async function termsIn(workspace: Workspace): Promise<Subject['terms']> {
  const { config, house } = workspace;
  if (config.terms.length === 0 && !house?.config.terms.length) return undefined;
  const { termsOf } = await import('../reading/terms.js');
  return termsOf(workspace);
}

/** Looks up how far translations are; nothing where the workspace keeps no review. */
async function reviewsOf(workspace: Workspace): Promise<Subject['reviewOf']> {
  const { folder, catalogFiles, storage } = workspace;
  const there = catalogFiles.files.filter(({ file }) =>
    storage.has(path.join(folder, reviewFileOf(file))),
  );
  if (there.length === 0) return undefined;
  const { reviewOf, reviewed } = await import('../reading/review-file.js');
  const reviews = new Map(there.map(({ file }) => [file, reviewOf(file, workspace)]));
  return (entry, original) => {
    const review = reviews.get(entry.file);
    return review && reviewed(review, entry, original);
  };
}
