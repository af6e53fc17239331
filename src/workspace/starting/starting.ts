import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import { stringify } from 'yaml';
import type { CheckOptions } from '../../core/check/subject/result.js';
import type { PassedOver } from '../../exchange/schema/openapi.js';
import type { Locale } from '../../core/locale/tag.js';
import { complaint } from '../disk/complaint.js';
import { CONFIG_FILE } from '../disk/find.js';
import { REVIEW_ATTRIBUTES, withLines } from '../merging/install.js';
import { DERIVED_FOLDER, MODULE_MS, planDeriving } from '../deriving/plan.js';
import { Edits } from '../editing/edits.js';
import { writeDrafts } from '../editing/fill.js';
import { labelDrafts } from '../editing/labels.js';
import { TextEditor } from '../editing/texts.js';
import { globTrouble } from '../disk/globs.js';
import { Workspace } from '../reading/workspace.js';
import { WorkspaceFolder } from '../reading/folder.js';
import { Overlaid } from '../disk/storage.js';

/** Where a workspace begins: at documents or modules with rules, or folders of these. */
export interface StartWishes {
  readonly folder: string;
  readonly from: readonly [string, ...string[]];
  /** The original first. */
  readonly locales: readonly [Locale, ...Locale[]];
}

export interface Started {
  /** The written files, relative to the folder. */
  readonly files: readonly string[];
  readonly forms: number;
  readonly fields: number;
  /** The requests whose bodies are neither JSON nor HTML forms: their fields are not read. */
  readonly passedOver: readonly PassedOver[];
  /** How many labels were drafted. */
  readonly labels: number;
}

const MODULE = /\.[cm]?js$/;
const TYPED = /(?<!\.d)\.[cm]?ts$/;
const DOCUMENT = /\.(?:json|ya?ml)$/;

/** The sources of rules in the settings. */
interface Sources {
  readonly rules: readonly string[];
  readonly rulesFromCode?: readonly string[];
}

/** Sheets of the workspace's own, for what its documents cannot say. */
const SHEETS = 'rules/*.yaml';
const FIRST_SHEET = 'rules/own.yaml';
const SHEET_TEXT = `# What the documents cannot say: requests, rules that only the backend checks, what counts as missing.
# forms:
#   visit:
#     adds: true
#     fields:
#       escort: { external: { on-duty: { night: tonight } } }
forms: {}
`;

const notCompiled = (name: string): ReturnType<typeof complaint> =>
  complaint('wrong-use', [
    `${name} is TypeScript, which is not run here; compile it, such as by "npx tsc --outDir build", and name the JavaScript module that comes of it`,
  ]);

/**
 * The globs of a folder's documents, those that are called schemas alone, where some are; or its
 * modules, where it has no documents.
 */
function sourcesIn(whole: string, name: string): Sources {
  const inside = readdirSync(whole, { recursive: true, encoding: 'utf8' })
    .map((file) => file.split(path.sep).join('/'))
    .filter((file) => !file.split('/').includes('node_modules'));
  const schemas = inside.filter((file) => /\.schema\.(?:json|ya?ml)$/.test(file));
  const files = schemas.length > 0 ? schemas : inside.filter((file) => DOCUMENT.test(file));
  const middle = schemas.length > 0 ? '.schema' : '';
  const ends = [...new Set(files.map((file) => path.posix.extname(file)))].sort();
  if (ends.length === 0) {
    const modules = inside.filter((file) => MODULE.test(file));
    if (modules.length > 0) return fromCode(modules.map((file) => `${name}/${file}`));
    if (inside.some((file) => TYPED.test(file))) throw notCompiled(name);
    throw complaint('wrong-use', [
      `there is no JSON, no YAML and no module in ${name}; name a folder of schemas, or a document`,
    ]);
  }
  const depth = files.some((file) => file.includes('/')) ? '**/' : '';
  return { rules: ends.map((end) => `${name}/${depth}*${middle}${end}`) };
}

const fromCode = (modules: readonly string[]): Sources => ({
  rules: [`${DERIVED_FOLDER}/*.schema.json`],
  rulesFromCode: modules,
});

function sourcesOf({ folder, from }: StartWishes): Sources {
  const all = from.map((one) => sourceOf(folder, one));
  const modules = all.flatMap(({ rulesFromCode = [] }) => rulesFromCode);
  const rules = [...new Set([...all.flatMap((one) => one.rules), SHEETS])];
  return { rules, ...(modules.length > 0 ? { rulesFromCode: modules } : {}) };
}

function sourceOf(folder: string, from: string): Sources {
  const whole = path.resolve(from);
  if (!existsSync(whole)) throw complaint('not-found', [from]);
  const name = path.relative(path.resolve(folder), whole).split(path.sep).join('/');
  if (name.startsWith('..') || path.isAbsolute(name))
    throw complaint('wrong-use', [
      `${from} is not below the workspace; name a folder for it that holds both`,
    ]);
  if (name === '')
    throw complaint('wrong-use', [
      `${from} is the workspace itself; name the folder in it that has the rules`,
    ]);
  if (statSync(whole).isDirectory()) return sourcesIn(whole, name);
  const trouble = globTrouble(name);
  if (trouble !== undefined) throw complaint('wrong-use', [`${from}: ${trouble}`]);
  if (MODULE.test(name)) return fromCode([name]);
  if (TYPED.test(name)) throw notCompiled(from);
  if (DOCUMENT.test(name)) return { rules: [name] };
  throw complaint('wrong-use', [
    `${from} is neither JSON nor YAML nor a JavaScript module; name a document of OpenAPI, a schema, a module or a folder`,
  ]);
}

/**
 * Where the schemas for editors are, as a file in a folder names them; nothing where the program is
 * not installed there.
 */
function schemaFor(folder: string, below: string, name: string): string | undefined {
  const installed = path.join('node_modules', 'zeitwort', 'schemas', name);
  return existsSync(path.join(folder, installed))
    ? `${below}${installed.split(path.sep).join('/')}`
    : undefined;
}

/** A new workspace has drafts alone, and whoever tries it wants to see them. */
const DRAFTS_SERVED =
  '# Clients get drafts too; take this away once somebody has read them (zeitwort review).\ndrafts: served\n';

/** A line for each setting. */
const settingsText = (settings: Readonly<Record<string, unknown>>): string =>
  Object.entries(settings)
    .filter(([, value]) => value !== undefined)
    .map(
      ([name, value]) =>
        `${name}: ${stringify(value, { collectionStyle: 'flow', flowCollectionPadding: false, lineWidth: 0 })}`,
    )
    .join('') + DRAFTS_SERVED;

/** Whether there are sheets already. */
const hasSheets = (folder: string): boolean => {
  const rules = path.join(folder, path.posix.dirname(SHEETS));
  return existsSync(rules) && readdirSync(rules).some((file) => file.endsWith('.yaml'));
};

/** The files of a new workspace, without what is worked out of its rules. */
function filesFor(
  { folder, locales }: StartWishes,
  { rules, rulesFromCode }: Sources,
): Map<string, string> {
  const [original] = locales;
  const settings = {
    $schema: schemaFor(folder, './', 'workspace.schema.json'),
    original,
    locales,
    texts: ['messages/*.json'],
    rules,
    rulesFromCode,
  };
  const catalog = schemaFor(folder, '../', 'catalog.schema.json');
  const attributes = path.join(folder, '.gitattributes');
  const before = existsSync(attributes) ? readFileSync(attributes, 'utf8') : '';
  const after = withLines(before, [REVIEW_ATTRIBUTES]);
  return new Map([
    [CONFIG_FILE, settingsText(settings)],
    ...(hasSheets(folder) ? [] : ([[FIRST_SHEET, SHEET_TEXT]] as const)),
    ...locales.map((locale): [string, string] => [
      `messages/${locale}.json`,
      `${JSON.stringify({ ...(catalog === undefined ? {} : { $schema: catalog }), locale }, undefined, 2)}\n`,
    ]),
    ...(after === before ? [] : ([['.gitattributes', after]] as const)),
  ]);
}

/**
 * Starts a workspace around existing rules: its settings, a catalog for each language, and labels
 * for the fields, drafted from their names where no schema has titles. All files are written at the
 * end, so that an interrupt leaves nothing behind.
 * @param progress called with the progress
 * @throws {Complaint} when there is a workspace already, or the rules cannot be read
 */
export async function startFrom(
  wishes: StartWishes,
  progress?: CheckOptions['progress'],
): Promise<Started> {
  const { locales } = wishes;
  const folder = path.resolve(wishes.folder);
  const sources = sourcesOf(wishes);
  const files = filesFor(wishes, sources);
  const taken = [...files.keys()].find(
    (file) => file !== '.gitattributes' && existsSync(path.join(folder, file)),
  );
  if (taken !== undefined)
    throw complaint('wrong-use', [
      `${path.join(wishes.folder, taken)} exists already, and init never overwrites a file`,
    ]);
  const storage = new Overlaid(folder, files);
  if (sources.rulesFromCode) {
    const settings = WorkspaceFolder.openFolder(folder, undefined, undefined, storage);
    const plan = await planDeriving(settings, DERIVED_FOLDER, MODULE_MS);
    for (const { file, text } of plan.files) files.set(file, text);
  }
  const workspace = Workspace.open(folder, process.cwd(), undefined, storage);
  const forms = [...workspace.forms.values()];
  const drafts = await labelDrafts(workspace, locales[0], progress);
  const edits = new Edits(workspace);
  for (const [file, text] of files) edits.put(file, text);
  writeDrafts(workspace, new TextEditor(workspace, edits), locales[0], drafts);
  const made = mkdirSync(folder, { recursive: true });
  try {
    edits.commit();
  } catch (error) {
    if (made !== undefined) rmSync(made, { recursive: true, force: true });
    throw error;
  }
  return {
    files: [...files.keys()],
    passedOver: workspace.book.passedOver,
    forms: forms.length,
    fields: forms.reduce((sum, { form }) => sum + form.fields.length, 0),
    labels: drafts.length,
  };
}
