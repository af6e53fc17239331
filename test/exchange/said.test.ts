// No sentence holds a path of a payload, whichever rule was broken and whoever told of it.
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { samplePath } from '../../src/core/path/path.js';
import { VOCABULARY } from '../../src/core/rules/vocabulary.js';
import { sampleViolation } from '../../src/core/violation/samples.js';
import { Sentences } from '../../src/core/violation/sentence.js';
import { parseLocale } from '../../src/core/locale/tag.js';
import { only, run } from '../support/schemas.js';
import { World } from '../support/world.js';

const starters = ['en', 'de', 'pl', 'ar', 'ja'].map(
  (locale) =>
    JSON.parse(
      readFileSync(path.join(__dirname, `../../src/starter/${locale}.json`), 'utf8'),
    ) as Record<string, unknown>,
);
const texts = starters.map(({ locale }) => ({ locale }));

/** A path as anybody writes one: words with a slash, a bracket or a dot between them. */
const PATH = /\w[./]\w*(?:note|plan|parts)|(?:parts|plan)(?:[[/]|\.\w)|#\/|\/(?:parts|plan|note)/;

describe('no sentence holds a path', () => {
  const world = new World({
    texts,
    starters,
    forms: {
      f: {
        fields: {
          'parts[*].plan.note': { type: 'string' },
          'parts[*].plan.other': { repeats: 'parts[*].plan.note' },
        },
      },
    },
  });
  const [form] = world.forms;
  const [field] = form?.form.fields ?? [];

  test.each([...VOCABULARY.keys()])('%s', (rule) => {
    if (!form || !field) throw new Error('no form');
    for (const counterpart of [
      'parts[2].plan.other',
      '/parts/2/plan/other',
      '#/parts/2/plan/other',
      undefined,
    ]) {
      for (const { locale } of starters) {
        const sample = sampleViolation(
          field,
          { rule, external: false, params: {}, origin: field.origin },
          samplePath(field.pattern),
        );
        const params = {
          ...sample.params,
          ...(counterpart === undefined ? {} : { counterpart, field: counterpart }),
        };
        const sentences = new Sentences(world.texts, form, { zone: 'UTC', shorten: 40 });
        const { text } = sentences.say({ ...sample, params }, parseLocale(String(locale)));
        expect([rule, text, PATH.test(text)]).toEqual([rule, text, false]);
      }
    }
  });

  test('what a schema finds', () => {
    const node = {
      type: 'object',
      required: ['note'],
      additionalProperties: false,
      minProperties: 3,
      dependentRequired: { plan: ['other'] },
      properties: {
        note: { enum: ['x'] },
        plan: { $ref: '#/$defs/node' },
        parts: { type: 'array', items: { $ref: '#/$defs/node' } },
      },
    };
    const read = only({ $ref: '#/$defs/node', $defs: { node } });
    const body = { plan: { note: 3, plan: {}, odd: 1 }, parts: [{ plan: { parts: 3 } }, 4] };
    const found = run(read, { body });
    expect(found.length).toBeGreaterThan(8);
    const said = found.map(
      (one) =>
        new Sentences(world.texts, read.index, { zone: 'UTC', shorten: 40 }).say(
          one,
          parseLocale('en'),
        ).text,
    );
    expect(said.filter((text) => PATH.test(text))).toEqual([]);
  });
});
