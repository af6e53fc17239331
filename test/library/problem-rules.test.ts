import { describe, expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { openPack, openWorkspace } from '../../src/library.js';
import { folderWith, jsonOf, zeitwort } from '../support/program.js';

const RULES = `forms:
  order:
    request: POST /shelves/{shelf}/orders
    fields:
      plate:    { required: true, knownIn: { table: plates, column: code, having: { stock: { minimum: { field: quantity } }, state: { noneOf: [broken, lent] } }, as: not-enough-in-stock } }
      quantity: { required: true, type: integer, minimum: 1 }
      number:   { newIn: { table: plates, column: number, problem: conflict } }
    path:
      shelf: { knownIn: { table: plates, column: shelf, problem: not-found } }
  loan:
    fields:
      plate:  { knownIn: { table: plates, column: code, having: { stock: { maximum: 9, minimum: 1 }, shelf: { field: shelf } } } }
      shelf:  { external: { closed: { problem: conflict, until: '21:00' } } }
`;
const folder = folderWith({
  'zeitwort.yaml': 'original: en\ntables: { plates: plates.csv }\n',
  'rules/orders.yaml': RULES,
  'plates.csv':
    'code,stock,state,shelf,number\nP-1,3,good,A,100\nP-2,50,broken,B,101\nP-2,5,good,B,102\nP-3,,good,A,103\n',
  'messages/en.json': {
    locale: 'en',
    messages: {
      'not-enough-in-stock': 'There are not so many of this plate.',
      closed: 'The shelf is closed.',
    },
    fields: Object.fromEntries(
      ['plate', 'quantity', 'number', 'shelf'].map((name) => [name, { label: name }]),
    ),
  },
});
const workspace = openWorkspace(folder);
const told = async (form: string, body: object, shelf = 'A'): Promise<string[]> =>
  (await workspace.violations(form, { body, path: { shelf } })).map(
    ({ path: at, rule, as }) => `${at} ${as ?? rule}`,
  );

describe('tables that compare', () => {
  test.each([
    [{ plate: 'P-1', quantity: 3 }, []],
    [{ plate: 'P-1', quantity: 4 }, ['plate not-enough-in-stock']],
    [{ plate: 'P-2', quantity: 5 }, []],
    // The row with fifty of them is of broken ones.
    [{ plate: 'P-2', quantity: 6 }, ['plate not-enough-in-stock']],
    [{ plate: 'P-3', quantity: 1 }, ['plate not-enough-in-stock']],
    [{ plate: 'P-9', quantity: 1 }, ['plate not-enough-in-stock']],
    // A bound that was not given bounds nothing; that it is missing is told by itself.
    [{ plate: 'P-1' }, ['quantity required']],
  ])('an order of %j', async (body, expected) => {
    expect(await told('order', body)).toEqual(expected);
  });

  test('with fixed bounds, and with another field', async () => {
    expect(await told('loan', { plate: 'P-2', shelf: 'B' })).toEqual([]);
    expect(await told('loan', { plate: 'P-2', shelf: 'A' })).toEqual(['plate knownIn']);
    expect(await told('loan', { plate: 'P-3', shelf: 'A' })).toEqual(['plate knownIn']);
    expect(await told('loan', { plate: 'P-1' })).toEqual([]);
  });

  test.each([
    [
      '{ stock: { least: 3 } }',
      '"having" of "knownIn": "stock" is compared by minimum, maximum, noneOf, field.',
    ],
    [
      '{ stock: { minimum: many } }',
      '"having" of "knownIn": "minimum" of "stock" is a number, or { field: … }.',
    ],
    [
      '{ stock: [1] }',
      '"having" of "knownIn": "stock" is a value, or an object with minimum, maximum, noneOf, field.',
    ],
    [
      '{ stock: { minimum: { field: quantty } } }',
      '"having" names quantty, which the form "a" has not (did you mean "quantity"?).',
    ],
  ])('a mistake in %s is told with its place', (having, expected) => {
    const wrong = folderWith({
      'zeitwort.yaml': 'original: en\ntables: { plates: plates.csv }\n',
      'rules/a.yaml': `forms: { a: { fields: { quantity: { minimum: 1 }, p: { knownIn: { table: plates, column: code, having: ${having} } } } } }\n`,
      'plates.csv': 'code,stock\nP,1\n',
      'messages/en.json': { locale: 'en' },
    });
    expect(zeitwort(['check'], wrong).out.replace(/\s+/g, ' ')).toContain(expected);
  });
});

describe('a violation that is a problem', () => {
  const answer = async (body: object, shelf: string): Promise<[number, string]> => {
    const violations = await workspace.violations('order', { body, path: { shelf } });
    const { status, body: text } = workspace.render(
      { form: 'order', violations },
      { locale: 'en' },
    );
    return [status, (JSON.parse(text) as { title: string }).title];
  };

  test.each<[string, object, string, [number, string]]>([
    ['what is not there comes before all else', { plate: 'P-9' }, 'X', [404, 'Nothing found']],
    [
      'a conflict comes alone',
      { plate: 'P-1', quantity: 1, number: 100 },
      'A',
      [409, 'Your change conflicts with another one'],
    ],
    [
      'fields come before a conflict',
      { plate: 'P-9', quantity: 1, number: 100 },
      'A',
      [422, 'Please correct what was sent'],
    ],
  ])('%s', async (_, body, shelf, expected) => {
    expect(await answer(body, shelf)).toEqual(expected);
  });

  test('the service, packs and rules of the backend know it too; a problem that there is none of is a finding', () => {
    expect(zeitwort(['check'], folder)).toMatchObject({ code: 0 });
    const report = {
      form: 'loan',
      violations: [{ path: 'shelf', rule: 'closed', params: { until: '22:00' } }],
    };
    expect(workspace.render(report, { locale: 'en' }).status).toBe(409);
    zeitwort(['pack', '--out', 'packs'], folder);
    expect(
      openPack(path.join(folder, 'packs/en.json')).render(report, { locale: 'en' }).status,
    ).toBe(409);
    writeFileSync(
      path.join(folder, 'rules/orders.yaml'),
      RULES.replace('problem: not-found', 'problem: not-fuond'),
    );
    expect(zeitwort(['check'], folder).out).toContain(
      'There is no problem "not-fuond" (did you mean "not-found"?)',
    );
  });
});

describe('the texts of a problem that a rule is', () => {
  const catalog = (detail: string): object => ({
    locale: 'en',
    problems: {
      'not-found': { title: 'No {label} {value}', detail },
      taken: { title: 'Taken', detail: '{name} is lent until {until}, by {who}.' },
    },
    fields: { shelf: { label: 'shelf' }, plate: { label: 'plate' } },
  });
  const world = folderWith({
    'zeitwort.yaml':
      'original: en\nproblems: { taken: { status: 409, params: { who: Ida } } }\nbody: { typeBase: "https://e.example/" }\n',
    'rules/loans.yaml': `forms:
  loan:
    fields:
      plate: { external: { lent: { problem: taken, until: 21 } } }
    path:
      shelf: { external: { nowhere: { problem: not-found } } }
`,
    'messages/en.json': catalog('We have no shelf {value}.'),
  });

  test('say what its message could say, and ask for no field’s texts', () => {
    // No message of "lent" and "nowhere" is missed, and no argument is unknown but one.
    const { out } = zeitwort(['check'], world);
    expect(out).toMatch(/There is no argument \{name\} here/);
    expect(out).toMatch(/1 error\b/);
    const violations = [{ path: 'shelf', in: 'path' as const, rule: 'nowhere', value: 'X-9' }];
    const { status, body } = openWorkspace(world).render({ form: 'loan', violations });
    expect([status, JSON.parse(body)]).toEqual([
      404,
      expect.objectContaining({ title: 'No shelf X-9', detail: 'We have no shelf X-9.' }),
    ]);
    zeitwort(['pack', '--out', 'packs'], world);
    const pack = openPack(path.join(world, 'packs/en.json'));
    expect(pack.render({ form: 'loan', violations }).body).toBe(body);
    zeitwort(['pack', '--sentences', '--out', 'packs'], world);
    expect(jsonOf(world, 'packs/en.sentences.json')).toMatchObject({
      becomes: {
        loan: {
          'path:shelf': {
            nowhere: { problem: 'not-found', detail: 'We have no shelf {value}.' },
          },
        },
      },
    });
  });
});
