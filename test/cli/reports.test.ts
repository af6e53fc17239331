import { describe, expect, test } from '@jest/globals';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { copyOf, folderWith, zeitwort } from '../support/program.js';

describe('render from other validators', () => {
  const folder = copyOf('observatory');

  test('the shape is found out, or named; what is none of them is told which it comes nearest to', () => {
    const issues = [
      {
        code: 'too_big',
        origin: 'number',
        maximum: 14,
        inclusive: true,
        path: ['nights'],
        message: '',
      },
    ];
    const found = zeitwort(
      ['render', '-', '--form', 'observing-proposal', '--locale', 'en'],
      folder,
      JSON.stringify(issues),
    );
    expect(found.out).toContain('You can ask for at most 14 nights.');
    const named = [
      'render',
      '-',
      '--form',
      'observing-proposal',
      '--reader',
      'zod',
      '--locale',
      'en',
    ];
    expect(zeitwort(named, folder, JSON.stringify({ issues })).out).toBe(found.out);
    const wrong = zeitwort(['render', '-'], folder, '{"errors":[],"details":[]}');
    expect([wrong.code, wrong.err]).toEqual([
      2,
      expect.stringMatching(
        /standard input:1:1: this report has none of the shapes.*nearest is schema-output/,
      ),
    ]);
    const formless = zeitwort(['render', '-'], folder, JSON.stringify(issues));
    expect([formless.code, formless.err]).toEqual([
      2,
      expect.stringMatching(/does not say which form it is about; name it with --form/),
    ]);
    const custom = zeitwort(
      ['render', '-', '--form', 'night-log', '--strict'],
      folder,
      '[\n{"code":"custom","path":["seeing"],"params":{}}]',
    );
    expect([custom.code, custom.err]).toEqual([
      2,
      expect.stringMatching(/standard input:2:45: the custom issue at seeing names no rule/),
    ]);
  });

  test('--lines: one report in, one body out, until a line is none', () => {
    const line = (rule: string): string =>
      JSON.stringify({ form: 'visitor-pass', violations: [{ path: 'visitor', rule }] });
    const { code, out, err } = zeitwort(
      ['render', '-', '--lines', '--locale', 'en'],
      folder,
      `${line('required')}\n\n${line('type')}\n{"form":\n`,
    );
    expect(code).toBe(2);
    expect(
      out
        .trim()
        .split('\n')
        .map((one) => (JSON.parse(one) as { errors: { code: string }[] }).errors[0]?.code),
    ).toEqual(['required', 'type']);
    expect(err).toMatch(/^zeitwort: standard input:4:9: invalid JSON/);
  });

  test('--lines streams: what comes in is answered while more is to come', () => {
    const many = 20_000;
    const report = JSON.stringify({
      form: 'visitor-pass',
      violations: [{ path: 'visitor', rule: 'required' }],
    });
    writeFileSync(path.join(folder, 'many.jsonl'), `${report}\n`.repeat(many));
    const { code, out } = zeitwort(['render', 'many.jsonl', '--lines'], folder);
    expect([code, out.split('\n').length - 1]).toEqual([0, many]);
  });
});

describe('rules', () => {
  const folder = copyOf('observatory');

  test('for people and for programs, with places', () => {
    const { out } = zeitwort(['rules', '--form', 'night-log'], folder);
    expect(out).toMatch(/^night-log {2}POST \/logs$/m);
    expect(out).toMatch(
      /^ {2}seeing +type number +rules\/house\.yaml:8\n +range min 0\.1, max 9 /m,
    );
    expect(
      JSON.parse(zeitwort(['rules', '--form', 'visitor-pass', '--format', 'json'], folder).out),
    ).toMatchObject({
      forms: [
        {
          form: 'visitor-pass',
          request: 'POST /passes',
          fields: [
            { path: '', rules: [{ rule: 'type', implied: true }] },
            {
              path: 'visitor',
              rules: [
                {
                  rule: 'type',
                  params: { expected: 'string' },
                  file: 'rules/house.yaml',
                  line: 15,
                },
                { rule: 'required' },
              ],
            },
            { path: 'email' },
            { path: 'day' },
            { path: 'guests' },
          ],
        },
      ],
    });
  });

  test('as JSON Schema of one form; what it cannot say is told', () => {
    const { code, out, err } = zeitwort(
      ['rules', '--form', 'observing-proposal', '--format', 'json-schema'],
      folder,
    );
    expect(code).toBe(0);
    expect(JSON.parse(out)).toMatchObject({
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      properties: { targets: { items: { type: 'object' } } },
    });
    expect(err).toContain('zeitwort: not in the schema: passphraseAgain: repeats.\n');
    expect(zeitwort(['rules', '--format', 'json-schema'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining('name it with --form'),
    });
  });

  test("a schema's titles are labels where no catalog has one, and places point into it", () => {
    const schema =
      '{\n  "title": "Pass",\n  "properties": {\n    "day": {\n      "title": "It\'s the {day}",\n      "format": "date"\n    }\n  }\n}\n';
    const made = folderWith({
      'zeitwort.yaml': 'locales: [en]\nrules: [pass.schema.json]\n',
      'pass.schema.json': schema,
    });
    expect(zeitwort(['check'], made).code).toBe(0);
    const { out } = zeitwort(
      ['render', '-'],
      made,
      '{"form":"pass","violations":[{"path":"day","rule":"format"}]}',
    );
    expect(out).toContain("It's the {day} must be a date in the form “2027-03-09”.");
    expect(zeitwort(['rules'], made).out).toMatch(/day +format date +pass\.schema\.json:6/);
  });
});

describe('pack', () => {
  const folder = copyOf('observatory');

  test('the same workspace gives the same packs; --check says when they are out of date', () => {
    expect(zeitwort(['pack', '--out', 'packs', '--check'], folder)).toMatchObject({
      code: 1,
      out: expect.stringContaining('packs/de.json is out of date'),
    });
    expect(zeitwort(['pack', '--out', 'packs'], folder).code).toBe(0);
    const text = readFileSync(path.join(folder, 'packs/pl.json'), 'utf8');
    expect(zeitwort(['pack', '--out', 'packs', '--check'], folder)).toMatchObject({
      code: 0,
      out: '5 files are up to date\n',
    });
    expect(zeitwort(['pack', '--out', 'again', '--locale', 'pl'], copyOf('observatory')).code).toBe(
      0,
    );
    expect(JSON.parse(text)).toMatchObject({
      pack: 1,
      locale: 'pl',
      hash: expect.stringMatching(/^[0-9a-f]{64}$/),
    });
  });
});
