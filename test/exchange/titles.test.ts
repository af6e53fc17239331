import { expect, test } from '@jest/globals';
import { titleIn } from '../../src/exchange/schema/titles.js';

test.each([
  ['harvestedOn', 'Harvestedon', false],
  ['GerminationTest', 'GerminationTest', false],
  ['sown_count', 'sowncount', false],
  ['sown_count', 'Sown Count', true],
  ['harvestedOn', 'harvested on', true],
  ['harvestedOn', 'Day of harvest', true],
  ['title', 'Title', true],
  ['name', ' ', false],
  ['github', 'GitHub', true],
  [0, 'GerminationTest', true],
])('of %j, the title %j names something for people: %s', (name, title, isLabel) => {
  expect(titleIn({ title }, { file: 'a.yaml', keys: [name] })).toEqual(
    isLabel ? { text: title, origin: { file: 'a.yaml', keys: [name, 'title'] } } : undefined,
  );
});
