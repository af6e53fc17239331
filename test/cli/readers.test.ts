import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { folderWith, zeitwort } from '../support/program.js';
import { serve, until } from '../support/server.js';

const SCHEMA = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  $id: 'visit',
  type: 'object',
  properties: {
    visitor: { title: 'name of the visitor', type: 'string', minLength: 2 },
    mail: { title: 'email address', type: 'string', format: 'email' },
    badge: { title: 'badge number', type: 'string', pattern: '^VIS-.*' },
  },
};

describe("readers of one's own", () => {
  const CONFIG = `original: en
readers:
  stockroom:
    entries: /faults
    path: { at: /where, drop: [payload] }
    rule: { at: /kind, map: { short: minLength, absent: required, odd: [minLength, beginsWith] } }
    params: { min: /bounds/least }
    in: { at: /where/0, map: { payload: body } }
`;
  const REPORT = {
    faults: [
      { where: ['payload', 'visitor'], kind: 'short', bounds: { least: 2 } },
      { where: ['payload', 'badge'], kind: 'odd' },
      { where: ['payload', 'mail'], kind: 'unheard' },
    ],
  };
  const ready = (): string =>
    folderWith({
      'zeitwort.yaml': `${CONFIG}rules: [rules/*.json]\n`,
      'rules/visit.schema.json': SCHEMA,
      'messages/en.json': { locale: 'en' },
      'payload.json': { visitor: 'A', badge: 'x', mail: 'm' },
    });

  test('render --reader, --explain, --strict; mistakes in a declaration and unknown names', () => {
    const folder = ready();
    const report = JSON.stringify(REPORT);
    const given = ['render', '-', '--form', 'visit', '--payload', 'payload.json', '--reader'];
    const { code, out, err } = zeitwort([...given, 'stockroom'], folder, report);
    expect(code).toBe(0);
    expect(
      (JSON.parse(out) as { errors: { detail: string }[] }).errors.map(({ detail }) => detail),
    ).toEqual([
      'Name of the visitor must have at least 2 characters.',
      'Email address must be corrected.',
      'Badge number must begin with “VIS-”.',
    ]);
    expect(err).toMatch(
      /^zeitwort: standard input:1:\d+: .*"unheard" stands for no rule; map it under "rule"\.\n$/,
    );
    expect(zeitwort([...given, 'stockroom', '--explain'], folder, report).out).toBe(
      [
        'entry      path     rule        parameters',
        '/faults/0  visitor  minLength   min 2',
        '/faults/1  badge    beginsWith',
        '/faults/2  mail     unnamed',
        '',
      ].join('\n'),
    );
    expect(zeitwort([...given, 'stockroom', '--strict'], folder, report)).toMatchObject({
      code: 2,
      out: '',
    });
    expect(zeitwort([...given, 'stockrom'], folder, report).err).toContain(
      'there is no reader "stockrom" (did you mean "stockroom"?)',
    );
    writeFileSync(path.join(folder, 'zeitwort.yaml'), CONFIG.replace('/bounds/least', 'bounds'));
    expect(zeitwort(['check'], folder)).toMatchObject({
      code: 2,
      err: expect.stringMatching(/^zeitwort: zeitwort\.yaml:7:20: /),
    });
    writeFileSync(path.join(folder, 'zeitwort.yaml'), CONFIG.replace('entries', 'entrys'));
    expect(zeitwort(['check'], folder).err).toContain(
      'has no key "entrys" (did you mean "entries"?)',
    );
  });

  test('serve takes ?reader=, its own and the known ones', async () => {
    const folder = ready();
    const served = await serve(folder);
    const post = async (reader: string, body: unknown): Promise<[number, unknown]> => {
      const answer = await fetch(`${served.url}/zeitwort/render/visit?reader=${reader}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
      const { errors, mistake } = (await answer.json()) as {
        errors?: { detail: string }[];
        mistake?: string;
      };
      return [answer.status, errors?.map((one) => one.detail) ?? mistake];
    };
    const short = 'Name of the visitor must have at least 2 characters.';
    expect(await post('stockroom', { faults: REPORT.faults.slice(0, 1) })).toEqual([422, [short]]);
    expect(
      await post('zod', [{ code: 'too_small', origin: 'string', minimum: 2, path: ['visitor'] }]),
    ).toEqual([422, [short]]);
    expect(
      await post('schema-errors', [
        { instancePath: '/visitor', keyword: 'minLength', params: { limit: 2 } },
      ]),
    ).toEqual([422, [short]]);
    expect(await post('none', [])).toEqual([
      400,
      expect.stringContaining('there is no reader "none"'),
    ]);
    expect(await post('stockroom', { nothing: 1 })).toEqual([
      400,
      expect.stringContaining('no entries at /faults'),
    ]);
    expect((await post('stockroom', REPORT))[0]).toBe(422);
    await until(() => served.log().includes('stands for no rule'));
    expect(await served.stop()).toBe(0);
  });
});
