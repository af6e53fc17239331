import { codeOf, FIELD_PLACES } from '../core/rules/form.js';
import { FORMAT_NAMES } from '../core/rules/format-names.js';
import type { Parameter, RuleDefinition } from '../core/rules/definition.js';
import { FORM_KEYS } from '../core/rules/sheet.js';
import { TYPE_NAMES } from '../core/rules/types.js';
import { BLANKS, EXTERNAL, FIELD_SETTINGS, VOCABULARY } from '../core/rules/vocabulary.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import type { KeyCursor } from './yaml-cursor.js';
import { inSnippet, Sort, type Offer } from './complete-items.js';

const named = (names: readonly string[], kind: Offer['kind'] = Sort.Property): Offer[] =>
  names.map((name) => ({ name, kind }));

const SECTIONS: readonly string[] = ['fields', ...FIELD_PLACES.filter((part) => part !== 'body')];

/** The members that every use of a rule can have, besides its parameters. */
const OF_USES = ['as', 'onlyIf', 'problem'];

function pathsOf(form: string, workspace: Workspace): Offer[] {
  const fields = workspace.forms.get(form)?.form.fields ?? [];
  return [...new Set(fields.map(({ path }) => path))]
    .filter((path) => path !== '')
    .map((name) => ({ name, kind: Sort.Field }));
}

/** The values that a parameter may have, where they can be listed. */
function valuesOf(
  { type, options = [], on }: Parameter,
  form: string,
  workspace: Workspace,
): Offer[] {
  switch (type) {
    case 'flag':
      return named([String(on ?? true)], Sort.Value);
    case 'option':
      return named(options, Sort.EnumMember);
    case 'format':
      return named(FORMAT_NAMES, Sort.EnumMember);
    case 'types':
      return named(TYPE_NAMES, Sort.EnumMember);
    case 'field':
      return pathsOf(form, workspace);
    case 'table':
      return named(Object.keys(workspace.config.tables), Sort.EnumMember);
    case 'date':
      return named(['today'], Sort.Value);
    default:
      return [];
  }
}

/**
 * Returns the snippet behind the name of a rule: its first parameter, which a sheet may give
 * without a name.
 */
function valueSnippet({ parameters }: RuleDefinition): string {
  const [first] = parameters;
  if (first?.type === 'flag') return `: ${String(first.on ?? true)}`;
  return parameters.filter(({ optional }) => !optional).length > 1
    ? `: { ${parameters
        .filter(({ optional }) => !optional)
        .map(({ name }, at) => `${name}: $${at + 1}`)
        .join(', ')} \\}`
    : ': $1';
}

const ruleOffers = (): Offer[] => [
  ...[...VOCABULARY.values()].map((rule): Offer => ({
    name: rule.id,
    kind: Sort.Property,
    rank: 4,
    detail: rule.about,
    snippet: inSnippet(rule.id) + valueSnippet(rule),
    about: { sort: 'rule', of: rule.id },
  })),
  {
    name: EXTERNAL,
    kind: Sort.Property,
    rank: 5,
    detail: 'rules that only the backend can check',
    snippet: `${EXTERNAL}: { $1 \\}`,
  },
  ...named(FIELD_SETTINGS).map((offer) => ({ ...offer, rank: 6 })),
];

/**
 * Rules of the workspace's own: those that forms have, and keys that only texts have so far, which
 * come first.
 */
function ownRules({ forms, table }: Workspace): Offer[] {
  const declared = new Set<string>();
  for (const { form } of forms.values())
    for (const { uses } of form.fields) for (const use of uses) declared.add(codeOf(use));
  const written = table.catalogs.flatMap(({ texts }) =>
    texts.flatMap(({ purpose: { kind, key } }) => (kind === 'message' ? [key] : [])),
  );
  return [...new Set([...written, ...declared])]
    .filter((key) => !VOCABULARY.has(key))
    .map((name) => ({ name, kind: Sort.Property, rank: declared.has(name) ? 5 : 3 }));
}

/** Inside of a rule's own object, or of one of a list of them. */
function inUse(
  rule: string,
  rest: readonly string[],
  cursor: KeyCursor,
  form: string,
  workspace: Workspace,
): readonly Offer[] {
  const definition = VOCABULARY.get(rule);
  const [parameter, deeper] = /^\d+$/.test(rest[0] ?? '') ? rest.slice(1) : rest;
  if (cursor.at === 'key') {
    if (parameter === 'onlyIf') return pathsOf(form, workspace);
    if (parameter !== undefined) return [];
    const own = (definition?.parameters ?? []).map(({ name, about }): Offer => ({
      name,
      kind: Sort.Property,
      rank: 3,
      detail: about,
    }));
    return [...own, ...named([...OF_USES, ...(definition?.bySibling ? ['field'] : [])])];
  }
  if (parameter === 'as') return ownRules(workspace);
  if (parameter === 'problem') return named([...workspace.config.statuses.keys()], Sort.EnumMember);
  if (parameter === 'field') return pathsOf(form, workspace);
  if (deeper !== undefined) return [];
  const meant =
    parameter === undefined
      ? definition?.parameters[0]
      : definition?.parameters.find(({ name }) => name === parameter);
  return meant ? valuesOf(meant, form, workspace) : [];
}

/** Returns the completions at a place of a rule sheet. */
export function sheetOffers(cursor: KeyCursor, workspace: Workspace): readonly Offer[] {
  const [top, form, section, path, rule, ...rest] = cursor.keys.map(String);
  const isKey = cursor.at === 'key';
  if (top === undefined) return isKey ? named(['forms']) : [];
  if (top !== 'forms' || form === undefined) return [];
  if (section === undefined) return isKey ? named(FORM_KEYS) : [];
  if (!SECTIONS.includes(section)) {
    if (section === 'blank') return named(Object.keys(BLANKS), Sort.EnumMember);
    return section === 'partial' || section === 'adds' ? named(['true'], Sort.Value) : [];
  }
  if (path === undefined) return isKey ? pathsOf(form, workspace) : [];
  if (rule === undefined) return isKey ? ruleOffers() : [];
  if (rule === 'blank') return named(Object.keys(BLANKS), Sort.EnumMember);
  if (FIELD_SETTINGS.some((one) => one === rule))
    return rule === 'label' ? [] : named(['true'], Sort.Value);
  if (rule === EXTERNAL) return isKey && rest.length === 0 ? ownRules(workspace) : [];
  return inUse(rule, rest, cursor, form, workspace);
}
