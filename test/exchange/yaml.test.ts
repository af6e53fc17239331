import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { documentOf } from '../../src/workspace/documents/yaml.js';
import { quickYaml } from '../../src/workspace/documents/quick-yaml.js';

const root = path.join(__dirname, '..', '..');

/** What the parser with positions reads; nothing where it finds fault. */
function slow(text: string): { readonly value: unknown } | undefined {
  const document = documentOf(text);
  if (document.errors.length > 0) return undefined;
  try {
    return { value: document.toJS() };
  } catch {
    // An alias of nothing.
    return undefined;
  }
}

const FILES = ['demo', 'test', 'examples'].flatMap((folder) =>
  readdirSync(path.join(root, folder), { recursive: true, encoding: 'utf8' })
    .filter((file) => /\.ya?ml$/.test(file))
    .map((file) => path.join(root, folder, file)),
);
const READ = FILES.map((file) => [file, readFileSync(file, 'utf8')] as const).filter(
  ([, text]) => !/: &\w/.test(text),
);
const TEXTS = READ.map(([, text]) => text);

const SCALARS =
  "0o17 012 1_000 +1 -0 .5 5. 1e3 1E-2 -.5e+1 0x1F -0x1 0b11 .inf -.INF .NaN .nan 2027-01-01 12:30:45 << yes no on off Y n True TRUE tRUE null Null NULL ~ '' \"\" \"a\\u0041\\n\" 'it''s' a#b a:b ?x -x @x `x x%y 1.2.3 00 9007199254740993 1e999 \"1\" 'true' =";

describe('what the quick parser reads is what the one with positions reads', () => {
  test('our own files, each by the quick one', () => {
    expect(FILES.length).toBeGreaterThan(8);
    for (const [file, text] of READ)
      if (text.length < 10_000) expect([file, quickYaml(text)]).toEqual([file, slow(text)]);
  });

  test.each(SCALARS.split(' '))('%s', (scalar) => {
    for (const text of [`a: ${scalar}\n`, `- ${scalar}\n`, `{ a: ${scalar} }`, `${scalar}: 1\n`]) {
      const quick = quickYaml(text);
      if (quick) expect([text, quick]).toEqual([text, slow(text)]);
    }
  });

  test.each([
    'a: &x { b: 1 }\nc: *x\n',
    '%YAML 1.1\n---\na: yes\n',
    'a: 1\n---\nb: 2\n',
    '? [a, b]\n: 1\n',
    '[a, b]: 1\n',
    '~: 1\n',
    ': 1\n',
    '{ : 1 }\n',
    '[:, a]\n',
    '{ a: 1, !: 2 }\n',
    'a: 1\na: 2\n',
    'a: !!set { x, y }\n',
    'a: !own 1\n',
    'a: [1, 2\n',
    'a: [1, 2]# x\n',
    'a: "x\n',
    '',
    '# nothing\n',
    'null\n',
    '<<<<<<< ours\na: 1\n=======\na: 2\n>>>>>>> theirs\n',
  ])('%j is left to the other', (text) => {
    expect(quickYaml(text)).toBeUndefined();
  });

  test.each([
    'a: |\n  one\n   two\n\n  three\n\nb: >-\n  folded\n  text\n\n  more\nc: |+2\n    x\n\n',
    'a: one\n  two\n\n  three\nb: "x\n  y\n\n  z"\n',
    '- - 1\n  - 2\n-\n  a: 1\n  b:\n  - x\n  - y\n- {a: 1, b: [x, {c: d}], "e": f}\n',
    'targets[*]: { type: array }\n"..email": x\nnotes.*: y\n\'a b\': "\\x41\\u263a\\/"\n',
    '---\na: 1\n...\n',
    '\ufeffa: 1\r\nb: 2\r\n',
    'a: **bold** text\nb: x !y\nc: a & b\n# comment: &x\nd: http://x.example/#y # comment\n',
    '__proto__: 1\nconstructor: { __proto__: 2 }\n',
    '1: a\ntrue: b\n1.50: c\n0x10: d\n',
  ])('%j', (text) => {
    expect(quickYaml(text) ?? slow(text)).toEqual(slow(text));
  });

  test('changed at random, a text that both read says the same', () => {
    const signs = fc.constantFrom(...' \n:-[]{},#"\'|>?&*!%@~0ab.\t'.split(''));
    fc.assert(
      fc.property(
        fc.constantFrom(...TEXTS.map((text) => text.slice(0, 900))),
        fc.array(fc.tuple(fc.nat(900), fc.nat(3), fc.array(signs, { maxLength: 3 })), {
          minLength: 1,
          maxLength: 3,
        }),
        (text, edits) => {
          const changed = edits.reduce(
            (now, [at, gone, come]) => now.slice(0, at) + come.join('') + now.slice(at + gone),
            text,
          );
          const [quick, other] = [quickYaml(changed), slow(changed)];
          // The quick one bears a flow map whose lines stand too far left, and spells a list that
          // is a name otherwise, which nobody means.
          const isOdd = /"[[{] [^"]* [\]}]":/.test(JSON.stringify(other?.value ?? ''));
          if (quick && other && !isOdd) expect(quick).toEqual(other);
        },
      ),
      { numRuns: process.env.CI === undefined ? 500 : 3000 },
    );
  });
});
