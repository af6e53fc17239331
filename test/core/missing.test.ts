import { expect, test } from '@jest/globals';
import { broken, formOf, run, type Json } from '../support/judging.js';

test('a rule on the columns of a row tells what stands there, and an unknown row is told once', () => {
  const code = { table: 'instruments', column: 'code' };
  const fields = {
    plate: {
      knownIn: [
        code,
        {
          ...code,
          having: { stock: { minimum: { field: 'quantity' } }, retired: 'no' },
          as: 'lacking',
        },
      ],
      newIn: { ...code, having: { retired: 'yes' }, as: 'gone' },
    },
    quantity: { type: 'integer' },
    lone: { knownIn: { ...code, having: { retired: 'no' } } },
  };
  const told = (body: Json): unknown[] =>
    run(formOf(fields), { body }).map(({ path, rule, as, params = {} }) => [
      path,
      as ?? rule,
      params.stock,
      params.retired,
    ]);
  expect(told({ plate: 'echelle', quantity: 3 })).toEqual([]);
  expect(told({ plate: 'echelle', quantity: 4 })).toEqual([['plate', 'lacking', 3, 'no']]);
  expect(told({ plate: 'plates', quantity: 1 })).toEqual([
    ['plate', 'lacking', undefined, 'yes'],
    ['plate', 'gone', undefined, 'yes'],
  ]);
  expect(told({ plate: 'none', quantity: 1, lone: 'none' })).toEqual([
    ['plate', 'knownIn', undefined, undefined],
    ['lone', 'knownIn', undefined, undefined],
  ]);
});

test('what is missing speaks for what it would hold, whatever stands in its place', () => {
  const fields = {
    site: { required: true },
    'site.name': { required: true },
    'site.door.key': { required: true },
    lead: {},
    'lead.name': { required: true },
    kind: {},
    more: { required: { onlyIf: { kind: 'long' } } },
    'more.text': { required: true },
  };
  for (const site of [undefined, null, ' '])
    expect(broken(fields, { site, lead: {} })).toEqual([
      'site required',
      'lead.name required',
      // Nobody asks for `more` itself.
      'more.text required',
    ]);
  expect(broken(fields, { site: {}, lead: null, kind: 'long' })).toEqual([
    'site.name required',
    'site.door.key required',
    'lead.name required',
    'more required',
  ]);
});

test('what is said of one element stands in the order of all elements', () => {
  const fields = {
    'targets[*].id': { required: true },
    'targets[*].name': { required: true },
    'targets[*].epoch': { required: true },
    'targets[0].name': { required: true, minLength: 3 },
  };
  expect(broken(fields, { targets: [{}, {}] })).toEqual(
    [0, 1].flatMap((at) =>
      ['id', 'name', 'epoch'].map((name) => `targets[${at}].${name} required`),
    ),
  );
});
