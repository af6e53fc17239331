import { describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { copyOf, folderWith, jsonOf, textOf, zeitwort } from '../support/program.js';
import { git } from '../support/git.js';

function committed(which: 'observatory' | 'small' | 'broken' = 'observatory'): string {
  const folder = copyOf(which);
  git(folder, 'init', '-q');
  git(folder, 'add', '.');
  git(folder, 'commit', '-qm', 'x');
  return folder;
}

const changes = (folder: string): string[] =>
  git(folder, 'diff', '--unified=0')
    .split('\n')
    .filter((line) => /^[+-](?![+-])/.test(line));

describe('set and unset', () => {
  const title = ['--locale', 'de', '--field', 'title'];

  test('change one place of one file; unset gives it back to the letter', () => {
    const folder = committed();
    expect(
      zeitwort(['set', ...title, '--rule', 'maxLength', 'Höchstens {max} Zeichen.'], folder),
    ).toMatchObject({
      code: 0,
      out: 'Set title maxLength in de (1 file: messages/de.json)\n',
    });
    expect(changes(folder)).toEqual([
      expect.stringMatching(/^-.*"title"/),
      expect.stringMatching(
        /^\+ {4}"title": \{ "label": .* \}, "messages": \{ "maxLength": "Höchstens \{max\} Zeichen\." \} \},$/,
      ),
    ]);
    expect(
      zeitwort(
        ['try', 'payloads/bad-proposal.json', '--form', 'observing-proposal', '--locale', 'de'],
        folder,
      ).code,
    ).toBe(1);
    expect(zeitwort(['unset', ...title, '--rule', 'maxLength'], folder).code).toBe(0);
    expect(changes(folder)).toEqual([]);
  });

  test('--dry-run prints a unified diff that git applies, and writes nothing', () => {
    const folder = committed();
    const { out } = zeitwort(
      ['set', ...title, '--label', '--inflected', 'dative', '--dry-run', 'dem Titel'],
      folder,
    );
    expect(changes(folder)).toEqual([]);
    const { status } = spawnSync('git', ['apply', '-'], { cwd: folder, input: out });
    expect([status, changes(folder)[1]]).toEqual([
      0,
      expect.stringContaining('"dative": "dem Titel"'),
    ]);
  });

  test('a text that breaks the syntax, an unknown form, half a surrogate pair: refused with place and reason', () => {
    const folder = copyOf('observatory');
    const before = textOf(folder, 'messages/de.json');
    const cases: [string[], RegExp][] = [
      [
        [...title, '--rule', 'maxLength', 'Höchstens {max'],
        /the text for title maxLength is refused at character 11: .*close what was opened/,
      ],
      [
        [...title, '--rule', 'x', '--form', 'night-lag', 'x'],
        /there is no form "night-lag" \(did you mean "night-log"\?\)/,
      ],
      [
        ['--locale', 'de', 'x'],
        /name one text, with --rule, --label, --choice, --problem, --frame or --word/,
      ],
      [['--locale', 'de', '--label', 'x'], /name the field with --field/],
      [['--locale', 'fi', '--rule', 'x', 'x'], /fi is not a locale/],
      [
        ['--locale', 'de', '--rule', 'required', '--into', '../x.json', 'x'],
        /is outside of the workspace/,
      ],
      [
        ['--locale', 'de', '--rule', 'required', '--into', 'messages/en.json', 'x'],
        /is the catalog of en, not of de/,
      ],
    ];
    for (const [args, said] of cases)
      expect(zeitwort(['set', ...args], folder)).toMatchObject({
        code: 2,
        err: expect.stringMatching(said),
      });
    expect(zeitwort(['unset', ...title, '--rule', 'maxLength'], folder).code).toBe(2);
    expect(textOf(folder, 'messages/de.json')).toBe(before);
  });

  test('a text of one form begins a catalog of that form; an argument that nothing gives is refused', () => {
    const folder = copyOf('observatory');
    const about = [
      '--locale',
      'de',
      '--form',
      'visitor-pass',
      '--field',
      'guests',
      '--rule',
      'maximum',
    ];
    expect(zeitwort(['set', 'Höchstens {maximum}.', ...about], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining('the text asks for {maximum}, which nothing gives there'),
    });
    expect(zeitwort(['set', 'Höchstens {max}.', ...about], folder).code).toBe(0);
    expect(jsonOf(folder, 'messages/visitor-pass.de.json')).toMatchObject({
      form: 'visitor-pass',
      fields: { guests: { messages: { maximum: 'Höchstens {max}.' } } },
    });
    expect(zeitwort(['check'], folder).code).toBe(0);
  });

  test('a byte order mark and CR LF stay', () => {
    const folder = copyOf('small');
    const file = path.join(folder, 'messages/en.json');
    const before = `\uFEFF${readFileSync(file, 'utf8').replaceAll('\n', '\r\n')}`;
    writeFileSync(file, before);
    zeitwort(['set', '--locale', 'en', '--rule', 'required', 'Give {label}!'], folder);
    const after = readFileSync(file, 'utf8');
    expect([
      after.startsWith('\uFEFF{\r\n'),
      /[^\r]\n/.test(after),
      after.includes('Give {label}!'),
    ]).toEqual([true, false, true]);
  });
});

describe('rename, move and fill', () => {
  test('a field in the settings of checks, and as a member of which some have to be given', () => {
    const folder = folderWith({
      'zeitwort.yaml':
        'original: en\nchecks:\n  too-long: { severity: off, paths: [ lead.email ] }\n  spacing: [ { severity: info, paths: [title, lead] } ]\n',
      'rules/a.yaml': `forms:
  a:
    fields:
      title: { maxLength: 3 }
      lead: { atLeastOne: [email, phone] }
      '': { exactlyOne: { members: [lead, title] } }
      lead.email: { maxLength: 9 }
      lead.phone: { maxLength: 9 }
`,
      'messages/en.json': { locale: 'en' },
    });
    expect(zeitwort(['rename', 'field', 'lead.email', 'lead.mail'], folder).code).toBe(0);
    expect(zeitwort(['rename', 'field', 'lead', 'head'], folder).code).toBe(0);
    expect(textOf(folder, 'zeitwort.yaml')).toContain(
      'paths: [ head.mail ] }\n  spacing: [ { severity: info, paths: [title, head] } ]',
    );
    const sheet = textOf(folder, 'rules/a.yaml');
    expect(sheet).toContain('head: { atLeastOne: [mail, phone] }');
    expect(sheet).toContain('members: [head, title]');
    expect(zeitwort(['check'], folder).out).not.toContain('unknown-field');
    expect(zeitwort(['rename', 'field', 'head.mail', 'mail'], folder).out).toContain(
      'rules/a.yaml names the field as a member of head, where it is no more',
    );
  });

  test('a rule, a field with its arguments, a form: everywhere, and the check stays clean', () => {
    const folder = committed();
    expect(zeitwort(['rename', 'rule', 'too-faint', 'beyond-reach'], folder).out).toMatch(
      /^ {2}rules\/observing-proposal\.yaml:22:91 {2}beyond-reach\n {2}messages\/ar\.json:5:5/,
    );
    expect(zeitwort(['rename', 'field', 'targets', 'sky.objects'], folder).code).toBe(0);
    expect(zeitwort(['rename', 'form', 'night-log', 'log'], folder).code).toBe(0);
    const sheet = textOf(folder, 'rules/observing-proposal.yaml');
    expect(sheet).toContain("'sky.objects[*].magnitude':      { type: number");
    expect(textOf(folder, 'messages/en.json')).toContain('"label": "target {objects_number}"');
    const { findings } = JSON.parse(zeitwort(['check', '--format', 'json'], folder).out) as {
      findings: { kind: string; path: string }[];
    };
    // The new object around the field is new to the labels, and nothing else is amiss.
    expect(new Set(findings.map(({ kind, path: at }) => `${kind} ${at}`))).toEqual(
      new Set(['missing-label sky']),
    );
    expect(git(folder, 'diff', '--stat')).toMatch(/7 files changed/);
  });

  test.each([
    [['rule', 'required', 'x'], /is a rule of the vocabulary and keeps its name/],
    [['rule', 'too-faint', 'fits-the-night'], /there is a rule "fits-the-night" already/],
    [['rule', 'too-fant', 'x'], /no rule "too-fant" \(did you mean "too-faint"\?\)/],
    [['field', 'title', 'abstract'], /has a field at abstract already/],
    [['form', 'night-log', 'visitor-pass'], /there is a form "visitor-pass" already/],
  ])('rename %j is refused', (args, said) => {
    expect(zeitwort(['rename', ...args], copyOf('observatory'))).toMatchObject({
      code: 2,
      err: expect.stringMatching(said),
    });
  });

  test('texts move into a file of their own and back, their review along with them', () => {
    const folder = committed();
    zeitwort(['review', '--locale', 'de', '--mark', 'reviewed'], folder);
    const review = textOf(folder, 'messages/de.review.jsonl');
    expect(
      zeitwort(
        ['move', '--field', 'targets[*].exposures', '--to', 'messages/LOCALE.exposures.json'],
        folder,
      ).code,
    ).toBe(0);
    expect(Object.keys(jsonOf(folder, 'messages/de.exposures.json').fields ?? {})).toHaveLength(4);
    expect(zeitwort(['check', '--fail-on', 'warning'], folder).code).toBe(0);
    expect(
      zeitwort(['move', '--field', 'targets[*].exposures', '--to', 'messages/LOCALE.json'], folder)
        .code,
    ).toBe(0);
    expect(
      readdirSync(path.join(folder, 'messages')).filter((name) => name.includes('exposures')),
    ).toEqual([]);
    expect(textOf(folder, 'messages/de.review.jsonl')).toBe(review);
    const sorted = (file: string): unknown =>
      Object.entries(jsonOf(folder, file).fields ?? {}).sort();
    const now = sorted('messages/de.json');
    git(folder, 'checkout', '-q', 'messages/de.json');
    expect(now).toEqual(sorted('messages/de.json'));
    expect(
      zeitwort(['move', '--form', 'night-log', '--to', 'elsewhere/LOCALE.json'], folder).code,
    ).toBe(2);
  });

  test('moving a form tells which texts stay, since they are said of others too', () => {
    const sheet =
      'forms: { plan: { fields: { title: { required: true } } }, log: { fields: { title: { required: true } } }, pass: { fields: { door: { required: true } } } }\n';
    const folder = folderWith({
      'zeitwort.yaml':
        'original: en\nlocales: [en]\ntexts: [messages/*.json]\nrules: [rules.yaml]\n',
      'rules.yaml': sheet,
      'messages/en.json':
        '{ "locale": "en", "messages": { "required": "All." }, "fields": { "title": { "label": "title" }, "door": { "label": "door" } } }',
      'messages/both.json':
        '{ "locale": "en", "form": ["log", "plan"], "messages": { "required": "Both." } }',
      'messages/some.json':
        '{ "locale": "en", "form": "plan", "messages": { "required": "One." } }',
    });
    const stays =
      'what is said of others too stays: 1 entry in messages/both.json (said of log and plan), 1 entry in messages/en.json (said of all forms).';
    const to = ['--to', 'messages/own.json'];
    expect(zeitwort(['move', '--form', 'plan', ...to], folder)).toMatchObject({
      code: 0,
      err: expect.stringContaining(stays),
    });
    expect(textOf(folder, 'messages/own.json')).toContain('One.');
    expect(zeitwort(['move', '--form', 'log', ...to], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining(
        `nothing is said of that form alone, or it is in that file already; ${stays}`,
      ),
    });
  });

  test('fill adds a language whole: drafts of all, noted as initial, and it is one of the workspace', () => {
    const folder = committed();
    const { out } = zeitwort(['fill', '--locale', 'pt-PT'], folder);
    expect(out).toMatch(
      /Filled 80 texts in pt-PT \(3 files: zeitwort\.yaml, messages\/pt-PT\.json, messages\/pt-PT\.review\.jsonl\)\n$/,
    );
    expect(textOf(folder, 'zeitwort.yaml')).toContain('locales: [en, de, pl, ar, ja, pt-PT]');
    const missing = 'missing-message,missing-label,missing-problem';
    const check = ['check', '--locale', 'pt-PT', '--kind', missing];
    expect(zeitwort(check, folder).code).toBe(1);
    expect(
      zeitwort(
        ['review', '--locale', 'pt-PT', '--state', 'initial', '--format', 'json'],
        folder,
      ).out.match(/"state": "initial"/g),
    ).toHaveLength(80);
    expect(zeitwort(['fill', '--locale', 'pt-PT'], folder).out).toBe('Nothing to change.\n');
    expect(
      zeitwort(['fill', '--locale', 'de', '--from', 'starter', '--dry-run'], folder).out,
    ).toContain('+    "maxLength":');
    // Cases of German are no lack of Japanese.
    expect(zeitwort(['fill', '--locale', 'ja', '--from', 'de', '--dry-run'], folder).out).toBe('');
    expect(zeitwort(['fill', '--locale', 'abcdefghij'], folder).code).toBe(2);
    zeitwort(['review', '--locale', 'pt-PT', '--mark', 'translated'], folder);
    expect(zeitwort(check, folder).code).toBe(0);
  });
});

describe('review', () => {
  test('a translation is stale once its original changed, and tells the old original beside the new', () => {
    const folder = committed();
    zeitwort(['review', '--locale', 'de', '--mark', 'reviewed'], folder);
    expect(zeitwort(['check', '--fail-on', 'warning'], folder).code).toBe(0);
    zeitwort(['set', '--locale', 'en', '--field', 'title', '--label', 'headline'], folder);
    const { out } = zeitwort(['check', '--kind', 'stale'], folder);
    expect(out.replace(/\s+/g, ' ')).toContain('It was "title" and is "headline".');
    expect(zeitwort(['review', '--stale'], folder).out).toMatch(
      /title label {2}de {2}reviewed, stale\n {2}was +title\n {2}is now +headline\n {2}text +Titel/,
    );
    zeitwort(['set', '--locale', 'de', '--field', 'title', '--label', 'Überschrift'], folder);
    expect(zeitwort(['check', '--fail-on', 'warning'], folder).code).toBe(0);
    expect(
      zeitwort(['review', '--locale', 'de', '--state', 'translated', '--format', 'json'], folder)
        .out,
    ).toContain('Überschrift');
    const lines = textOf(folder, 'messages/de.review.jsonl').trimEnd().split('\n');
    expect([lines.length, lines]).toEqual([58, lines.toSorted()]);
  });

  test('a line that is none ends in one sentence with its number', () => {
    const folder = copyOf('observatory');
    writeFileSync(
      path.join(folder, 'messages/de.review.jsonl'),
      '{"keys":["messages","x"],"state":"final","text":"","source":""}\n{"keys":[]}\n',
    );
    expect(zeitwort(['check'], folder)).toMatchObject({
      code: 2,
      err: expect.stringMatching(
        /^zeitwort: messages\/de\.review\.jsonl:2:1: a line of the review has/,
      ),
    });
  });
});

describe('fix', () => {
  test('mends what is mechanical, takes wording out where it is asked to, and says what is left', () => {
    const folder = committed('broken');
    const { code, out, err } = zeitwort(['fix'], folder);
    expect(code).toBe(1);
    expect(err).toMatch(/^zeitwort: \d+ findings want somebody who knows what the texts mean/);
    const remove = /"zeitwort (fix --kind (\S+) --remove)" takes them out/.exec(err);
    const removed = zeitwort((remove?.[1] ?? '').split(' '), folder).out;
    for (const [kind, told] of [
      ['spacing', out],
      ['plural-gap', out],
      ['unused-excuse', out],
      ...(remove?.[2] ?? '').split(',').map((one) => [one, removed] as const),
    ] as const) {
      expect(told).toContain(`${kind}: `);
      expect(zeitwort(['check', '--kind', kind], folder).out).not.toMatch(
        new RegExp(`(error|warning) ${kind}`),
      );
    }
    expect(zeitwort(['fix', '--remove'], folder)).toMatchObject({ code: 2, out: '' });
    expect(textOf(folder, 'messages/pl.json')).toContain(
      '{min, plural, one {# znak} few {# znaku} many {# znaków} other {# znaku}}',
    );
    // Where the name that was meant is taken, both texts stay for somebody to look at.
    expect(textOf(folder, 'messages/en.json')).toContain('"requird"');
    const again = zeitwort(['fix', '--dry-run'], folder);
    expect(again.out.trim()).toBe('');
  });

  test('a field that is misspelt keeps its texts: it is renamed before anything unused goes', () => {
    const folder = folderWith({
      'zeitwort.yaml': 'locales: [en, de]\nrules: [r.yaml]\n',
      'r.yaml': 'forms:\n  booking:\n    fields:\n      guests: { required: true, minItems: 1 }\n',
      'messages/en.json': {
        locale: 'en',
        fields: { guests: { label: 'Guests', messages: { required: 'Give {label}.' } } },
      },
      'messages/de.json': {
        locale: 'de',
        fields: {
          gusts: {
            label: 'Gäste',
            messages: { required: 'Bitte {label} angeben.', minItem: 'Mindestens {min}.' },
          },
        },
      },
    });
    zeitwort(['fix'], folder);
    const { fields } = jsonOf(folder, 'messages/de.json');
    expect(fields).toEqual({
      guests: {
        label: 'Gäste',
        messages: { required: 'Bitte {label} angeben.', minItem: 'Mindestens {min}.' },
      },
    });
    zeitwort(['fix'], folder);
    expect(jsonOf(folder, 'messages/de.json').fields).toMatchObject({
      guests: { messages: { minItems: 'Mindestens {min}.' } },
    });
  });

  test('a misspelt key gets its name where nothing stands there; --kind and --dry-run', () => {
    const folder = copyOf('small');
    const file = path.join(folder, 'messages/en.json');
    writeFileSync(
      file,
      JSON.stringify({ locale: 'en', messages: { requird: 'Give  {label}.' } }, undefined, 2),
    );
    const { out } = zeitwort(
      ['fix', '--kind', 'unused-message', '--locale', 'en', '--dry-run'],
      folder,
    );
    expect(out).toContain('+    "required": "Give  {label}."');
    zeitwort(['fix', '--locale', 'en'], folder);
    expect(readFileSync(file, 'utf8')).toContain('"required": "Give {label}."');
    expect(zeitwort(['fix', '--kind', 'vague-message'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining('cannot be mended by machine'),
    });
  });
});
