import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { copyOf, zeitwort } from '../support/program.js';
import { serve, type Serving } from '../support/server.js';

const folder = copyOf('observatory');
const bad = readFileSync(path.join(folder, 'payloads/bad-proposal.json'), 'utf8');
let serving: Serving;
beforeAll(async () => {
  const file = path.join(folder, 'zeitwort.yaml');
  const reader =
    '{ entries: /faults, path: /at, rule: { at: /kind, map: { short: minLength } }, validate: true }';
  writeFileSync(file, `${readFileSync(file, 'utf8')}\nreaders: { nameless: ${reader} }\n`);
  serving = await serve(folder);
});
afterAll(async () => {
  await serving.stop();
});

const post = (at: string, body: string): Promise<Response> =>
  fetch(serving.url + at, {
    method: 'POST',
    body,
    headers: { 'content-type': 'application/json' },
  });
const json = async (response: Response): Promise<Record<string, unknown>> =>
  (await response.json()) as Record<string, unknown>;

test('reads an error list with the payload beside it, and runs the rules where asked', async () => {
  const payload = JSON.parse(bad) as { semester: unknown };
  const list = { faults: [{ at: 'semester' }, { at: 'title', kind: 'short' }] };
  const at = '/zeitwort/render/observing-proposal?reader=nameless&locale=en';
  const both = await post(at, JSON.stringify({ errorList: list, payload }));
  const tried = zeitwort(['try', '--form', 'observing-proposal', '-'], folder, bad);
  const { errors } = JSON.parse(tried.out) as { errors: { pointer: string; code: string }[] };
  const semester = errors.filter(({ pointer }) => pointer === '#/semester');
  expect(semester).toHaveLength(1);
  expect(await json(both)).toMatchObject({
    // The title is blank, which counts as missing, whatever the validator says.
    errors: [{ pointer: '#/title', code: 'required' }, semester[0]],
  });
  // Without the payload nobody knows which rule it was.
  const alone = await json(await post(at, JSON.stringify(list)));
  expect(alone).toMatchObject({
    errors: [{ code: 'minLength' }, { pointer: '#/semester', code: 'unnamed' }],
  });
  const torn = { errorList: { faults: 1 }, payload };
  const mistake = await post(at, JSON.stringify(torn));
  expect([mistake.status, await json(mistake)]).toEqual([
    400,
    expect.objectContaining({ at: '/errorList' }),
  ]);
});
