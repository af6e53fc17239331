import { afterEach, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { applied, Editor, offsetIn, type TextEdit, type WorkspaceEdit } from '../support/editor.js';
import { copyOf, folderWith, program, zeitwort } from '../support/program.js';

interface Item {
  label: string;
  detail?: string;
  sortText: string;
  data?: object;
  textEdit: TextEdit;
  documentation?: { value: string };
}
interface Action {
  title: string;
  kind: string;
  edit: WorkspaceEdit;
}
interface Place {
  uri: string;
  range: { start: { line: number; character: number } };
}
interface Findings {
  findings: { kind: string; file: string; line: number; column: number; message: string; severity: string }[];
}

const CAN = {
  textDocument: { completion: { completionItem: { snippetSupport: true } } },
  workspace: { workspaceEdit: { documentChanges: true, resourceOperations: ['create', 'delete'] } },
};

const editors: Editor[] = [];
afterEach(() => {
  for (const editor of editors.splice(0)) editor.kill();
});

async function started(folder: string, capabilities: object = CAN, root?: string): Promise<Editor> {
  const editor = new Editor(folder);
  editors.push(editor);
  await editor.start(capabilities, root ?? folder);
  return editor;
}

const SEVERITIES = ['', 'error', 'warning', 'info'];

/** Columns in bytes, where the client counts so. */
const bytesBefore = (line: string, column: number): number => Buffer.byteLength(line.slice(0, column - 1)) + 1;

function foundBy(folder: string, bytes = false): string[] {
  const { findings } = JSON.parse(zeitwort(['check', '--no-cache', '--format', 'json'], folder).out) as Findings;
  const columnOf = ({ file, line, column }: Findings['findings'][number]): number =>
    bytes ? bytesBefore(readFileSync(path.join(folder, file), 'utf8').split('\n')[line - 1] ?? '', column) : column;
  return findings.map((one) => `${one.file}:${one.line}:${columnOf(one)} ${one.severity} ${one.kind} ${one.message}`).sort();
}

const toldBy = ({ diagnostics, folder }: Editor): string[] =>
  [...diagnostics]
    .flatMap(([uri, list]) =>
      list.map(({ range: { start }, severity, code = '', message }) => {
        const file = path.relative(folder, fileURLToPath(uri));
        return `${file}:${start.line + 1}:${start.character + 1} ${SEVERITIES[severity] ?? ''} ${code} ${message}`;
      }),
    )
    .sort();

/** A part of a document that is open: where it begins, and where something in it does. */
const within = (editor: Editor, uri: string, part: string, inner = 0): number =>
  (editor.texts.get(uri) ?? '').indexOf(part) + inner;

async function offered(editor: Editor, uri: string, offset: number): Promise<Item[]> {
  return (await editor.at<{ items: Item[] }>('textDocument/completion', uri, offset)).items;
}

/** What a document is once an item was chosen; its places are marked. */
const chosen = (editor: Editor, uri: string, { textEdit }: Item): string => applied(editor.texts.get(uri) ?? '', [textEdit]);

async function actionsAt(editor: Editor, uri: string, offset: number): Promise<Action[]> {
  const position = editor.position(uri, offset);
  return editor.ask('textDocument/codeAction', {
    ...{ textDocument: { uri }, range: { start: position, end: position }, context: { diagnostics: [] } },
  });
}

describe('findings', () => {
  test.each([['utf-16'], ['utf-8']])('of the broken demo stand where check has them, counted in %s', async (counting) => {
    const folder = copyOf('broken');
    const editor = await started(folder, { ...CAN, general: { positionEncodings: [counting] } });
    editor.open('messages/pl.json');
    await editor.settled();
    expect(toldBy(editor)).toEqual(foundBy(folder, counting === 'utf-8'));
    const all = [...editor.diagnostics.values()].flat();
    expect(all.find(({ code }) => code === 'unused-message')?.tags).toEqual([1]);
    const related = all.find(({ code }) => code === 'argument-mismatch')?.relatedInformation ?? [];
    expect(related.map(({ message }) => message)).toEqual([
      expect.stringMatching(/^The original in en: .*\{min\}/),
      'The rule "minLength"',
    ]);
  });

  test('follow what is typed, in other files too, and what is not saved counts', async () => {
    const folder = copyOf('observatory');
    const editor = await started(folder);
    const [en, de] = ['en', 'de'].map((locale) => editor.open(`messages/${locale}.json`)) as [string, string];
    await editor.settled();
    expect(toldBy(editor)).toEqual(foundBy(folder));
    const before = toldBy(editor).length;
    // The original loses what its translation tells.
    const at = within(editor, en, '{max');
    const end = within(editor, en, '}', 0);
    expect(end).toBeGreaterThan(0);
    editor.type(en, at, at + 4, '{mox');
    await editor.until(() => toldBy(editor).some((line) => line.includes('unknown-argument') && line.includes('{mox}')));
    editor.type(en, at, at + 4, '{max');
    await editor.until(() => toldBy(editor).length === before);
    // Half a message, half a file: each is told of where it breaks, and the other files stay as they are.
    const open = within(editor, de, '{label');
    editor.type(de, open, open, '{');
    await editor.until(() => toldBy(editor).some((line) => line.includes('message-syntax')));
    const quote = within(editor, de, '"messages"');
    editor.type(de, quote, quote + 1, '');
    await editor.until(() => /^This is no JSON: .*\.$/.test(editor.diagnostics.get(de)?.[0]?.message ?? ''));
    expect(editor.diagnostics.get(de)?.length).toBe(1);
    // Given up without being saved: the file on disk holds again.
    editor.notify('textDocument/didClose', { textDocument: { uri: de } });
    await editor.until(() => toldBy(editor).length === before);
  });

  test('of several workspaces that share a catalog, and of files that come, change and go', async () => {
    const rules = (name: string): string => `forms: { ${name}: { fields: { title: { required: true } } } }\n`;
    const folder = folderWith({
      'shared/en.json': { locale: 'en', messages: { required: '{label} is invalid.' }, fields: { title: { label: 'title' } } },
      'one/zeitwort.yaml': 'root: ..\ntexts: [../shared/*.json]\nrules: [rules.yaml]\n',
      'one/rules.yaml': rules('one'),
      'two/zeitwort.yaml': 'root: ..\ntexts: [../shared/*.json, own/*.json]\nrules: [rules.yaml]\n',
      'two/rules.yaml': rules('two'),
    });
    const editor = await started(folder, { ...CAN, workspace: { didChangeWatchedFiles: { dynamicRegistration: true } } });
    const uri = editor.open('shared/en.json');
    await editor.until(() => (editor.diagnostics.get(uri)?.length ?? 0) > 0);
    // What both say of it is said once.
    expect(editor.diagnostics.get(uri)?.map(({ code }) => code)).toEqual(['start-form']);
    expect(editor.asked.map(({ method }) => method)).toContain('client/registerCapability');
    const own = path.join(folder, 'two', 'own', 'en.json');
    mkdirSync(path.dirname(own));
    writeFileSync(own, JSON.stringify({ locale: 'en', messages: { requird: 'x' } }));
    const changes = [{ uri: pathToFileURL(own).href, type: 1 }];
    editor.notify('workspace/didChangeWatchedFiles', { changes });
    await editor.until(
      () => editor.diagnostics.get(changes[0]?.uri ?? '')?.some(({ code }) => code === 'unused-message') ?? false,
    );
    renameSync(own, `${own}.old`);
    editor.notify('workspace/didChangeWatchedFiles', { changes: [{ uri: changes[0]?.uri, type: 3 }] });
    await editor.until(() => editor.diagnostics.get(changes[0]?.uri ?? '')?.length === 0);
    // One that nobody can read.
    writeFileSync(path.join(folder, 'one', 'rules.yaml'), 'forms: [\n');
    const broken = editor.uri('one/rules.yaml');
    editor.notify('workspace/didChangeWatchedFiles', { changes: [{ uri: broken, type: 2 }] });
    await editor.until(() => editor.diagnostics.get(broken)?.length === 1);
    expect(await editor.stop()).toBe(0);
  });
});

describe('completion', () => {
  test('inside of messages: the arguments of this very message, and cases of this language', async () => {
    const editor = await started(copyOf('observatory'));
    const uri = editor.open('messages/pl.json');
    const start = within(editor, uri, '"messages": {') + '"messages": {'.length;
    editor.type(uri, start, start, '\n    "minLength": "{",');
    const at = within(editor, uri, '"minLength": "{",', '"minLength": "{'.length);
    const items = await offered(editor, uri, at);
    expect(items.map(({ label }) => label)).toEqual(
      expect.arrayContaining(['min', 'actual', 'label', 'label_start', 'min, plural, …']),
    );
    expect(items.find(({ label }) => label === 'min')?.detail).toMatch(/^the least number of characters/);
    const plural = items.find(({ label }) => label === 'min, plural, …');
    expect(plural && chosen(editor, uri, plural)).toContain(
      '"minLength": "{min, plural, one {# $1\\} few {# $2\\} many {# $3\\} other {# $4\\}\\}",',
    );
    editor.type(uri, at, at, 'min, plural, one {# znak} ');
    const cases = await offered(editor, uri, at + 'min, plural, one {# znak} '.length);
    expect(cases.map(({ label }) => label).slice(0, 3)).toEqual(['few', 'many', 'other']);
  });

  test('in catalogs: keys that have no text yet come first, with their documentation', async () => {
    const folder = folderWith({
      'zeitwort.yaml': 'languages: [en, de]\n',
      'rules/log.yaml':
        "forms: { log: { fields: { title: { required: true, maxLength: 9 }, 'rows[*].hue': { enum: [red] } } } }\n",
      'messages/de.json':
        '{\n  "locale": "de",\n  "messages": {\n    "required": "x",\n    ""\n  },\n  "fields": {\n    "tit"\n  }\n}\n',
    });
    const editor = await started(folder);
    const uri = editor.open('messages/de.json');
    const [first, ...others] = await offered(editor, uri, within(editor, uri, '    ""', 5));
    expect([first, ...others].map(({ label }: { label?: string } = {}) => label)).toEqual(
      expect.arrayContaining(['maxLength', 'enum']),
    );
    expect(others.map(({ label }) => label)).not.toContain('required');
    expect(first?.detail).toBe('has no text here yet');
    expect(first && chosen(editor, uri, first)).toContain(`    "${first?.label ?? ''}": "$1"\n`);
    const resolved = await editor.ask<Item>(
      'completionItem/resolve',
      others.find(({ label }) => label === 'maxLength') ?? first ?? {},
    );
    expect(resolved.documentation?.value).toMatch(/at most so many characters[\s\S]*`\{max\}`/);
    const paths = await offered(editor, uri, within(editor, uri, '"tit"', 4));
    expect(paths.map(({ label }) => label)).toEqual(['title']);
    expect(paths[0] && chosen(editor, uri, paths[0])).toContain('"title": {$1\\}');
  });

  test('in rule sheets and settings: rules, parameters, fields, forms, kinds, values', async () => {
    const sheet = `forms:
  log:
    request: POST /logs
    fields:
      title: { required: true, m }
      start: { form }
      end: { earliest: { field: st } }
      hue: { format:  }
      code:
        maxLen
`;
    const folder = folderWith({
      'zeitwort.yaml': 'original: en\nlanguages: [en, de]\nbody: { audience:  }\nchecks:\n  vague\nfallbacks: {}\n',
      'rules/log.yaml': sheet,
      'messages/en.json': { locale: 'en' },
    });
    const editor = await started(folder);
    const [uri, settings] = [editor.open('rules/log.yaml'), editor.open('zeitwort.yaml')];
    const labels = async (of: string, part: string, inner: number): Promise<string[]> =>
      (await offered(editor, of, within(editor, of, part, inner))).map(({ label }) => label);
    expect(await labels(uri, 'true, m }', 7)).toEqual(expect.arrayContaining(['maxLength', 'minLength', 'multipleOf']));
    expect(await labels(uri, '{ form }', 6)).toContain('format');
    expect(await labels(uri, 'field: st', 9)).toEqual(['start']);
    expect(await labels(uri, 'format:  }', 8)).toEqual(expect.arrayContaining(['date', 'email']));
    const [written] = await offered(editor, uri, within(editor, uri, 'maxLen\n', 6));
    expect(written && chosen(editor, uri, written)).toContain('        maxLength: $1\n');
    expect(await labels(settings, 'audience:  }', 10)).toEqual(['client', 'developer']);
    expect(await labels(settings, 'vague', 5)).toEqual(['vague-message']);
    expect(await labels(settings, 'fallbacks', 3)).toEqual(['fallbacks']);
  });
});

describe('reading', () => {
  test('hover tells the sentence in every language, who uses it, and what would be said instead', async () => {
    const editor = await started(copyOf('observatory'));
    const [uri, rules] = [editor.open('messages/en.json'), editor.open('rules/observing-proposal.yaml')];
    const hover = async (of: string, offset: number): Promise<string> =>
      (await editor.at<{ contents: { value: string } } | null>('textDocument/hover', of, offset))?.contents.value ?? '';
    const told = await hover(rules, within(editor, rules, 'maxLength:', 2));
    for (const locale of ['en', 'de', 'pl', 'ar', 'ja']) expect(told).toMatch(new RegExp(`\\| ${locale} \\| .{4,} \\|`));
    const key = await hover(uri, within(editor, uri, '"required"', 2));
    expect(key).toMatch(/\*\*required/);
    expect(key).toMatch(/For night-log night, /);
    expect(key).toMatch(/Were it not there, clients would get the text of the starter/);
    expect(await hover(uri, within(editor, uri, '{label', 3))).toMatch(/^`\{label\w*\}`: /);
  });

  test('definitions and references lead from texts to rules and back; symbols name them', async () => {
    const folder = copyOf('observatory');
    const editor = await started(folder);
    const [uri, rules] = [editor.open('messages/de.json'), editor.open('rules/observing-proposal.yaml')];
    const fileOf = ({ uri: one, range }: Place): string => `${path.relative(folder, fileURLToPath(one))}:${range.start.line + 1}`;
    const texts = (await editor.at<Place[]>('textDocument/definition', rules, within(editor, rules, 'required:', 2))).map(fileOf);
    for (const locale of ['en', 'de', 'pl', 'ar', 'ja'])
      expect(texts.some((one) => one.startsWith(`messages/${locale}.json`))).toBe(true);
    const declared = (await editor.at<Place[]>('textDocument/definition', uri, within(editor, uri, '"required"', 2))).map(fileOf);
    expect(declared.every((one) => one.startsWith('rules/'))).toBe(true);
    const used = await editor.at<Place[]>('textDocument/references', uri, within(editor, uri, '"required"', 2), {
      context: { includeDeclaration: true },
    });
    expect(used.length).toBeGreaterThan(declared.length);
    const symbols = await editor.ask<{ name: string }[]>('workspace/symbol', { query: 'targets name required' });
    expect(symbols.map(({ name }) => name)).toContain('required');
    const outline = await editor.ask<{ name: string }[]>('textDocument/documentSymbol', { textDocument: { uri } });
    expect(outline.map(({ name }) => name)).toEqual(expect.arrayContaining(['locale', 'messages', 'fields']));
    const lenses = await editor.ask<{ command: { title: string } }[]>('textDocument/codeLens', { textDocument: { uri: rules } });
    expect(lenses[0]?.command.title).toMatch(/en 100 % · /);
    const range = { start: { line: 0, character: 0 }, end: { line: 40, character: 0 } };
    const hints = await editor.ask<{ tooltip: string }[]>('textDocument/inlayHint', { textDocument: { uri }, range });
    expect(hints.every(({ tooltip }) => tooltip.startsWith('en: '))).toBe(true);
    expect(hints.length).toBeGreaterThan(3);
    const { data } = await editor.ask<{ data: number[] }>('textDocument/semanticTokens/full', { textDocument: { uri } });
    const text = editor.texts.get(uri) ?? '';
    const [line = 0, character = 0, length = 0] = data;
    expect(text.slice(offsetIn(text, { line, character })).slice(0, length)).toMatch(/^[a-z_]+$/);
    const [selected] = await editor.ask<{ range: object; parent?: object }[]>('textDocument/selectionRange', {
      ...{ textDocument: { uri }, positions: [editor.position(uri, within(editor, uri, '{label', 3))] },
    });
    expect(selected?.parent).toBeDefined();
    const folds = await editor.ask<object[]>('textDocument/foldingRange', { textDocument: { uri: rules } });
    expect(folds.length).toBeGreaterThan(1);
  });
});

describe('changing', () => {
  test('quick fixes: what fix mends, the name that was meant, drafts of what is missing', async () => {
    const folder = copyOf('broken');
    const editor = await started(folder);
    const [en, pl, rules] = [
      editor.open('messages/en.json'),
      editor.open('messages/pl.json'),
      editor.open('rules/observing-proposal.yaml'),
    ];
    await editor.settled();
    const take = async (uri: string, part: string, inner: number, title: RegExp): Promise<string[]> => {
      const action = (await actionsAt(editor, uri, within(editor, uri, part, inner))).find((one) => title.test(one.title));
      if (!action) throw new Error(`no ${String(title)} at ${part}`);
      return editor.apply(action.edit);
    };
    await take(en, 'as the  form', 7, /^Mend/);
    expect(editor.texts.get(en)).toContain('as the form shows');
    await take(en, '{target_number}', 2, /^Write "targets_number"/);
    expect(editor.texts.get(en)).toContain('"target {targets_number}"');
    await take(rules, 'maxLenght', 3, /^Write "maxLength"/);
    expect(editor.texts.get(rules)).toContain('maxLength: 120');
    const drafted = await take(rules, 'fits-the-night: { hours', 3, /^Draft the text in pl, from/);
    expect(drafted).toContain(pl);
    expect(editor.texts.get(pl)).toMatch(/"fits-the-night": "/);
    await editor.settled();
    const kinds = toldBy(editor).join('\n');
    for (const gone of ['unknown-rule', 'target_number', 'double space', 'has no text in pl; clients'])
      expect(kinds).not.toContain(gone);
  });

  test('refactorings: a text for all fields, a message laid out', async () => {
    const folder = folderWith({
      'zeitwort.yaml': 'languages: [en, de]\n',
      'rules/log.yaml': 'forms: { log: { fields: { title: { required: true }, notes: { maxLength: 9 } } } }\n',
      'messages/en.json': {
        locale: 'en',
        fields: { title: { label: 'title', messages: { required: 'Give {label }.' } }, notes: { label: 'notes' } },
      },
      'messages/de.json': {
        locale: 'de',
        fields: { title: { label: 'Titel', messages: { required: 'Bitte {label}.' } }, notes: { label: 'Notizen' } },
      },
    });
    const editor = await started(folder);
    const [en, de] = ['en', 'de'].map((locale) => editor.open(`messages/${locale}.json`)) as [string, string];
    const actions = await actionsAt(editor, en, within(editor, en, 'Give', 1));
    expect(actions.map(({ title }) => title)).toEqual([
      'Lay out this message',
      'Make this the text of "required" for all fields',
    ]);
    editor.apply(actions[0]?.edit ?? {});
    expect(editor.texts.get(en)).toContain('"Give {label}."');
    const [, extract] = ['', ...(await actionsAt(editor, en, within(editor, en, 'Give', 1)))];
    editor.apply((extract as Action).edit);
    for (const uri of [en, de]) {
      const { messages, fields } = JSON.parse(editor.texts.get(uri) ?? '') as { messages: object; fields: { title: object } };
      expect(messages).toHaveProperty('required');
      expect(fields.title).not.toHaveProperty('messages.required');
    }
  });

  test('a field renamed over five languages, and undone; names that cannot be are refused', async () => {
    const folder = copyOf('observatory');
    const editor = await started(folder);
    const rules = editor.open('rules/observing-proposal.yaml');
    const before = editor.texts.get(rules) ?? '';
    const at = within(editor, rules, 'abstract:', 2);
    const asked = await editor.at<{ placeholder: string }>('textDocument/prepareRename', rules, at);
    expect(asked.placeholder).toBe('abstract');
    const edit = await editor.at<WorkspaceEdit>('textDocument/rename', rules, at, { newName: 'summary' });
    const touched = editor.apply(edit).map((uri) => path.basename(uri));
    expect(touched.sort()).toEqual(['ar.json', 'de.json', 'en.json', 'ja.json', 'observing-proposal.yaml', 'pl.json']);
    for (const [uri, text] of editor.texts) writeFileSync(new URL(uri), text);
    expect(zeitwort(['check', '--no-cache'], folder).out).not.toMatch(/abstract/);
    editor.type(rules, 0, editor.texts.get(rules)?.length ?? 0, before);
    await editor.settled();
    expect(toldBy(editor).join('\n')).toMatch(/summary/);
    await expect(editor.at('textDocument/rename', rules, at, { newName: 'title' })).rejects.toThrow(
      /there (?:is|already)|already/,
    );
    const rule = within(editor, rules, 'required:', 2);
    expect(await editor.at('textDocument/prepareRename', rules, rule)).toBeNull();
    await expect(editor.at('textDocument/rename', rules, rule, { newName: 'needed' })).rejects.toThrow(/keeps it/);
  });

  test('a language drafted from its lens, in a file that the client writes', async () => {
    const folder = folderWith({
      'zeitwort.yaml': 'languages: [en, de]\nstarter: false\n',
      'rules/log.yaml': 'forms: { log: { fields: { title: { external: { fits: {} } } } } }\n',
      'messages/en.json': { locale: 'en', messages: { fits: '{label} does not fit.' }, fields: { title: { label: 'title' } } },
      'messages/de.json': { locale: 'de' },
    });
    const editor = await started(folder);
    const de = editor.open('messages/de.json');
    const [lens] = await editor.ask<{ command: { title: string; command: string; arguments: unknown[] } }[]>(
      'textDocument/codeLens',
      {
        textDocument: { uri: de },
      },
    );
    expect(lens?.command.title).toMatch(/^de: 2 of 2 rules have no text; draft them$/);
    await editor.ask('workspace/executeCommand', lens?.command ?? {});
    const [wanted] = editor.asked.filter(({ method }) => method === 'workspace/applyEdit');
    editor.apply((wanted?.params as { edit: WorkspaceEdit }).edit);
    expect(JSON.parse(editor.texts.get(de) ?? '')).toMatchObject({ messages: { fits: '{label} does not fit.' } });
  });
});

test('a real editor drives it: findings, an argument, a fix, a renaming over five languages, and undo', () => {
  const [broken, whole] = [copyOf('broken'), copyOf('observatory')];
  const out = path.join(broken, 'told.jsonl');
  const script = path.join(__dirname, '..', 'support', 'editor.lua');
  const { status, stderr, error } = spawnSync('nvim', ['--headless', '--clean', '-c', `luafile ${script}`], {
    ...{ cwd: broken, encoding: 'utf8', timeout: 90_000 },
    env: { ...process.env, ZEITWORT_TEST: [process.execPath, program, broken, whole, out].join('|') },
  });
  expect([error, status, stderr]).toEqual([undefined, 0, expect.anything()]);
  const lines = readFileSync(out, 'utf8')
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { what: string; value: unknown });
  const told = Object.fromEntries(lines.map(({ what, value }) => [what, value]));
  const found = (JSON.parse(zeitwort(['check', '--no-cache', '--format', 'json'], copyOf('broken')).out) as Findings).findings;
  expect(told.findings).toEqual(found.map(({ file, line, message }) => `${path.basename(file)}:${line} ${message}`).sort());
  expect(told.completion).toEqual(expect.arrayContaining(['min', 'actual', 'label_start']));
  expect(told.completed).toContain('{actual, plural,');
  expect(told.actions).toEqual(expect.arrayContaining([expect.stringMatching(/^Mend/)]));
  expect(told.fixed).toContain('as the form shows');
  expect(told.hover).toContain('No rule uses this text.');
  expect(told.renamed).toEqual(['ar.json', 'de.json', 'en.json', 'ja.json', 'observing-proposal.yaml', 'pl.json']);
  expect(told).toMatchObject({ undone: true });
  expect(told).not.toHaveProperty('error');
});
