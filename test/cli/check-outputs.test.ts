import { describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { copyOf, folderWith, zeitwort } from '../support/program.js';

interface SarifResult {
  ruleId: string;
  ruleIndex: number;
  level: string;
  message: { text: string };
  locations: { physicalLocation: { region: { startLine: number } } }[];
  partialFingerprints: Record<string, string>;
}

interface Found {
  kind: string;
  severity: string;
  line?: number;
  message: string;
}

const settings = (more: string): string =>
  `original: en\nlocales: [en, de]\ntexts: [messages/*.json]\nrules: [rules/*.yaml]\n${more}`;
/**
 * One warning in each of two languages: a message whose end is unlike all others, and a vague one.
 */
const texts = (locale: string, extra: Record<string, unknown> = {}): Record<string, unknown> => ({
  locale,
  messages: {
    required: `Give  {label}.`,
    maxLength: { text: '{label_start} is wrong.', ...extra },
    ...(locale === 'en' ? { odd: 'x.' } : {}),
  },
  fields: {
    visitor: { label: 'a' },
    day: { label: 'b' },
    guests: { label: 'c' },
    'guests[*]': { label: 'd {guests_number}' },
    'guests[*].name': { label: 'e' },
  },
});
const small = (more = '', extra = {}): string =>
  copyOf('small', {
    'zeitwort.yaml': settings(more),
    'messages/en.json': JSON.stringify(texts('en', extra), undefined, 2),
    'messages/de.json': JSON.stringify(texts('de'), undefined, 2),
  });
const findings = (folder: string, ...args: string[]): Found[] =>
  (
    JSON.parse(zeitwort(['check', '--format', 'json', ...args], folder).out) as {
      findings: Found[];
    }
  ).findings;
const kinds = (folder: string, ...args: string[]): string[] =>
  findings(folder, ...args).map(({ kind, severity }) => `${kind} ${severity}`);

const all = [
  'unused-message warning',
  'vague-message warning',
  'spacing warning',
  'spacing warning',
];

describe('what is reported', () => {
  test('--kind, --skip-kind and --fail-on', () => {
    const folder = small();
    expect(kinds(folder)).toEqual(all);
    expect(kinds(folder, '--kind', 'spacing')).toEqual(['spacing warning', 'spacing warning']);
    expect(kinds(folder, '--skip-kind', 'spacing,unused-message')).toEqual([
      'vague-message warning',
    ]);
    expect(zeitwort(['check', '--kind', 'spacng'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining(
        'there is no kind of finding "spacng" (did you mean "spacing"?)',
      ),
    });
    const codes = ['error', 'warning', 'never'].map(
      (severity) => zeitwort(['check', '--fail-on', severity], folder).code,
    );
    expect(codes).toEqual([0, 1, 0]);
    expect(zeitwort(['check', '--fail-on', 'never'], copyOf('broken')).code).toBe(0);
  });

  test('severity and scope by zeitwort.yaml: kind, locale, form, path; the last that speaks of it', () => {
    expect(kinds(small('checks: { spacing: off, vague-message: error }\n'))).toEqual([
      'unused-message warning',
      'vague-message error',
    ]);
    const scoped =
      'checks:\n  spacing: [ { severity: error }, { severity: off, locales: [de] } ]\n  missing-label: { severity: warning, forms: [visitor-pass], paths: ["guests[*].*"] }\n';
    expect(kinds(small(scoped)).filter((one) => one.startsWith('spacing'))).toEqual([
      'spacing error',
    ]);
    expect(zeitwort(['check'], small('checks: { spacng: off }\n'))).toMatchObject({
      code: 2,
      err: expect.stringMatching(/zeitwort\.yaml:5:11: there is no kind of finding "spacng"/),
    });
    expect(
      zeitwort(['check'], small('checks: { tie: { severity: off, paths: ["a["] } }\n')),
    ).toMatchObject({
      code: 2,
      err: expect.stringContaining('"a[" is not a path'),
    });
  });

  test('an entry is excused with a reason; an excuse that excuses nothing is a finding', () => {
    expect(
      kinds(
        small('', { excused: { 'vague-message': 'the bound is shown beside the input' } }),
      ).filter((one) => one.startsWith('vague')),
    ).toEqual([]);
    const unused = findings(
      small('', { excused: { 'vague-message': 'x', tie: 'never', spacng: 'x', spacing: '' } }),
    ).filter(({ kind }) => kind === 'unused-excuse' || kind === 'wrong-structure');
    expect(unused.map(({ kind, message }) => [kind, message])).toEqual([
      ['wrong-structure', 'An excuse is a reason, as a text.'],
      ['unused-excuse', 'This text has no finding "tie" to excuse. Remove the excuse.'],
      [
        'unused-excuse',
        'There is no kind of finding "spacng" (did you mean "spacing"?). Correct the excuse.',
      ],
    ]);
  });

  test('a baseline: what is known stays silent while lines move, what is new is told, what is mended is dropped', () => {
    const folder = small();
    expect(
      zeitwort(
        ['check', '--baseline', 'known.json', '--write-baseline', '--fail-on', 'warning'],
        folder,
      ).code,
    ).toBe(0);
    const file = path.join(folder, 'messages/en.json');
    writeFileSync(
      file,
      `// a line more\n${readFileSync(file, 'utf8').replace('"odd"', '"new": "y.", "odd"')}`,
    );
    expect(findings(folder, '--baseline', 'known.json').map(({ message }) => message)).toEqual([
      expect.stringContaining('uses "new"'),
    ]);
    const again = zeitwort(['check', '--baseline', 'known.json', '--fail-on', 'warning'], folder);
    expect([again.code, again.out]).toEqual([
      1,
      expect.stringMatching(/The baseline keeps \d known findings? silent\.\n$/),
    ]);
    writeFileSync(file, readFileSync(file, 'utf8').replace('Give  ', 'Give '));
    zeitwort(['check', '--baseline', 'known.json', '--write-baseline'], folder);
    const lines = readFileSync(path.join(folder, 'known.json'), 'utf8')
      .split('\n')
      .filter((line) => line.includes('"id"'));
    expect(lines).toHaveLength(4);
    expect(zeitwort(['check', '--baseline', 'zeitwort.yaml'], folder).code).toBe(2);
    expect(zeitwort(['check', '--write-baseline'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining('goes with --baseline FILE'),
    });
  });

  test('--min-coverage, of all and by locale', () => {
    const folder = copyOf('broken');
    const of = (...args: string[]): [number | null, string] => {
      const { code, err } = zeitwort(
        ['check', '--fail-on', 'never', ...args.flatMap((one) => ['--min-coverage', one])],
        folder,
      );
      return [code, err];
    };
    expect(of('98', 'en=100', 'pl=96')).toEqual([0, '']);
    expect(of('100')).toEqual([1, 'zeitwort: the coverage is 99 %, and 100 % is asked for.\n']);
    expect(of('90', 'pl=99')).toEqual([
      1,
      'zeitwort: the coverage of pl is 97 %, and 99 % is asked for.\n',
    ]);
    expect(of('much')[0]).toBe(2);
  });

  test('--changed: what a git revision touched', () => {
    const folder = small();
    const git = (...args: string[]): void => {
      execFileSync('git', ['-c', 'user.name=t', '-c', 'user.email=t@x.example', ...args], {
        cwd: folder,
        stdio: 'ignore',
      });
    };
    git('init', '-q');
    git('add', '.');
    git('commit', '-qm', 'x');
    expect(findings(folder, '--changed', 'HEAD')).toEqual([]);
    const file = path.join(folder, 'messages/de.json');
    writeFileSync(file, readFileSync(file, 'utf8').replace('Give  ', 'Give   '));
    expect(kinds(folder, '--changed', 'HEAD')).toEqual(['spacing warning']);
    git('add', '.');
    git('commit', '-qm', 'y');
    expect(kinds(folder, '--changed', 'HEAD~1..HEAD')).toEqual(['spacing warning']);
    writeFileSync(
      path.join(folder, 'messages/more.json'),
      JSON.stringify({ locale: 'en', messages: { other: 'y.' } }),
    );
    expect(kinds(folder, '--changed', 'HEAD')).toEqual(['unused-message warning']);
    expect(zeitwort(['check', '--changed', 'nowhere'], folder)).toMatchObject({
      code: 2,
      err: expect.stringMatching(/git cannot tell what changed: there is no revision "nowhere"/),
    });
  });
});

describe('what git has staged', () => {
  test('is checked whatever the work tree holds; what the last commit had already is not told', () => {
    const folder = copyOf('small');
    const file = path.join(folder, 'messages/en.json');
    const git = (...args: string[]): void => {
      execFileSync('git', ['-c', 'user.name=a', '-c', 'user.email=a@domain.example', ...args], {
        cwd: folder,
        stdio: 'ignore',
      });
    };
    const text = readFileSync(file, 'utf8');
    const spaced = text.replace('visitor’s name', 'visitor’s  name');
    const staged = (...args: string[]): string[] => kinds(folder, '--staged', ...args);
    git('init', '-q');
    git('add', '-A');
    // There is no commit yet, and then all of it is new.
    writeFileSync(file, spaced);
    expect(staged()).toEqual([]);
    git('add', '-A');
    writeFileSync(file, text);
    expect(staged()).toEqual(['spacing warning']);
    expect(zeitwort(['check'], folder).out).toContain('0 warnings');
    git('commit', '-qm', 'x');
    expect(staged()).toEqual([]);
    // A rule that is staged shows in the catalogs' lack, wherever that is.
    const sheet = path.join(folder, 'rules/visitor-pass.yaml');
    writeFileSync(
      sheet,
      readFileSync(sheet, 'utf8').replace(
        /( +)visitor: +\{/,
        '$1escort: { external: { here: {} } }\n$&',
      ),
    );
    git('add', 'rules');
    const out = zeitwort(['check', '--staged', 'messages/en.json', '--format', 'json'], folder).out;
    const { findings } = JSON.parse(out) as { findings: { kind: string; file: string }[] };
    expect(findings.map(({ kind, file: at }) => `${kind} ${at}`)).toEqual(
      expect.arrayContaining([
        'missing-message rules/visitor-pass.yaml',
        'missing-label rules/visitor-pass.yaml',
      ]),
    );
    expect(findings.filter(({ kind }) => kind === 'spacing')).toEqual([]);
    expect(kinds(folder, '--kind', 'spacing,missing-label', 'messages/en.json')).toEqual([]);
    // A merge that is open has no one text of a file.
    git('commit', '-qm', 'y');
    git('checkout', '-qb', 'other', 'HEAD~1');
    writeFileSync(sheet, `${readFileSync(sheet, 'utf8')}# another end\n`);
    git('commit', '-qam', 'z');
    git('checkout', '-q', '-');
    writeFileSync(sheet, `${readFileSync(sheet, 'utf8')}# an end\n`);
    git('commit', '-qam', 'w');
    expect(() => {
      git('merge', '-q', 'other');
    }).toThrow();
    expect(zeitwort(['check', '--staged'], folder)).toMatchObject({
      code: 2,
      err: expect.stringContaining('rules/visitor-pass.yaml: git has no one text of this file'),
    });
    expect(zeitwort(['check', '--staged', '--watch'], folder).code).toBe(2);
    expect(zeitwort(['check', '--staged'], copyOf('small'))).toMatchObject({
      code: 2,
      err: expect.stringContaining('git cannot tell'),
    });
  });
});

describe('how it is printed', () => {
  const broken = copyOf('broken');
  const places = findings(broken);

  test('text: by file, with the line and a caret under the place, a bar a locale', () => {
    const { out } = zeitwort(['check', '--all'], broken);
    expect(out).toContain('  5 |     "requird": "Please give {label}.",\n    |     ^\n');
    expect(out).toMatch(/^de {2}█{20} {2}100 %\npl {2}█{19}░ {2}97 %$/m);
    const files = [...out.matchAll(/^(\S+):\d+:\d+ {2}(?:error|warning|info)/gm)].map(
      ([, file]) => file,
    );
    expect(new Set(files).size).toBe(files.filter((file, at) => file !== files[at - 1]).length);
  });

  test('text: what has one cause is told once, the gravest first, and counted by kind where there is much', () => {
    const folder = folderWith({
      'zeitwort.yaml':
        'locales: [en, de, sq]\nproblems: {}\ntexts: [texts/*.json]\nrules: [rules.yaml]\n',
      'rules.yaml':
        'forms:\n  tram:\n    fields:\n      number: { type: integer }\n      plate: { pattern: x }\n  shift:\n    fields:\n      number: { type: integer }\n',
      'texts/en.json': {
        locale: 'en',
        fields: { plate: { label: 'plate' }, '': { label: 'body' } },
      },
      'texts/de.json': {
        locale: 'de',
        fields: { plate: { label: 'Kennzeichen' }, '': { label: 'Inhalt' } },
      },
      'texts/sq.json': {
        locale: 'sq',
        fields: { plate: { label: 'targa' }, '': { label: 'kërkesa' } },
      },
    });
    const { out } = zeitwort(['check', '--kind', 'missing-label,no-example'], folder);
    expect(out).toContain(
      'rules.yaml:4:7  error missing-label\n  number has no label in en, de and sq; ',
    );
    expect(out).toContain('  also at rules.yaml:8:7\n');
    expect(out.match(/missing-label/g)).toHaveLength(1);
    expect(out.indexOf('warning no-example')).toBeGreaterThan(out.indexOf('error missing-label'));
    const all = zeitwort(['check', '--kind', 'missing-label', '--all'], folder).out;
    expect(all.match(/missing-label/g)).toHaveLength(6);
    const much = zeitwort(['check'], folder).out;
    expect(much).toMatch(
      /^\d+ more causes\. All findings, by kind; --all prints each, and --kind one kind:$/m,
    );
    expect(much).toMatch(/^ *6 {2}error +missing-label$/m);
    // Of an old project with very much it fits a screen, and says where to begin: what is gravest
    // and mends most.
    const old = { label: 'old  one', messages: { requird: 'Is  wrong.' } };
    const fields = Object.fromEntries(Array.from({ length: 90 }, (_, at) => [`old${at}`, old]));
    writeFileSync(path.join(folder, 'texts/en.json'), JSON.stringify({ locale: 'en', fields }));
    const { out: very } = zeitwort(['check'], folder);
    expect(very).toMatch(/^\d{3} findings of \d{3} causes, by kind:$/m);
    expect(very.trim().split('\n').length).toBeLessThan(48);
    const first = very.slice(very.indexOf('To begin with, since it mends most:'));
    expect(first.match(/^\S+ {2}error (\S+)$/gm)).toHaveLength(3);
    expect(first).toContain('number has no label in en, de and sq');
  });

  test('SARIF 2.1.0: rules, regions, fingerprints, by its own words', () => {
    const sarif = JSON.parse(zeitwort(['check', '--format', 'sarif'], broken).out) as {
      version: string;
      runs: {
        columnKind: string;
        tool: { driver: { rules: { id: string; shortDescription: { text: string } }[] } };
        results: SarifResult[];
      }[];
    };
    const [run] = sarif.runs;
    expect([sarif.version, run?.columnKind, run?.results.length]).toEqual([
      '2.1.0',
      'utf16CodeUnits',
      places.length,
    ]);
    for (const [at, one] of (run?.results ?? []).entries()) {
      const line = one.locations[0]?.physicalLocation.region.startLine;
      expect(run?.tool.driver.rules[one.ruleIndex]?.id).toBe(one.ruleId);
      expect([one.level, one.message.text, line]).toEqual([
        places[at]?.severity === 'info' ? 'note' : places[at]?.severity,
        // Brackets make links in messages of SARIF, braces placeholders.
        places[at]?.message.replace(/[\\[\]]/g, '\\$&').replace(/[{}]/g, '$&$&'),
        places[at]?.line,
      ]);
    }
    const ids = (run?.results ?? []).map((result) => JSON.stringify(result.partialFingerprints));
    expect(new Set(ids).size).toBe(ids.length);
  });

  test('JUnit: counts that add up, everything escaped', () => {
    const { out } = zeitwort(['check', '--format', 'junit'], broken);
    const count = (regex: RegExp): number => out.match(regex)?.length ?? 0;
    const grave = places.filter(({ severity }) => severity !== 'info').length;
    expect([count(/<failure /g), count(/<testcase /g)]).toEqual([
      grave,
      Number(/tests="(\d+)"/.exec(out)?.[1]),
    ]);
    expect(out).toContain(`failures="${grave}" errors="0">`);
    // Every tag is closed, and no bare sign is left in a text.
    expect(count(/<testsuite /g)).toBe(count(/<\/testsuite>/g));
    expect(out.replace(/<[^<>]*>|&(?:amp|lt|gt|quot);/g, '')).not.toMatch(/[<>&]/);
  });

  test('markdown: a line, the coverage, a row a finding', () => {
    const { out } = zeitwort(['check', '--format', 'markdown'], broken);
    expect(out).toMatch(
      /^\*\*99 % covered\*\*, 18 errors, 33 warnings\n\n\| en \| de \| pl \|\n\| --- \| --- \| --- \|\n\| 100 % \| 100 % \| 97 % \|\n/,
    );
    expect(out.match(/^\| (?:error|warning|info) \|/gm)).toHaveLength(places.length);
  });
});
