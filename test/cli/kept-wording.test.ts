// Whatever is run over a workspace, no wording of it goes without being printed.
import { expect, test } from '@jest/globals';
import { readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { parse } from 'jsonc-parser';
import { copyOf, textOf, zeitwort } from '../support/program.js';
import { oneOf, randomFrom, ROUNDS, SEED, type Random } from '../support/torture.js';

const squeezed = (text: string): string => text.replace(/\s+/g, '');

/**
 * The texts of all catalogs, by language: what stands between arguments, since `fix` adds cases of
 * plurals, and without spaces, since it mends these.
 */
function wording(folder: string): Set<string> {
  const found = new Set<string>();
  for (const file of readdirSync(path.join(folder, 'messages'), { recursive: true })) {
    if (!String(file).endsWith('.json')) continue;
    const root = parse(textOf(folder, `messages/${String(file)}`)) as { locale: string };
    const collect = (value: unknown): void => {
      if (typeof value === 'string')
        for (const piece of value.split(/[{}#]/)) found.add(`${root.locale} ${squeezed(piece)}`);
      else if (typeof value === 'object' && value !== null) Object.values(value).forEach(collect);
    };
    collect(root);
  }
  return found;
}

/** Somebody types a name wrong, in one catalog. */
function misspell(folder: string, random: Random): void {
  const file = `messages/${oneOf(random, ['de', 'pl'])}.json`;
  const name = oneOf(random, ['semester', 'nights', 'guests', 'required', 'abstract', 'maximum']);
  const wrong = name.slice(0, 2) + (name[3] ?? '') + (name[2] ?? '') + name.slice(4);
  writeFileSync(path.join(folder, file), textOf(folder, file).replace(`"${name}"`, `"${wrong}"`));
}

/** What a translator sends back: some of it changed, dropped or in another order. */
function translatorsReturn(folder: string, random: Random): string {
  const locale = oneOf(random, ['de', 'pl']);
  const sent = zeitwort(
    ['export', '--format', 'properties', '--locale', locale, '--out', '-'],
    folder,
  ).out;
  const lines = sent.split('\n').map((line) => {
    if (!line.startsWith('|') || random(4) > 0) return line;
    return oneOf(random, [line.replace(/=.*/, '='), line.replace(/(\p{L})(\p{L})/u, '$2$1'), '']);
  });
  const all = random(2) === 0 ? lines : lines.toReversed();
  writeFileSync(path.join(folder, 'back.properties'), all.join('\n'));
  return locale;
}

test('no text is gone after any command, unless it was printed', () => {
  const random = randomFrom(SEED);
  for (let round = 0; round < 3 * ROUNDS; round++) {
    const folder = copyOf(oneOf(random, ['observatory', 'broken']));
    const done: string[] = [];
    for (let step = 0; step < 6; step++) {
      if (random(2) === 0) misspell(folder, random);
      const command = oneOf<() => string[]>(random, [
        () => ['fix'],
        () => ['fix', '--sort'],
        () => ['fix', '--kind', 'unused-message,unused-label,duplicate-key', '--remove'],
        () => ['fill', '--locale', oneOf(random, ['de', 'es', 'pl'])],
        () => ['rename', 'field', 'semester', 'term'],
        () => ['rename', 'rule', 'fits-the-night', 'within-the-night'],
        () => ['move', '--field', 'nights', '--to', 'messages/nights.LOCALE.json'],
        () => [
          ...['import', 'back.properties', '--locale', translatorsReturn(folder, random)],
          ...(random(2) === 0 ? ['--take', oneOf(random, ['returned', 'kept'])] : []),
        ],
      ])();
      const before = wording(folder);
      const { out } = zeitwort(command, folder);
      done.push(command.join(' '));
      const after = wording(folder);
      const printed = squeezed(out);
      const gone = [...before].filter(
        (text) => !after.has(text) && !printed.includes(text.slice(text.indexOf(' ') + 1)),
      );
      expect([done, gone]).toEqual([done, []]);
    }
  }
}, 300_000);
