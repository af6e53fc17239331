import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { hostname } from 'node:os';
import path from 'node:path';
import { GONE } from '../support/journal.js';
import { describe, expect, test } from '@jest/globals';
import { git } from '../support/git.js';
import { folderWith, jsonOf, textOf, zeitwort, type Outcome } from '../support/program.js';

const SETTINGS =
  "locales: [en, de]\nroot: ../..\ntexts: ['../../shared/messages/*.json', 'messages/*.json']\n";
const OBSERVER = { observer: { label: 'observer' }, part: { label: 'part' } };

/** Two services whose forms share a catalog in each language, and one of a set of forms. */
function services(): { readonly root: string; readonly plans: string; readonly depot: string } {
  const root = folderWith({
    'services/plans/zeitwort.yaml': SETTINGS,
    'services/plans/rules/plan.yaml':
      'forms:\n  plan:\n    fields:\n      title: { required: true }\n      observer: { required: true }\n  slot:\n    fields:\n      observer: { required: true }\n  night:\n    fields:\n      observer: { required: true }\n',
    'services/plans/messages/plan.en.json': { locale: 'en', fields: { title: { label: 'title' } } },
    'services/plans/messages/plan.de.json': { locale: 'de', fields: { title: { label: 'Titel' } } },
    'services/depot/zeitwort.yaml': SETTINGS.replace(", 'messages/*.json'", ''),
    'services/depot/rules/stock.yaml':
      'forms:\n  stock:\n    fields:\n      part: { required: true }\n      observer: { required: true }\n',
    'shared/messages/all.en.json': {
      locale: 'en',
      messages: { required: 'Please give {label}.', later: 'Later.' },
      fields: OBSERVER,
    },
    'shared/messages/all.de.json': {
      locale: 'de',
      messages: { required: 'Bitte {label} angeben.', later: 'Später.' },
      fields: OBSERVER,
    },
    'shared/messages/set.en.json': {
      locale: 'en',
      form: ['stock', 'slot', 'plan'],
      fields: { observer: { messages: { required: 'Who observes?' } } },
    },
  });
  return {
    root,
    plans: path.join(root, 'services/plans'),
    depot: path.join(root, 'services/depot'),
  };
}

const found = ({ out }: Outcome): string[] =>
  (JSON.parse(out) as { findings: { kind: string; file: string; message: string }[] }).findings.map(
    ({ kind, file, message }) => `${kind} ${file} ${message}`,
  );

const said = (folder: string, form: string): string =>
  (
    JSON.parse(
      zeitwort(
        ['render', '-', '--locale', 'en'],
        folder,
        JSON.stringify({ form, violations: [{ path: 'observer', rule: 'required' }] }),
      ).out,
    ) as { errors: { detail: string }[] }
  ).errors
    .map(({ detail }) => detail)
    .join();

describe('catalogs that several workspaces share', () => {
  test('are read by each; what another one uses is not a finding, what is nearly a form or key of ours is', () => {
    const { root, plans, depot } = services();
    const check = (folder: string): string[] =>
      found(zeitwort(['check', '--format', 'json'], folder));
    expect(check(plans).filter((one) => !one.startsWith('same-as-original'))).toEqual([]);
    expect(check(depot).filter((one) => !one.startsWith('same-as-original'))).toEqual([]);
    // A renaming here takes nothing from the others.
    const before = textOf(root, 'shared/messages/all.en.json');
    const { code, out, err } = zeitwort(['rename', 'field', 'observer', 'watcher'], plans);
    expect([code, out + err]).toEqual([
      0,
      expect.stringMatching(/all\.en\.json is shared with other\s+workspaces/),
    ]);
    expect(textOf(root, 'shared/messages/all.en.json')).toBe(before);
    expect(textOf(plans, 'rules/plan.yaml')).toContain('watcher: { required: true }');
    expect(zeitwort(['rename', 'field', 'watcher', 'observer'], plans).code).toBe(0);
    const file = path.join(root, 'shared/messages/set.en.json');
    writeFileSync(
      file,
      readFileSync(file, 'utf8').replace('"slot"', '"slott"').replace('"required"', '"requird"'),
    );
    expect(check(plans).filter((one) => one.includes('set.en'))).toEqual([
      expect.stringMatching(
        /^unused-message \S+ There is no form "slott"\. Did you mean "slot"\?$/,
      ),
      expect.stringMatching(
        /^unused-message \S+ No rule of the field "observer" uses "requird"\. Did you mean "required"\?$/,
      ),
    ]);
  });

  test('a text for several forms is used by each before what is for all, and after what is for one; fewer forms come first', () => {
    const { root, plans, depot } = services();
    expect([
      said(plans, 'plan'),
      said(plans, 'slot'),
      said(plans, 'night'),
      said(depot, 'stock'),
    ]).toEqual(['Who observes?', 'Who observes?', 'Please give observer.', 'Who observes?']);
    const set = (form: string, text: string, ...into: string[]): Outcome =>
      zeitwort(
        [
          'set',
          '--locale',
          'en',
          '--form',
          form,
          '--field',
          'observer',
          '--rule',
          'required',
          text,
          ...into,
        ],
        plans,
      );
    // The set names a form of the other workspace, and is there already.
    expect(set('stock,slot, plan', 'Who looks?')).toMatchObject({ code: 0, err: '' });
    expect([said(plans, 'plan'), said(depot, 'stock')]).toEqual(['Who looks?', 'Who looks?']);
    expect(
      set('slot,plan', 'Who looks up?', '--into', '../../shared/messages/two.en.json').code,
    ).toBe(0);
    expect(jsonOf(root, 'shared/messages/two.en.json').form).toEqual(['plan', 'slot']);
    expect(set('plan', 'Who plans?', '--into', 'messages/only.en.json').code).toBe(0);
    expect([said(plans, 'plan'), said(plans, 'slot'), said(depot, 'stock')]).toEqual([
      'Who plans?',
      'Who looks up?',
      'Who looks?',
    ]);
    const { out } = zeitwort(['why', 'slot', 'observer', 'required', '--locale', 'en'], plans);
    expect(out).toContain('../../shared/messages/two.en.json');
    expect(zeitwort(['rename', 'form', 'slot', 'watch'], plans).code).toBe(0);
    expect(jsonOf(root, 'shared/messages/two.en.json').form).toEqual(['plan', 'watch']);
    expect(jsonOf(root, 'shared/messages/set.en.json').form).toEqual(['stock', 'watch', 'plan']);
    expect(said(plans, 'watch')).toBe('Who looks up?');
    // The same from a pack, which has the texts looked up.
    expect(zeitwort(['pack', '--locale', 'en', '--sentences'], plans).code).toBe(0);
    const packed = JSON.parse(textOf(plans, 'packs/en.sentences.json')) as object;
    expect(packed).toMatchObject({ forms: { watch: { observer: { required: 'Who looks up?' } } } });
  });

  test('lie below the declared root: neither a glob nor a link nor a journal leads further', () => {
    const { root, plans } = services();
    const settings = path.join(plans, 'zeitwort.yaml');
    const refused = (text: string): string => {
      writeFileSync(settings, text);
      const { code, err } = zeitwort(['check'], plans);
      expect([code, err.trim().split('\n').length]).toEqual([2, 1]);
      return err;
    };
    expect(refused(SETTINGS.replace('root: ../..', 'root: ..'))).toContain(
      'zeitwort.yaml:3:9: entry 1 of "texts": this is outside of the folder ".."; write "root: ../.." if',
    );
    expect(refused(SETTINGS.replace('root: ../..\n', ''))).toContain('write "root: ../.." if');
    expect(refused('root: /srv\n')).toContain(
      'zeitwort.yaml:1:7: "root": this is not a folder around the workspace',
    );
    expect(refused("root: ../..\ntexts: ['../../shared/../../*.json']\n")).toContain(
      'is outside of the workspace',
    );
    expect(refused("root: ../..\ntexts: ['../../shared/**']\n")).toContain('with their ending');
    expect(refused('root: ../..\ntexts: ../../../x/*.json\n')).toContain(
      'zeitwort.yaml:2:8: "texts": this is outside of the folder "../.."',
    );
    writeFileSync(settings, SETTINGS);
    // A journal that came with the folder writes into what is shared, and nowhere else around.
    const hash = (text: string): string => createHash('sha256').update(text).digest('hex');
    const journal = (to: string, staged: string, before: string, after: string): void => {
      mkdirSync(path.join(plans, '.zeitwort'), { recursive: true });
      const step = { to, staged, before: hash(before), after: hash(after) };
      writeFileSync(
        path.join(plans, '.zeitwort/edit.json'),
        JSON.stringify({
          version: 3,
          pid: GONE,
          host: hostname(),
          state: 'writing',
          steps: [step],
        }),
      );
    };
    writeFileSync(path.join(root, 'other.json'), '1');
    writeFileSync(path.join(root, '.zeitwort-new-1-0'), '2');
    journal('../../other.json', '.zeitwort-new-1-0', '1', '2');
    expect(zeitwort(['fix'], plans)).toMatchObject({
      code: 2,
      err: expect.stringContaining('is not a file that an edit here may write'),
    });
    expect(textOf(root, 'other.json')).toBe('1');
    const before = textOf(root, 'shared/messages/all.en.json');
    const after = before.replace('Later.', 'Much later.');
    writeFileSync(path.join(root, 'shared/messages/.zeitwort-new-1-0'), after);
    journal('../../shared/messages/all.en.json', '.zeitwort-new-1-0', before, after);
    expect(zeitwort(['fix'], plans)).toMatchObject({
      code: 0,
      err: expect.stringContaining('finishing an edit'),
    });
    expect(textOf(root, 'shared/messages/all.en.json')).toBe(after);
  });

  test('git’s side of them: what is staged, what changed, and what a revision had', () => {
    const { root, plans } = services();
    git(root, 'init', '-q');
    git(root, 'add', '-A');
    git(root, 'commit', '-qm', 'one');
    const file = path.join(root, 'shared/messages/all.en.json');
    writeFileSync(file, readFileSync(file, 'utf8').replace('Please give', 'Please  give'));
    const changed = ['--changed', 'HEAD', '--format', 'json'];
    expect(found(zeitwort(['check', ...changed], plans))).toEqual([
      expect.stringMatching(/^spacing \.\.\/\.\.\/shared/),
    ]);
    const staged = ['check', '--staged', '--format', 'json'];
    expect(found(zeitwort(staged, plans))).toEqual([]);
    git(root, 'add', '-A');
    const expected = expect.stringMatching(
      /^spacing (?:\.\.\/\.\.\/)?shared\/messages\/all\.en\.json /,
    );
    expect(found(zeitwort(staged, plans))).toEqual([expected]);
    expect(found(zeitwort([...staged, '--workspace', 'services/plans'], root))).toEqual([expected]);
    const { out } = zeitwort(['diff', 'HEAD'], plans);
    expect(out).toContain('Please[- -]{+  +}give {label}.');
    // Another check without a change is told from what was kept, and is none after one.
    expect(zeitwort(['check', '--format', 'json'], plans).out).toBe(
      zeitwort(['check', '--format', 'json'], plans).out,
    );
    writeFileSync(file, readFileSync(file, 'utf8').replace('Please  give', 'Give'));
    expect(
      found(zeitwort(['check', '--format', 'json'], plans)).filter((one) =>
        one.startsWith('spacing'),
      ),
    ).toEqual([]);
  });
});

describe('two people at once, joined by git', () => {
  test('texts for one field and reviews of them join; where both mean one place, the mark is told with both sides', () => {
    const folder = folderWith({
      'zeitwort.yaml': 'locales: [en, de]\ntexts: messages/*.json\n',
      '.gitattributes': '*.review.jsonl merge=union\n',
      'rules/plan.yaml':
        'forms:\n  plan:\n    fields:\n      title: { required: true, type: string, minLength: 3, maxLength: 40, pattern: { regex: x, example: x }, external: { secret: {} } }\n',
      'messages/en.json':
        '{\n  "locale": "en",\n  "fields": {\n    "title": {\n      "label": "title",\n      "messages": {\n        "maxLength": "Too long.",\n        "required": "Give one.",\n        "type": "As text."\n      }\n    }\n  }\n}\n',
      'messages/de.json':
        '{\n  "locale": "de",\n  "fields": {\n    "title": {\n      "label": "Titel",\n      "messages": {\n        "maxLength": "Zu lang.",\n        "required": "Fehlt."\n      }\n    }\n  }\n}\n',
    });
    const set = (rule: string, text: string, locale = 'en'): void => {
      expect(
        zeitwort(['set', '--locale', locale, '--field', 'title', '--rule', rule, text], folder)
          .code,
      ).toBe(0);
    };
    const mark = (state: string): void => {
      expect(zeitwort(['review', '--locale', 'de', '--mark', state], folder).code).toBe(0);
    };
    git(folder, 'init', '-q');
    git(folder, 'add', '-A');
    mark('translated');
    git(folder, 'add', '-A');
    git(folder, 'commit', '-qm', 'base');
    git(folder, 'checkout', '-qb', 'hers');
    set('minLength', 'Too short.');
    mark('reviewed');
    set('required', 'Titel fehlt.', 'de');
    git(folder, 'commit', '-qam', 'hers');
    git(folder, 'checkout', '-q', 'main');
    set('secret', 'Nobody sees it.', 'en');
    mark('final');
    git(folder, 'commit', '-qam', 'his');
    git(folder, 'merge', '-q', '-m', 'both', 'hers');
    expect(
      Object.keys(
        (jsonOf(folder, 'messages/en.json').fields?.title as { messages: object }).messages,
      ),
    ).toEqual(['maxLength', 'minLength', 'required', 'secret', 'type']);
    expect(zeitwort(['check', '--format', 'json'], folder).code).not.toBe(2);
    const { out } = zeitwort(['review', '--locale', 'de', '--format', 'json'], folder);
    const states = (JSON.parse(out) as { state: string }[]).map(({ state }) => state);
    // Of two opinions on one text the more careful one is heard.
    expect([states.includes('reviewed'), states.includes('final')]).toEqual([true, false]);
    git(folder, 'checkout', '-qb', 'theirs');
    set('pattern', 'An x.');
    git(folder, 'commit', '-qam', 'theirs');
    git(folder, 'checkout', '-q', 'main');
    set('pattern', 'One x.');
    git(folder, 'commit', '-qam', 'ours');
    expect(() => git(folder, 'merge', '-q', 'theirs')).toThrow();
    expect(zeitwort(['check'], folder).err).toMatch(
      /^zeitwort: messages\/en\.json:\d+:1: git left a merge open here: one side says "pattern": "One x\.", the other "pattern": "An x\."/,
    );
  });
});
