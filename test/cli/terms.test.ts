// Terms of a house: what check makes of them, and how they go to translators and to other tools.
import { describe, expect, test } from '@jest/globals';
import { validateXML } from 'xmllint-wasm';
import path from 'node:path';
import { writeFileSync } from 'node:fs';
import { readTbx, writeTbx } from '../../src/exchange/terms/tbx.js';
import { copyOf, folderWith, textOf, zeitwort } from '../support/program.js';

const SETTINGS =
  "original: en\nlocales: [en, de, ja]\ntexts: ['messages/*.json']\nrules: [r.yaml]\nterms: [terms/*]\n";
const TERMS = {
  concepts: [
    {
      id: 'berth',
      note: 'Where a guest sleeps.',
      terms: {
        en: { text: 'berth', forms: ['berths'], never: ['bunk'] },
        de: { text: 'Bett', forms: ['Betten'], never: ['Koje'] },
        ja: '寝台',
      },
    },
    { id: 'berth-number', terms: { en: 'berth number', de: 'Bettnummer' } },
  ],
};

function workspace(
  english: object,
  german: object,
  japanese: object = {},
  terms: unknown = TERMS,
): string {
  return folderWith({
    'zeitwort.yaml': SETTINGS,
    'r.yaml':
      'forms: { visit: { fields: { a: { required: true }, b: { required: true }, c: { required: true } } } }\n',
    'messages/en.json': { locale: 'en', fields: english },
    'messages/de.json': { locale: 'de', fields: german },
    'messages/ja.json': { locale: 'ja', fields: japanese },
    'terms/house.json': terms,
  });
}

const found = (folder: string): string[] => {
  const { out } = zeitwort(
    ['check', '--format', 'json', '--kind', 'term-missing,term-avoided,translated-twice'],
    folder,
  );
  const { findings } = JSON.parse(out) as {
    findings: { kind: string; locale: string; path: string; message: string }[];
  };
  return findings.map(
    ({ kind, locale, path: at, message }) => `${kind} ${locale} ${at}: ${message}`,
  );
};

describe('check', () => {
  test('tells terms that a translation has not, words that are not to be used, and two ways to say one thing', () => {
    const folder = workspace(
      { a: { label: 'upper Berth' }, b: { label: 'berth number' }, c: { label: 'upper Berth' } },
      { a: { label: 'obere Koje' }, b: { label: 'Bettnummer' }, c: { label: 'oberes Bett' } },
      { a: { label: '上の寝台' }, b: { label: '番号' }, c: { label: '上段' } },
    );
    expect(found(folder).toSorted()).toEqual([
      'term-avoided de a: "Koje" is not to be used; say "Bett".',
      'term-missing de a: The original says "Berth", and this text does not say "Bett" or "Betten". Say it, or add the form that it has to the terms.',
      expect.stringMatching(/^term-missing ja c: .*"寝台"/),
      'translated-twice de c: The original of this text is "obere Koje" elsewhere. Say it in one way.',
      expect.stringMatching(/^translated-twice ja c: /),
    ]);
  });

  test('takes whole words, forms and plural cases, and the term of the language for a region', () => {
    const folder = workspace(
      {
        a: { label: '{n, plural, one {# berth} other {# berths}}' },
        b: { label: 'berthing' },
        c: { label: 'bunk' },
      },
      { a: { label: '{n, plural, one {# BETT} other {# Betten}}' }, b: { label: 'Kojen' } },
    );
    expect(found(folder)).toEqual(['term-avoided en c: "bunk" is not to be used; say "berth".']);
  });

  test.each<[string, unknown, RegExp]>([
    ['no JSON', '{', /^zeitwort: terms\/house\.json:\d+:\d+: invalid JSON/],
    [
      'a wrong name',
      { concepts: [{ id: 'a', terms: {}, notes: 1 }] },
      /terms\/house\.json:1:\d+: .*"notes"/,
    ],
    [
      'a wrong tag',
      { concepts: [{ id: 'a', terms: { xx: 'b' } }] },
      /terms\/house\.json:1:\d+: .*xx/,
    ],
  ])('%s ends in one sentence', (_, terms, sentence) => {
    const { code, err } = zeitwort(['check'], workspace({}, {}, {}, terms));
    expect([code, err.trim().split('\n').length]).toEqual([2, 1]);
    expect(err).toMatch(sentence);
  });
});

test('translators and editors of the demo are told them in every format', async () => {
  const folder = copyOf('observatory');
  const exported = (format: string): string =>
    zeitwort(['export', '--format', format, '--locale', 'de', '--out', '-'], folder).out;
  expect(exported('csv')).toContain(
    ',target = Ziel (never Objekt; Objekte),'.replace('; ', ', ').slice(1, 30),
  );
  expect(exported('po')).toContain('#. term: target = Ziel (never Objekt, Objekte)\n');
  expect(exported('properties')).toContain('# term: exposure time = Belichtungszeit\n');
  const xliff = exported('xliff');
  expect(xliff).toContain(
    '<gls:glossEntry><gls:term>exposure time</gls:term><gls:translation>Belichtungszeit</gls:translation>',
  );
  const { valid } = await validateXML({
    xml: [{ fileName: 'a.xlf', contents: xliff }],
    schema: [
      {
        fileName: 'xliff.xsd',
        contents: textOf(path.join(__dirname, '..', 'schemas'), 'xliff-core-2.xsd'),
      },
    ],
  });
  expect(valid).toBe(true);
  expect(zeitwort(['report', '--out', '-'], folder).out).toContain('<s>Objekt</s>');
});

describe('TBX', () => {
  test('goes out and comes back, and a workspace reads it', () => {
    const folder = copyOf('observatory');
    const { out } = zeitwort(['export', '--format', 'tbx', '--out', '-'], folder);
    expect(out).toContain('<tbx type="TBX-Basic" style="dca" xml:lang="en"');
    const concepts = readTbx(out);
    expect(concepts.map(({ id }) => id)).toEqual(['target', 'exposure', 'exposure-time']);
    expect(writeTbx(concepts, 'en' as never)).toBe(out);
    writeFileSync(path.join(folder, 'terms/house.tbx'), out);
    writeFileSync(
      path.join(folder, 'zeitwort.yaml'),
      textOf(folder, 'zeitwort.yaml').replace('terms/*.json', 'terms/*.tbx'),
    );
    expect(zeitwort(['check', '--fail-on', 'info'], folder).code).toBe(0);
    writeFileSync(path.join(folder, 'terms/house.tbx'), out.replace('</tbx>', ''));
    expect(zeitwort(['check'], folder)).toMatchObject({
      code: 2,
      err: expect.stringMatching(/^zeitwort: terms\/house\.tbx(?::\d+:\d+)?: this is not XML: /),
    });
  });

  test.each([
    [
      'categories as tags',
      `<tbx type="TBX-Basic" style="dct" xml:lang="en" xmlns="urn:iso:std:iso:30042:ed-2" xmlns:min="http://www.tbxinfo.net/ns/min" xmlns:basic="http://www.tbxinfo.net/ns/basic"><tbxHeader/><text><body><conceptEntry id="c1"><min:subjectField>travel</min:subjectField><langSec xml:lang="de"><termSec><term>Koje</term><min:administrativeStatus>deprecatedTerm-admn-sts</min:administrativeStatus></termSec><termSec><term>Betten</term><min:administrativeStatus>admittedTerm-admn-sts</min:administrativeStatus></termSec><termSec><term>Bett</term></termSec></langSec></conceptEntry></body></text></tbx>`,
    ],
    [
      'the edition of 2008',
      `<martif type="TBX-Basic" xml:lang="en"><martifHeader/><text><body><termEntry id="c1"><langSet xml:lang="de"><tig><term>Koje</term><termNote type="administrativeStatus">deprecatedTerm-admn-sts</termNote></tig><ntig><termGrp><term>Bett</term></termGrp></ntig><tig><term>Betten</term></tig></langSet></termEntry></body></text></martif>`,
    ],
  ])('%s is read', (_, text) => {
    const [concept] = readTbx(text);
    expect([concept?.id, [...(concept?.terms ?? [])]]).toEqual([
      'c1',
      [['de', { text: 'Bett', forms: ['Betten'], never: ['Koje'] }]],
    ]);
  });
});
