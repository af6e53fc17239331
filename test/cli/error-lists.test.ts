import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { folderWith, zeitwort } from '../support/program.js';

const page = readFileSync(path.join(__dirname, '../../docs/reference/error-lists.md'), 'utf8');
const [head = '', ...sections] = page.split(/^## /m);
const block = (text: string, kind: string): string =>
  new RegExp(`^\`\`\`${kind}\\n(.*?)^\`\`\``, 'ms').exec(text)?.[1] ?? '';

test.each(sections.map((text) => [text.slice(0, text.indexOf('\n')), text]))(
  'the reference reads %s as it says, and maps to rules that there are',
  (_, text) => {
    const folder = folderWith({
      'zeitwort.yaml': `original: en\nlocales: [en]\ntexts: [messages/*.json]\nrules: [rules.yaml]\n${block(text, 'yaml')}`,
      'rules.yaml': block(head, 'yaml'),
      'payload.json': block(head, 'json'),
      'list.json': block(text, 'json'),
    });
    const [command = '', ...output] = block(text, 'console').trimEnd().split('\n');
    const { out, err } = zeitwort(command.split(' ').slice(2), folder);
    expect([
      out
        .trimEnd()
        .split('\n')
        .map((line) => line.trimEnd()),
      err,
    ]).toEqual([output, '']);
    expect(zeitwort(['check', '--kind', 'unknown-rule'], folder).out).toContain(
      '0 errors, 0 warnings',
    );
  },
);

test('a name that leads to a rule of nobody is found, with its place', () => {
  const folder = folderWith({
    'zeitwort.yaml': `original: en
locales: [en]
texts: [messages/*.json]
rules: [rules.yaml]
readers:
  ours:
    path: /at
    rule:
      at: /kind
      map: { short: minLenght, long: [maxLength, house-rule], odd: { rule: too-odd, as: odd } }
`,
    'rules.yaml':
      'forms: { visit: { fields: { title: { external: { too-odd: true }, minLength: 2 } } } }\n',
  });
  const { out } = zeitwort(['check', '--kind', 'unknown-rule'], folder);
  const told = out.replace(/\s+/g, ' ');
  expect(told).toContain(
    'zeitwort.yaml:10:21 error unknown-rule The reader "ours" maps "short" to "minLenght", which no form declares (did you mean "minLength"?). Correct the name, or declare the rule.',
  );
  expect(told).toContain('maps "long" to "house-rule"');
  expect(told).toContain('maps "odd" to "odd"');
  expect(told).not.toContain('"too-odd", which');
});
