import { describe, expect, test } from '@jest/globals';
import { chmodSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { copyOf, folderWith, zeitwort } from '../support/program.js';

const report = (violations: unknown, form = 'visitor-pass'): string =>
  JSON.stringify({ form, violations });
const small = copyOf('small');

/** Every refusal is one sentence with a place, exit code 2, nothing on standard output. */
function refuses(args: string[], folder: string, sentence: string | RegExp, input = ''): void {
  const { code, out, err } = zeitwort(args, folder, input);
  expect(err).toMatch(sentence);
  expect(err).toMatch(/^zeitwort: [^\n]+\n$/);
  expect(err).not.toMatch(/\n\s+at /);
  expect([code, out]).toEqual([2, '']);
}

describe('the workspace file', () => {
  test.each([
    ['locales: [en, de\n', /^zeitwort: zeitwort\.yaml:2:1: invalid YAML: /],
    [
      'loacles: [en]\n',
      'zeitwort.yaml:1:1: the workspace file has no key "loacles" (did you mean "locales"?)',
    ],
    [
      'locales: [en]\nbody:\n  perFeild: all\n',
      'zeitwort.yaml:3:3: "body" has no key "perFeild" (did you mean "perField"?)',
    ],
    [
      'locales: [en, xx]\n',
      'zeitwort.yaml:1:15: entry 2 of "locales": "xx" names the language "xx", which is not registered (BCP 47)',
    ],
    ['locales: en\n', 'zeitwort.yaml:1:10: "locales" is a list, not "en"'],
    [
      'texts: [../other/*.json]\n',
      'zeitwort.yaml:1:9: entry 1 of "texts": this is outside of the workspace',
    ],
    ['texts: [messages/nothing.json]\n', 'zeitwort.yaml: no file matches "messages/nothing.json"'],
    ['zone: Mars/Olympus\n', 'zeitwort.yaml:1:7: "zone": not a time zone'],
    [
      'problems: { full: { status: 299 } }\n',
      'zeitwort.yaml:1:29: "status": this is not a registered HTTP error status',
    ],
    [
      'checks: { missing-labl: off }\n',
      'zeitwort.yaml:1:11: there is no kind of finding "missing-labl" (did you mean "missing-label"?)',
    ],
    [
      'body: { perField: some }\n',
      'zeitwort.yaml:1:19: "perField" is one of all, first, not "some"',
    ],
    [
      'fallbacks: { pt_AO: [pt] }\n',
      'zeitwort.yaml:1:14: "pt_AO" is no language tag (BCP 47): write "pt-AO"',
    ],
    ['- 1\n', 'zeitwort.yaml:1:1: the workspace file is an object, not a list'],
    ['', 'zeitwort.yaml: this file is empty; it should hold the settings of the workspace'],
    [
      'a: &a [x,x]\nb: &b [*a,*a]\nc: &c [*b,*b,*b,*b,*b,*b,*b,*b,*b]\nd: [*c,*c,*c,*c,*c,*c,*c,*c,*c,*c]\n',
      'invalid YAML: its aliases stand for too much',
    ],
  ])('%j', (text, sentence) => {
    refuses(['check'], copyOf('small', { 'zeitwort.yaml': text }), sentence);
  });

  test('must be somewhere on the way up', () => {
    refuses(
      ['check'],
      folderWith({}),
      'there is no zeitwort.yaml in this folder or above it; run "zeitwort init"',
    );
    refuses(['check', '--workspace', 'nowhere'], small, 'the folder nowhere does not exist');
    expect(zeitwort(['check'], path.join(small, 'messages')).code).toBe(0);
  });
});

describe('catalogs and sheets', () => {
  test.each([
    [
      'messages/en.json',
      '{"locale": "en",\n "messages": {"required" "x"}}',
      'messages/en.json:2:26: invalid JSON: a colon should stand here',
    ],
    [
      'messages/en.json',
      '{"locale": "en", "messages": {"a": "b}}',
      'messages/en.json:1:36: invalid JSON: this text does not end',
    ],
    [
      'messages/en.json',
      '[]',
      'messages/en.json:1:1: a catalog is an object with the key "locale"',
    ],
    ['messages/en.json', '{"messages": {}}', 'messages/en.json:1:1: "locale" is missing'],
    [
      'messages/en.json',
      '{"locale": "en-Lat"}',
      'messages/en.json:1:12: "en-Lat" is no language tag',
    ],
    [
      'messages/en.json',
      '{"locale": "eng-US-x"}',
      'messages/en.json:1:12: "eng-US-x" is no language tag',
    ],
    ['messages/en.json', ' \n', 'messages/en.json: this file is empty; it should hold a catalog'],
    [
      'rules/visitor-pass.yaml',
      'forms:\n  a: {\n',
      /rules\/visitor-pass\.yaml:\d:\d+: invalid YAML/,
    ],
    [
      'rules/visitor-pass.yaml',
      'forms: {a: {fields: {}}, a: {fields: {}}}',
      'rules/visitor-pass.yaml:1:26: invalid YAML: map keys must be unique',
    ],
  ])('%s %j', (file, text, sentence) => {
    refuses(['check'], copyOf('small', { [file]: text }), sentence);
  });

  test('files that cannot be read', () => {
    refuses(['render', 'messages'], small, 'messages is a folder; name a file in it');
    refuses(['render', 'missing.json'], small, 'missing.json does not exist; check the name');
    const settings = "original: en\ntexts: ['messages/*.yaml']\n";
    const yaml = folderWith({ 'zeitwort.yaml': settings, 'messages/en.yaml': 'locale: en\n' });
    refuses(
      ['check'],
      yaml,
      'messages/en.yaml:1:1: invalid JSON: a file like this is written in JSON, not in YAML',
    );
    const folder = copyOf('small');
    writeFileSync(path.join(folder, 'messages/de.json'), Buffer.from([0x22, 0xff, 0x22]));
    refuses(
      ['check'],
      folder,
      'messages/de.json: this file is not in UTF-8; save it in that encoding',
    );
    // Whoever is root may read what nobody may.
    if (process.getuid?.() === 0) return;
    chmodSync(path.join(folder, 'zeitwort.yaml'), 0);
    refuses(['check'], folder, 'cannot be read (EACCES)');
  });
});

describe('violations', () => {
  test.each([
    ['nonsense', 'standard input:1:1: invalid JSON: this word is not JSON'],
    [
      '{"form": "visitor-pass",}',
      'standard input:1:25: invalid JSON: a name in double quotes should stand here',
    ],
    ['// none\n{}', 'standard input:1:1: invalid JSON: comments have no place in this file'],
    ['', 'standard input: this file is empty; it should hold a report of violations'],
    ['[]', 'standard input:1:1: a report of violations is an object, not a list'],
    ['{"form": "visitor-pass"}', 'standard input:1:1: "violations" is missing; it is a list'],
    [report([{ path: 'visitor' }]), 'standard input:1:38: "rule" is missing; it is a text'],
    [report([{ path: 3, rule: 'required' }]), 'standard input:1:46: "path" is a text, not 3'],
    [
      report([{ path: 'visitor', rul: 'x', rule: 'required' }]),
      'entry 1 of "violations" has no key "rul" (did you mean "rule"?)',
    ],
    [
      report([{ path: '', rule: 'type' }], 'visitor-pas'),
      'standard input:1:9: there is no form "visitor-pas" (did you mean "visitor-pass"?); the forms are visitor-pass',
    ],
    [
      report([{ path: 'vistor', rule: 'required' }]),
      'standard input:1:46: the form "visitor-pass" has no field at vistor (did you mean "visitor"?)',
    ],
    [
      report([{ path: 'guests.2.name', rule: 'required' }]),
      'no field at guests.2.name (did you mean "guests[2].name"?)',
    ],
    [
      report([{ path: 'guests[*].name', rule: 'required' }]),
      '"guests[*].name" is a pattern: name one element by its place',
    ],
    [report([{ path: '/a~2', rule: 'required' }]), '"/a~2" is not a JSON Pointer'],
  ])('%s', (input, sentence) => {
    refuses(['render', '-'], small, sentence, input);
  });
});

describe('the command line', () => {
  test.each([
    [['chek'], "unknown command 'chek'"],
    [['render'], 'name a file with a report'],
    [['check', '--fromat', 'json'], "unknown option '--fromat' (Did you mean --format?)"],
    [['check', '--format', 'xml'], "argument 'xml' is invalid"],
    [['help', 'chek'], 'there is no command "chek" (did you mean "check"?)'],
    [
      ['check', '--locale', 'german'],
      '"german" names the language "german", which is not registered (BCP 47)',
    ],
    [['check', '--locale', 'fr'], 'fr is not a locale of this workspace; its locales are en, de'],
    [['why', 'visitor-pass', 'visitr', 'required'], 'no field at visitr (did you mean "visitor"?)'],
    [
      ['why', 'visitor-pass', 'visitor', 'requird'],
      'visitor has no rule "requird" (did you mean "required"?); its rules are type, required, maxLength',
    ],
    [['why', 'visitor-pass', 'a[', 'required'], '"a[" is not a path'],
    [['show', '--form', 'pass'], 'there is no form "pass"'],
    [['init'], 'messages/de.json exists already'],
  ])('%j', (args, sentence) => {
    refuses(args, small, sentence);
  });

  test('help and version are no errors', () => {
    expect(zeitwort(['--version'], small)).toMatchObject({
      code: 0,
      err: '',
      out: expect.stringMatching(/^\d+\.\d+\.\d+\n$/),
    });
    const help = zeitwort(['--help'], small);
    expect([help.code, help.err]).toEqual([0, '']);
    for (const command of ['init', 'demo', 'show', 'check', 'render', 'why'])
      expect(help.out).toMatch(new RegExp(`^ {2}${command} `, 'm'));
    expect(zeitwort(['help', 'render'], small).out).toContain('--with-headers');
    expect(zeitwort(['render', '--help'], small).out).toContain('--with-headers');
  });
});
