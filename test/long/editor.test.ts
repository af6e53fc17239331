import { afterAll, describe, expect, test } from '@jest/globals';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { Editor, offsetIn, type Diagnostic, type Range } from '../support/editor.js';
import { copyOf, zeitwort } from '../support/program.js';
import {
  mutated,
  oneOf,
  randomFrom,
  ROUNDS,
  SEED,
  type Random,
  sampled,
} from '../support/torture.js';

/** What is typed in catalogs and sheets, whole and in halves. */
const PIECES = [
  '{',
  '}',
  '"',
  '""',
  ',',
  ':',
  '\n',
  ' ',
  '  ',
  '\\',
  '[',
  ']',
  '#',
  '…',
  '😀',
  '\r\n',
  '\t',
  "'",
  "''",
  '{label}',
  '{min, plural, one {#} other {#}}',
  '{nested, select, yes {',
  '{max',
  'is invalid',
  'title',
  '"required": "x",',
  '"messages": {',
  '"fields": { "title": { "label": "' /* half of it */,
  'required: true',
  'maxLength: 3',
  'targets[*]',
];

const REQUESTS = ['completion', 'hover', 'definition', 'references', 'prepareRename'];
const WHOLE = ['codeLens', 'semanticTokens/full'];

interface Findings {
  findings: { kind: string; file: string; line: number; column: number; message: string }[];
}

const isRange = (value: unknown): value is Range =>
  typeof value === 'object' && value !== null && 'start' in value && 'end' in value;

/** The places of an answer that are in the document itself lie in it. */
function expectInside(value: unknown, text: string): void {
  if (typeof value !== 'object' || value === null) return;
  if (isRange(value)) {
    const [start, end] = [offsetIn(text, value.start), offsetIn(text, value.end)];
    if (start < 0 || end > text.length || start > end)
      throw new Error(`a wrong position: ${JSON.stringify(value)}`);
  }
  for (const inner of Object.values(value)) expectInside(inner, text);
}

async function edit(editor: Editor, uri: string, random: Random): Promise<void> {
  const text = editor.texts.get(uri) ?? '';
  const at = random(text.length + 1);
  // Not between the halves of a character, where no editor types.
  const from = /[\uDC00-\uDFFF]/.test(text[at] ?? '') ? at - 1 : at;
  switch (random(4)) {
    case 0:
      editor.type(uri, from, Math.min(text.length, from + random(3)), '');
      break;
    case 1:
      // Undone in the next moment, as a slip is.
      editor.type(uri, from, from, oneOf(random, PIECES));
      editor.type(uri, 0, editor.texts.get(uri)?.length ?? 0, text);
      break;
    default:
      editor.type(uri, from, from, oneOf(random, PIECES));
  }
  if (random(5) === 0) await new Promise((resolve) => setTimeout(resolve, random(20)));
}

async function ask(editor: Editor, uri: string, random: Random): Promise<void> {
  const text = editor.texts.get(uri) ?? '';
  const at = random(text.length + 1);
  const position = editor.position(uri, at);
  const told = async (method: string, more: object): Promise<void> => {
    const asked = editor.ask(`textDocument/${method}`, { textDocument: { uri }, ...more });
    if (random(8) === 0) editor.cancelLast();
    let answer: unknown;
    try {
      answer = await asked;
    } catch (error) {
      const { message } = error as Error;
      // What was cancelled, or cannot be done, is told in a sentence.
      if (/Request \S+ failed|is not a function|undefined|\n\s+at /.test(message)) throw error;
      return;
    }
    if (!/definition|references/.test(method)) expectInside(answer, text);
  };
  switch (random(6)) {
    case 0:
      return told(oneOf(random, WHOLE), {});
    case 1:
      return told('codeAction', {
        range: { start: position, end: position },
        context: { diagnostics: [] },
      });
    case 2:
      return told('inlayHint', { range: { start: { line: 0, character: 0 }, end: position } });
    case 3:
      return told('selectionRange', { positions: [position] });
    default:
      return told(oneOf(random, REQUESTS), { position });
  }
}

const told = (findings: Diagnostic[], file: string): string[] =>
  findings.map(
    ({ code, range: { start }, message }) =>
      `${file}:${start.line + 1}:${start.character + 1} ${code ?? ''} ${message}`,
  );

/** All that the server tells, by the places that `check` names. */
function toldBy(editor: Editor): string[] {
  return [...editor.diagnostics]
    .flatMap(([uri, findings]) => told(findings, path.relative(editor.folder, fileURLToPath(uri))))
    .sort();
}

const checked = (folder: string): string[] =>
  (
    JSON.parse(zeitwort(['check', '--no-cache', '--format', 'json'], folder).out) as Findings
  ).findings
    .map(({ file, line, column, kind, message }) => `${file}:${line}:${column} ${kind} ${message}`)
    .sort();

/** Puts files that cannot be read back as they were, until all can be. */
async function mend(editor: Editor, before: ReadonlyMap<string, string>): Promise<void> {
  for (let tries = 0; tries < 2 * before.size; tries++) {
    for (const [uri, text] of editor.texts) writeFileSync(new URL(uri), text);
    const { code, err } = zeitwort(['check', '--no-cache', '--fail-on', 'never'], editor.folder);
    if (code === 0) return;
    const [, file = '', sentence = ''] = /^zeitwort: (.*?)(?::\d+){0,2}: (.*)\.\n/.exec(err) ?? [];
    const uri = editor.uri(file);
    await editor.settled();
    // The same sentence, where it cannot be read.
    expect(editor.diagnostics.get(uri)?.map(({ message }) => message.toLowerCase())).toEqual([
      `${sentence}.`.toLowerCase(),
    ]);
    editor.type(uri, 0, editor.texts.get(uri)?.length ?? 0, before.get(uri) ?? '');
  }
}

function memoryOf(pid: number): number {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  return Number(/VmRSS:\s+(\d+)/.exec(status)?.[1]) / 1024;
}

const editors: Editor[] = [];
afterAll(() => {
  for (const editor of editors) editor.kill();
});

describe('an editor that types anything, and asks at any place', () => {
  test.each(sampled(['observatory', 'broken'] as const))(
    'in %s: nothing fails, and what is told in the end is what check finds',
    async (which) => {
      const folder = copyOf(which);
      const editor = new Editor(folder);
      editors.push(editor);
      await editor.start({
        textDocument: { completion: { completionItem: { snippetSupport: true } } },
      });
      const files = which === 'broken' ? ['en', 'de', 'pl'] : ['en', 'de', 'ja'];
      const rules =
        which === 'broken' ? 'rules/visitor-pass.yaml' : 'rules/observing-proposal.yaml';
      const uris = [
        ...files.map((locale) => `messages/${locale}.json`),
        rules,
        'zeitwort.yaml',
      ].map((file) => editor.open(file));
      const before = new Map(editor.texts);
      await editor.settled();
      expect(toldBy(editor)).toEqual(checked(folder));
      const random = randomFrom(SEED + which.length);
      let halfway = 0;
      const steps = 150 * ROUNDS;
      for (let step = 0; step < steps; step++) {
        const uri = uris[random(10) < 8 ? random(files.length) : random(uris.length)] ?? '';
        if (random(3) > 0) await edit(editor, uri, random);
        else await ask(editor, uri, random);
        // Now and then what is broken is put right, and other things are.
        if (step % 50 === 49)
          editor.type(
            uri,
            0,
            editor.texts.get(uri)?.length ?? 0,
            random(2) === 0
              ? (before.get(uri) ?? '')
              : mutated(before.get(uri) ?? '', random, PIECES),
          );
        if (step === Math.floor(steps / 2)) halfway = memoryOf(editor.pid);
      }
      await mend(editor, before);
      await editor.settled();
      expect(toldBy(editor)).toEqual(checked(folder));
      if (steps > 1000) expect(memoryOf(editor.pid)).toBeLessThan(1.5 * halfway + 60);
      expect(editor.errors).toBe('');
      expect(await editor.stop()).toBe(0);
    },
    60_000 * Math.max(1, ROUNDS),
  );
});
