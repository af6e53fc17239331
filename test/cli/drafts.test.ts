// Drafts: what they are to clients, and what `check` makes of them.
import { describe, expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { git } from '../support/git.js';
import { copyOf, textOf, zeitwort } from '../support/program.js';

const write = (folder: string, file: string, text: string): void => {
  writeFileSync(path.join(folder, file), text);
};

describe('drafts', () => {
  test('have the plural cases of their language, and stand before no label of a wider pattern', () => {
    const folder = copyOf('small', {
      'zeitwort.yaml': 'original: en\nlocales: [en, pl]\nrules: [r.yaml]\n',
      'r.yaml':
        'forms: { visit: { fields: { fee.amount: { maximum: 2 }, tip.amount: { maximum: 2 } } } }\n',
      'messages/en.json': {
        locale: 'en',
        messages: { maximum: 'At most {max, plural, one {# euro} other {# euros}}.' },
        fields: { 'fee.amount': { label: 'fee' }, 'tip.amount': { label: 'tip' } },
      },
      'messages/pl.json': {
        locale: 'pl',
        fields: { '..amount': { label: 'kwota' }, 'tip.amount': { label: 'napiwek' } },
      },
    });
    expect(zeitwort(['fill', '--locale', 'pl'], folder).code).toBe(0);
    const cases = ['one {# euro}', ...['few', 'many', 'other'].map((one) => `${one} {# euros}`)];
    expect(JSON.parse(textOf(folder, 'messages/pl.json'))).toEqual({
      locale: 'pl',
      messages: { maximum: `At most {max, plural, ${cases.join(' ')}}.` },
      fields: { '..amount': { label: 'kwota' }, 'tip.amount': { label: 'napiwek' } },
    });
    const check = (...more: string[]): number | null =>
      zeitwort(['check', '--locale', 'pl', ...more], folder).code;
    expect([check('--fail-on', 'info'), check('--fail-on', 'never')]).toEqual([1, 0]);
  });

  test('change nothing of what check finds, and count for what clients read instead', () => {
    const folder = copyOf('observatory');
    const settings = textOf(folder, 'zeitwort.yaml');
    write(folder, 'zeitwort.yaml', settings.replace(/locales: \[(.*)\]/, 'locales: [$1, es]'));
    interface Told {
      readonly coverage: readonly { readonly locales: Readonly<Record<string, string>> }[];
      readonly findings: readonly { readonly kind: string; readonly message: string }[];
    }
    const told = (): [states: string[], findings: string[]] => {
      const { out } = zeitwort(['check', '--locale', 'es', '--format', 'json'], folder);
      const { coverage, findings } = JSON.parse(out) as Told;
      const others = findings.filter(({ kind }) => kind !== 'unreviewed');
      return [
        coverage.map(({ locales }) => locales.es ?? ''),
        others.map(({ kind, message }) => `${kind} ${message}`),
      ];
    };
    const before = told();
    expect(before[0]).toContain('fallback');
    expect(zeitwort(['fill', '--locale', 'es'], folder).code).toBe(0);
    const after = told();
    expect(after[0]).toEqual(before[0].map((one) => (one === 'fallback' ? 'draft' : one)));
    expect(after[1]).toEqual(before[1]);
    zeitwort(['review', '--locale', 'es', '--mark', 'translated'], folder);
    expect(told()[0]).not.toContain('draft');
  });

  test('what a form lacks is drafted, shown as drafts, and no change to clients until released', () => {
    const folder = copyOf('small', {
      'zeitwort.yaml': 'original: en\nlocales: [en, de]\nrules: [r.yaml]\n',
      'r.yaml': `forms:
  visit: { request: POST /visits, fields: { host: { maxLength: 9 }, 'guests[*].seat': { minimum: 1 } } }
  tour: { fields: { guide: { minLength: 2 } } }
`,
      'messages/en.json': {
        locale: 'en',
        messages: { maxLength: 'Too long.', minLength: 'Too short.' },
        fields: { host: { label: 'host' }, guide: { label: 'guide' }, '..seat': { label: 'seat' } },
      },
      'messages/de.json': { locale: 'de' },
    });
    for (const words of [
      ['init', '-q'],
      ['add', '.'],
      ['commit', '-qm', 'x'],
    ])
      git(folder, ...words);
    zeitwort(['fill', '--locale', 'de', '--form', 'visit'], folder);
    expect(JSON.parse(textOf(folder, 'messages/de.json'))).toEqual({
      locale: 'de',
      messages: { maxLength: 'Too long.' },
      fields: { host: { label: 'host' }, '..seat': { label: 'seat' } },
    });
    const shown = zeitwort(['show', '--locale', 'de'], folder).out;
    expect(shown).toMatch(/^host: label +host \(draft\)$/m);
    expect(shown).toMatch(/^guide: label +\(reads en\)$/m);
    expect(shown).toMatch(/^minLength +\(starter\)$/m);
    const diff = (): string => zeitwort(['diff'], folder).out;
    expect(diff()).toMatch(
      /^host label {2}de {2}added \(draft\)$[^]+Nothing changed for clients: they read no drafts\.\n$/m,
    );
    git(folder, 'add', '.');
    git(folder, 'commit', '-qm', 'y');
    zeitwort(['review', '--locale', 'de', '--mark', 'translated'], folder);
    expect(diff()).toMatch(
      /^host label {2}de {2}released$[^]+3 released[^]+texts read differently/m,
    );
    git(folder, 'commit', '-qam', 'z');
    // Coverage over time tells the same: nothing, drafts, and texts that clients read.
    const { out } = zeitwort(['check', '--format', 'json', '--history', '5'], folder);
    const { history } = JSON.parse(out) as {
      history: { commit?: string; locales: Record<string, Record<string, number>> }[];
    };
    expect(history.map(({ commit, locales }) => [commit?.length, locales.de?.written])).toEqual([
      [40, 0],
      [40, 0],
      [40, 1],
      [undefined, 1],
    ]);
    const page = zeitwort(['report', '--locale', 'de', '--out', '-'], folder).out;
    expect(page).toMatch(/<h2 id="time">[^]+At the last 3 commits/);
    expect(page).toMatch(/"original":"en"[^]*"\|host\|label\|"/);
    expect(page).not.toMatch(/messages\/de\.json:\d/);
    zeitwort(['rename', 'field', 'guests', 'people'], folder);
    expect(diff()).toMatch(
      /^ {2}visit guests: renamed to people; pointers of errors change$[^]+1 field changed; 0 codes[^]+Clients break/m,
    );
  });

  test('are no texts for clients unless the workspace says so, and why tells it', () => {
    const folder = copyOf('small');
    const settings = textOf(folder, 'zeitwort.yaml');
    const said = (): unknown =>
      JSON.parse(
        zeitwort(
          ['render', '-', '--locale', 'nl'],
          folder,
          '{"form":"visitor-pass","violations":[{"path":"visitor","rule":"required"}]}',
        ).out,
      );
    expect(zeitwort(['fill', '--locale', 'nl'], folder).code).toBe(0);
    const nl = (): string => JSON.stringify(said());
    // The draft is the original's text; the starter's sentence is Dutch, with the original's label
    // in it.
    const withheld = nl();
    expect(
      zeitwort(['why', 'visitor-pass', 'visitor', 'required', '--locale', 'nl'], folder).out,
    ).toContain('passed over, a draft that nobody has looked at');
    const why = zeitwort(
      ['why', 'visitor-pass', 'visitor', 'required', '--locale', 'nl', '--format', 'json'],
      folder,
    ).out;
    expect(why).toMatch(/"draft": true,\s+"text": "[^"]+",\s+"file": "messages\/nl\.json"/);
    writeFileSync(
      path.join(folder, 'zeitwort.yaml'),
      `${textOf(folder, 'zeitwort.yaml')}drafts: served\n`,
    );
    const served = nl();
    expect(served).not.toBe(withheld);
    writeFileSync(
      path.join(folder, 'zeitwort.yaml'),
      textOf(folder, 'zeitwort.yaml').replace('drafts: served\n', ''),
    );
    expect(nl()).toBe(withheld);
    expect(zeitwort(['review', '--locale', 'nl', '--mark', 'reviewed'], folder).code).toBe(0);
    expect(nl()).toBe(served);
    // A text that somebody writes is not a draft.
    expect(zeitwort(['review', '--locale', 'nl', '--mark', 'initial'], folder).code).toBe(0);
    expect(nl()).toBe(withheld);
    expect(
      zeitwort(['set', '--locale', 'nl', '--rule', 'required', 'Vul {label} in.'], folder).code,
    ).toBe(0);
    expect(nl()).toContain('Vul ');
    expect(settings).not.toContain('drafts');
  });
});
