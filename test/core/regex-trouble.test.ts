import { expect, test } from '@jest/globals';
import { foreignPart, regexTrouble } from '../../src/core/rules/regex-trouble.js';

test.each([
  ['\\A\\d{4}[AB]\\Z', '\\A', 'write ^'],
  ['^\\d{4}\\z', '\\z', 'write $'],
  ['^(?P<year>\\d{4})$', '(?P<', 'write (?<'],
  ['^(?i)abc$', '(?i)', 'write out what the flags stand for, such as [Aa]'],
  ['^[[:alpha:]\\w]++$', '[:alpha:]', 'write \\p{L}'],
  ['^\\d++$', '++', 'write +'],
  ['^(?>a|ab)$', '(?>', 'write (?:'],
])('%s is of another dialect, and the sentence says what to write', (source, part, remedy) => {
  expect(foreignPart(source)).toBe(`${part} is of another dialect; ${remedy}`);
  expect(regexTrouble(source)).toContain(remedy);
});

test.each(['^\\d{4}[AB]$', '^\\\\A$', '[a+]+', '^a\\+\\+$', '\\p{Lu}\\B', '^(?<y>a)\\k<y>$'])(
  '%s is one of ECMA-262',
  (source) => {
    expect([foreignPart(source), regexTrouble(source)]).toEqual([undefined, undefined]);
  },
);

test.each(['^[\\w-.]+$', '^\\-$', '\\_a'])(
  '%s is none by Unicode’s rules, and no dialect',
  (source) => {
    expect(foreignPart(source)).toBeUndefined();
  },
);
