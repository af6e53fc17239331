import { describe, expect, test } from '@jest/globals';
import { mkdirSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import type { WorkspaceEdit } from '../support/editor.js';
import { copyOf, folderWith, zeitwort } from '../support/program.js';
import {
  type Action,
  actionsAt,
  CAN,
  foundBy,
  started,
  toldBy,
  within,
} from '../support/editing.js';

describe('findings', () => {
  test.each([['utf-16'], ['utf-8']])(
    'of the broken demo stand where check has them, counted in %s',
    async (counting) => {
      const folder = copyOf('broken');
      const editor = await started(folder, { ...CAN, general: { positionEncodings: [counting] } });
      editor.open('messages/pl.json');
      await editor.settled();
      expect(toldBy(editor)).toEqual(foundBy(folder, counting === 'utf-8'));
      const all = [...editor.diagnostics.values()].flat();
      expect(all.find(({ code }) => code === 'unused-message')?.tags).toEqual([1]);
      const related =
        all.find(({ code }) => code === 'argument-mismatch')?.relatedInformation ?? [];
      expect(related.map(({ message }) => message)).toEqual([
        expect.stringMatching(/^The original in en: .*\{min\}/),
        'The rule "minLength"',
      ]);
    },
  );

  test('follow what is typed, in other files too, and what is not saved counts', async () => {
    const folder = copyOf('observatory');
    // A client that has no folder open, only files.
    const editor = await started(folder, CAN, null);
    const [en, de] = ['en', 'de'].map((locale) => editor.open(`messages/${locale}.json`)) as [
      string,
      string,
    ];
    await editor.settled();
    expect(toldBy(editor)).toEqual(foundBy(folder));
    const before = toldBy(editor).length;
    // The original loses what its translation tells.
    const at = within(editor, en, '{max');
    const end = within(editor, en, '}', 0);
    expect(end).toBeGreaterThan(0);
    editor.type(en, at, at + 4, '{mox');
    await editor.until(() =>
      toldBy(editor).some((line) => line.includes('unknown-argument') && line.includes('{mox}')),
    );
    editor.type(en, at, at + 4, '{max');
    await editor.until(() => toldBy(editor).length === before);
    // Half a message, half a file: each is told of where it breaks, and the other files stay as
    // they are.
    const open = within(editor, de, '{label');
    editor.type(de, open, open, '{');
    await editor.until(() => toldBy(editor).some((line) => line.includes('message-syntax')));
    const quote = within(editor, de, '"messages"');
    editor.type(de, quote, quote + 1, '');
    await editor.until(() =>
      /^Invalid JSON: .*\.$/.test(editor.diagnostics.get(de)?.[0]?.message ?? ''),
    );
    expect(editor.diagnostics.get(de)?.length).toBe(1);
    // Given up without being saved: the file on disk holds again.
    editor.notify('textDocument/didClose', { textDocument: { uri: de } });
    await editor.until(() => toldBy(editor).length === before);
  });

  test('are told at once where the file alone is enough, and all of them on a pause', async () => {
    const folder = copyOf('broken');
    const editor = await started(folder);
    const pl = editor.open('messages/pl.json');
    await editor.settled();
    const [before, checks] = [toldBy(editor), editor.checks];
    const at = within(editor, pl, '{label');
    editor.type(pl, at, at, '{');
    const isBroken = (line: string): boolean =>
      line.startsWith('messages/pl.json') && / message-syntax /.test(line);
    await editor.until(
      () => toldBy(editor).filter(isBroken).length > before.filter(isBroken).length,
    );
    expect(editor.checks).toBe(checks);
    // What only a check of everything finds stays as it was until then.
    const others = (lines: string[]): string[] =>
      lines.filter((line) => / (?:stale|missing|unused)-?/.test(line));
    expect(others(toldBy(editor)).length).toBe(others(before).length);
    writeFileSync(new URL(pl), editor.texts.get(pl) ?? '');
    await editor.settled();
    expect(toldBy(editor)).toEqual(foundBy(folder));
  });

  test('of several workspaces that share a catalog, and of files that come, change and go', async () => {
    const rules = (name: string): string =>
      `forms: { ${name}: { fields: { title: { required: true } } } }\n`;
    const folder = folderWith({
      'shared/en.json': {
        locale: 'en',
        messages: { required: '{label} is invalid.' },
        fields: { title: { label: 'title' } },
      },
      'one/zeitwort.yaml': 'root: ..\ntexts: [../shared/*.json]\nrules: [rules.yaml]\n',
      'one/rules.yaml': rules('one'),
      'two/zeitwort.yaml': 'root: ..\ntexts: [../shared/*.json, own/*.json]\nrules: [rules.yaml]\n',
      'two/rules.yaml': rules('two'),
    });
    const editor = await started(folder, {
      ...CAN,
      workspace: { didChangeWatchedFiles: { dynamicRegistration: true } },
    });
    const uri = editor.open('shared/en.json');
    await editor.until(() => (editor.diagnostics.get(uri)?.length ?? 0) > 0);
    // What both say of it is said once.
    expect(editor.diagnostics.get(uri)?.map(({ code }) => code)).toEqual(['start-inflection']);
    expect(editor.asked.map(({ method }) => method)).toContain('client/registerCapability');
    const own = path.join(folder, 'two', 'own', 'en.json');
    mkdirSync(path.dirname(own));
    writeFileSync(own, JSON.stringify({ locale: 'en', messages: { requird: 'x' } }));
    const changes = [{ uri: pathToFileURL(own).href, type: 1 }];
    editor.notify('workspace/didChangeWatchedFiles', { changes });
    await editor.until(
      () =>
        editor.diagnostics
          .get(changes[0]?.uri ?? '')
          ?.some(({ code }) => code === 'unused-message') ?? false,
    );
    renameSync(own, `${own}.old`);
    editor.notify('workspace/didChangeWatchedFiles', {
      changes: [{ uri: changes[0]?.uri, type: 3 }],
    });
    await editor.until(() => editor.diagnostics.get(changes[0]?.uri ?? '')?.length === 0);
    // One that nobody can read.
    writeFileSync(path.join(folder, 'one', 'rules.yaml'), 'forms: [\n');
    const broken = editor.uri('one/rules.yaml');
    editor.notify('workspace/didChangeWatchedFiles', { changes: [{ uri: broken, type: 2 }] });
    await editor.until(() => editor.diagnostics.get(broken)?.length === 1);
    expect(await editor.stop()).toBe(0);
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
    const take = async (
      uri: string,
      part: string,
      inner: number,
      title: RegExp,
    ): Promise<string[]> => {
      const action = (await actionsAt(editor, uri, within(editor, uri, part, inner))).find((one) =>
        title.test(one.title),
      );
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
    for (const gone of [
      'unknown-rule',
      'target_number',
      'double space',
      'has no text in pl; clients',
    ])
      expect(kinds).not.toContain(gone);
  });

  test('refactorings: a text for all fields, a message laid out', async () => {
    const folder = folderWith({
      'zeitwort.yaml': 'locales: [en, de]\n',
      'rules/log.yaml':
        'forms: { log: { fields: { title: { required: true }, notes: { maxLength: 9 } } } }\n',
      'messages/en.json': {
        locale: 'en',
        fields: {
          title: { label: 'title', messages: { required: 'Give {label }.' } },
          notes: { label: 'notes' },
        },
      },
      'messages/de.json': {
        locale: 'de',
        fields: {
          title: { label: 'Titel', messages: { required: 'Bitte {label}.' } },
          notes: { label: 'Notizen' },
        },
      },
    });
    const editor = await started(folder);
    const [en, de] = ['en', 'de'].map((locale) => editor.open(`messages/${locale}.json`)) as [
      string,
      string,
    ];
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
      const { messages, fields } = JSON.parse(editor.texts.get(uri) ?? '') as {
        messages: object;
        fields: { title: object };
      };
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
    const edit = await editor.at<WorkspaceEdit>('textDocument/rename', rules, at, {
      newName: 'summary',
    });
    const touched = editor.apply(edit).map((uri) => path.basename(uri));
    expect(touched.sort()).toEqual([
      'ar.json',
      'de.json',
      'en.json',
      'ja.json',
      'observing-proposal.yaml',
      'pl.json',
    ]);
    for (const [uri, text] of editor.texts) writeFileSync(new URL(uri), text);
    expect(zeitwort(['check', '--no-cache'], folder).out).not.toMatch(/abstract/);
    editor.type(rules, 0, editor.texts.get(rules)?.length ?? 0, before);
    await editor.until(() => toldBy(editor).some((line) => line.includes('summary')));
    await expect(editor.at('textDocument/rename', rules, at, { newName: 'title' })).rejects.toThrow(
      /there (?:is|already)|already/,
    );
    const rule = within(editor, rules, 'required:', 2);
    expect(await editor.at('textDocument/prepareRename', rules, rule)).toBeNull();
    await expect(
      editor.at('textDocument/rename', rules, rule, { newName: 'needed' }),
    ).rejects.toThrow(/keeps it/);
  });

  test('a language drafted from its lens, in a file that the client writes', async () => {
    const folder = folderWith({
      'zeitwort.yaml': 'locales: [en, de]\nstarter: false\n',
      'rules/log.yaml': 'forms: { log: { fields: { title: { external: { fits: {} } } } } }\n',
      'messages/en.json': {
        locale: 'en',
        messages: { fits: '{label} does not fit.' },
        fields: { title: { label: 'title' } },
      },
      'messages/de.json': { locale: 'de' },
    });
    const editor = await started(folder);
    const de = editor.open('messages/de.json');
    await editor.settled();
    const [lens] = await editor.ask<
      { command: { title: string; command: string; arguments: unknown[] } }[]
    >('textDocument/codeLens', {
      textDocument: { uri: de },
    });
    expect(lens?.command.title).toMatch(/^de: 2 of 2 rules have no text; draft them$/);
    await editor.ask('workspace/executeCommand', lens?.command ?? {});
    const [wanted] = editor.asked.filter(({ method }) => method === 'workspace/applyEdit');
    editor.apply((wanted?.params as { edit: WorkspaceEdit }).edit);
    expect(JSON.parse(editor.texts.get(de) ?? '')).toMatchObject({
      messages: { fits: '{label} does not fit.' },
    });
  });
});
