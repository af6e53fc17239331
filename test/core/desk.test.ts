import { describe, expect, test } from '@jest/globals';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { Desk } from '../../src/core/desk/desk.js';
import { chipsOf, lineOf, textOf, type Line } from '../../src/core/desk/parts.js';
import { DESK_WORDS } from '../../src/core/desk/words.js';
import { parseLocale } from '../../src/core/locale/tag.js';
import { readMessage } from '../../src/core/message/parse.js';
import { printMessage } from '../../src/core/message/print.js';
import { argumentsOf } from '../../src/core/message/tree.js';
import { SampleSayer } from '../../src/core/desk/said.js';
import { newSentences } from '../../src/workspace/answering/answering.js';
import { deskData } from '../../src/workspace/editing/desk-data.js';
import { unitsFor } from '../../src/workspace/editing/exporting.js';
import { Workspace } from '../../src/workspace/reading/workspace.js';
import { copyOf } from '../support/program.js';

const root = path.join(__dirname, '../..');
const starters = readdirSync(path.join(root, 'src/starter'));

function textsIn(value: unknown): string[] {
  if (typeof value === 'string') return [value];
  return typeof value === 'object' && value !== null ? Object.values(value).flatMap(textsIn) : [];
}

describe('words and chips', () => {
  test.each(starters)('messages of %s become them and come back', (file) => {
    const locale = parseLocale(path.basename(file, '.json'));
    const value = JSON.parse(readFileSync(path.join(root, 'src/starter', file), 'utf8')) as object;
    for (const text of textsIn(value)) {
      const tree = readMessage(text);
      expect(textOf(lineOf(tree, locale))).toBe(printMessage(tree));
    }
  });

  test('what was typed is never read as syntax', () => {
    const line: Line = [
      "it’s {a} # 'b' <",
      ...chipsOf(readMessage('{n, plural, one {#} other {# s}}'), parseLocale('pl')),
    ];
    const [, choice] = line;
    if (typeof choice !== 'object' || choice.kind === 'value') throw new Error('no choice');
    expect(choice.rows.map(({ selector }) => selector)).toEqual(['one', 'few', 'many', 'other']);
    for (const row of choice.rows) if (row.selector !== 'few') row.line = ['# {x}'];
    expect(textOf(line)).toBe(
      "it’s '{'a'}' # ''b'' <{n, plural, one {'#' '{'x'}'} many {'#' '{'x'}'} other {'#' '{'x'}'}}",
    );
  });
});

describe('what a translator’s page says itself', () => {
  const names = readdirSync(path.join(root, 'src/words')).filter((file) => file.endsWith('.json'));

  test('is there in every language that has a starter', () => {
    expect(names).toEqual(starters);
  });

  test.each(names)('%s', (file) => {
    const words = JSON.parse(readFileSync(path.join(root, 'src/words', file), 'utf8')) as Record<
      string,
      string
    >;
    expect(Object.keys(words)).toEqual(Object.keys(DESK_WORDS));
    for (const [word, names] of Object.entries(DESK_WORDS))
      expect([word, ...argumentsOf(readMessage(words[word] ?? '')).keys()]).toEqual([
        word,
        ...names,
      ]);
  });
});

describe.each([
  ['observatory', 'pl'],
  ['observatory', 'ar'],
  ['broken', 'de'],
  ['small', 'de'],
] as const)('a desk for %s in %s', (name, tag) => {
  const workspace = Workspace.open(copyOf(name));
  const locale = parseLocale(tag);
  const data = deskData(workspace, locale, unitsFor(workspace, locale));
  const desk = new Desk(JSON.parse(JSON.stringify(data)) as typeof data);
  const sayer = new SampleSayer((form) => newSentences(workspace, workspace.form(form)));
  const nothing = new Map<string, string>();

  test('says what the workspace says, of all texts as they are', () => {
    let count = 0;
    for (const text of desk.data.texts) {
      const { key, target, address } = text;
      if (target === undefined || address.kind === 'problem' || address.kind === 'message')
        continue;
      const said = desk.look(key, target, nothing).sentences;
      const rows = desk.rowsOf(text);
      for (const { text: sentence, form, path: at } of said.filter(
        (one) => one.path !== undefined,
      )) {
        const own = rows.filter((row) => row.form.id === form && row.field.path === at);
        expect(own.map((row) => sayer.said(row, locale))).toContain(sentence);
        count += 1;
      }
    }
    expect(count).toBeGreaterThan(name === 'observatory' ? 30 : 0);
  });

  test('a text that was typed is said, and so is what goes with it', () => {
    const label = desk.data.texts.find(
      ({ address: { kind, key }, isInflection }) => kind === 'label' && key === '' && !isInflection,
    );
    if (!label) throw new Error('no label');
    const { sentences } = desk.look(label.key, 'Zzz', nothing);
    expect(sentences.map(({ text }) => text).join()).toContain('Zzz');
    // Another text is looked at with it.
    const message = desk.data.texts.find(({ address: { kind } }) => kind === 'message');
    if (!message) throw new Error('no message');
    const at = desk.look(message.key, '{label}.', nothing).sentences.find((one) => one.path);
    const its = desk.data.texts.find(
      ({ address: { kind, key, path: field } }) =>
        kind === 'label' && key === '' && field === at?.path,
    );
    desk.forget();
    const typed = new Map(its ? [[its.key, 'Zzz']] : []);
    const all = desk.look(message.key, '{label}.', typed).sentences.map((one) => one.text);
    expect(all.includes('Zzz.')).toBe(its !== undefined);
  });
});
