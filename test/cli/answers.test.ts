import { describe, expect, test } from '@jest/globals';
import { copyOf, folderWith, zeitwort } from '../support/program.js';

const settings = (more: string): string =>
  `original: en\nlocales: [en, de]\ntexts: [messages/*.json]\nrules: [rules/*.yaml]\n${more}`;
const small = (more: string, files: Record<string, unknown> = {}): string =>
  copyOf('small', { 'zeitwort.yaml': settings(more), ...files });

describe('problems', () => {
  const folder = copyOf('observatory');

  test('are answered in any language and shape, with parameters', () => {
    const { code, out } = zeitwort(
      ['render', '--problem', 'telescope-closed', '--locale', 'de', '--with-headers'],
      folder,
    );
    expect(code).toBe(0);
    expect(out).toMatch(
      /^HTTP\/1\.1 409 Conflict\r\nContent-Type: application\/problem\+json\r\nContent-Language: de\r\n/,
    );
    const own = small('', {
      'messages/en.json': {
        locale: 'en',
        problems: { 'not-found': { detail: 'There is no {resource} {id, number}.' } },
      },
    });
    const asked = [
      'render',
      '--problem',
      'not-found',
      '--param',
      'resource=proposal',
      '--param',
      'id=4100',
      '--shape',
      'text',
      '--instance',
      '/x',
    ];
    expect(zeitwort([...asked, '--locale', 'en'], own).out).toBe(
      'Nothing found\nThere is no proposal 4,100.\n',
    );
    // A language that has no text of its own for it has the starter's.
    expect(zeitwort([...asked, '--locale', 'de'], own).out).toMatch(/^Nichts gefunden\n/);
  });

  test("RFC 9457's first example can be written to the letter", () => {
    const own = small(
      "body: { typeBase: 'https://example.com/probs/' }\nproblems: { out-of-credit: { status: 403 } }\n",
      {
        'messages/en.json': {
          locale: 'en',
          problems: {
            'out-of-credit': {
              title: 'You do not have enough credit.',
              detail: 'Your current balance is {balance}, but that costs {cost}.',
            },
          },
        },
      },
    );
    const asked = [
      'render',
      '--problem',
      'out-of-credit',
      '--param',
      'balance=30',
      '--param',
      'cost=50',
      '--instance',
      '/account/12345/msgs/abc',
    ];
    const members = [
      '--member',
      'balance=30',
      '--member',
      'accounts=["/account/12345","/account/67890"]',
    ];
    expect(JSON.parse(zeitwort([...asked, ...members, '--locale', 'en'], own).out)).toEqual({
      type: 'https://example.com/probs/out-of-credit',
      title: 'You do not have enough credit.',
      status: 403,
      detail: 'Your current balance is 30, but that costs 50.',
      instance: '/account/12345/msgs/abc',
      balance: 30,
      accounts: ['/account/12345', '/account/67890'],
    });
  });

  test('--locale all answers in each language', () => {
    const { out } = zeitwort(
      ['render', 'violations/bad-pass.json', '--locale', 'all', '--shape', 'list'],
      folder,
    );
    expect(out.match(/^\[$/gm)).toHaveLength(5);
  });

  test.each([
    [
      ['--problem', 'not-fuond'],
      /there is no problem "not-fuond" \(did you mean "not-found"\?\); the problems are invalid-fields, /,
    ],
    [['--problem', 'not-found', '--param', 'x'], /"x" should be written as --param name=value/],
    [
      ['--problem', 'not-found', '--shape', 'jsnapi'],
      /there is no shape "jsnapi" \(did you mean "jsonapi"\?\)/,
    ],
    [[], /name a file with a report .* or a problem with --problem/],
  ])('wrong use: %j', (args, sentence) => {
    expect(zeitwort(['render', ...args], folder)).toMatchObject({
      code: 2,
      out: '',
      err: expect.stringMatching(sentence),
    });
  });

  test('their texts are checked like those of rules', () => {
    const own = small('problems: { telescope-closed: { status: 409 } }\n', {
      'messages/de.json': {
        locale: 'de',
        problems: { 'telescope-close': { title: 'x' } },
        fields: { visitor: { label: 'Gast' } },
      },
    });
    const { findings } = JSON.parse(
      zeitwort(['check', '--format', 'json', '--locale', 'de'], own).out,
    ) as {
      findings: Record<string, unknown>[];
    };
    expect(findings.filter(({ kind }) => String(kind).endsWith('-problem'))).toMatchObject([
      {
        kind: 'missing-problem',
        severity: 'error',
        locale: 'de',
        file: 'zeitwort.yaml',
        line: 5,
        message: expect.stringContaining('"telescope-closed" has no title in de'),
      },
      { kind: 'missing-problem', message: expect.stringContaining('has no detail in de') },
      {
        kind: 'unknown-problem',
        file: 'messages/de.json',
        message: expect.stringContaining('did you mean "telescope-closed"?'),
      },
    ]);
  });
});

describe('who reads it', () => {
  const report = JSON.stringify({
    form: 'visitor-pass',
    violations: [{ path: 'visitor', rule: 'maxLength', value: 'x'.repeat(90) }],
  });

  test('a client is told nothing internal, a developer rule, parameters, value, file and line', () => {
    const folder = small('');
    const client = zeitwort(['render', '-'], folder, report).out;
    expect(client).not.toMatch(/developer|"rule"|"params"|\.json|xxx/);
    const developer = JSON.parse(
      zeitwort(['render', '-', '--audience', 'developer'], folder, report).out,
    ) as {
      errors: unknown[];
    };
    expect(developer.errors[0]).toEqual({
      pointer: '#/visitor',
      code: 'maxLength',
      detail: 'Visitor’s name must have at most 80 characters.',
      developer: {
        rule: 'maxLength',
        params: { max: 80 },
        value: `${'x'.repeat(39)}…`,
        key: 'maxLength',
        file: 'starter/en.json',
        line: 53,
      },
    });
  });

  test.each(['jsonapi', 'graphql', 'fields', 'list', 'text', 'html', 'problem-xml'])(
    'in the shape %s too',
    (shape) => {
      const folder = small('');
      const of = (audience: string): string =>
        zeitwort(['render', '-', '--audience', audience, '--shape', shape], folder, report).out;
      expect([
        of('client').includes('starter/en.json'),
        of('developer').includes('starter/en.json'),
      ]).toEqual([false, true]);
    },
  );

  test('answers for developers in production are a finding', () => {
    const found = (more: string): string[] =>
      (
        JSON.parse(zeitwort(['check', '--format', 'json'], small(more)).out) as {
          findings: { kind: string; line: number }[];
        }
      ).findings.map(({ kind, line }) => `${kind} ${line}`);
    expect(found('production: true\nbody: { audience: developer }\n')).toEqual([
      'exposed-details 6',
    ]);
    expect(found('production: true\n')).toEqual([]);
  });
});

describe('shapes in zeitwort.yaml', () => {
  test('the workspace’s shape, its settings, and one of its own', () => {
    const violations =
      '{"form":"visitor-pass","violations":[{"path":"visitor","rule":"required"},{"path":"visitor","rule":"maxLength"}]}';
    const of = (more: string): unknown =>
      JSON.parse(zeitwort(['render', '-'], small(more), violations).out);
    expect(of('body: { shape: fields, texts: joined }\n')).toMatchObject({
      fields: { visitor: expect.stringMatching(/^Who is coming\?.*80 characters\.$/) },
    });
    expect(of('body: { shape: jsonapi, prefix: /data, perField: first }\n')).toMatchObject({
      errors: [{ source: { pointer: '/data' }, meta: { missing: '/data/visitor' } }],
    });
    const own = `body: { shape: our-own }
shapes:
  our-own:
    mediaType: application/vnd.harrowfell+json
    body: { ok: false, said: { each: violation, node: '<field>: <code>' }, when: '<time>', id: '<request-id>' }
`;
    expect(of(own)).toEqual({
      ok: false,
      said: ['visitor: required', 'visitor: maxLength'],
      when: expect.stringMatching(/^\d{4}-.*Z$/),
    });
    expect(zeitwort(['render', '-', '--with-headers'], small(own), violations).out).toContain(
      'Content-Type: application/vnd.harrowfell+json\r\n',
    );
  });

  test('--explain tells what each entry of our own format is', () => {
    const report = JSON.stringify({
      form: 'visitor-pass',
      violations: [{ path: '/guests', rule: 'maximum', params: { max: 5 } }],
    });
    expect(zeitwort(['render', '-', '--explain'], small(''), report).out).toMatch(
      /^\/violations\/0 +guests +maximum +max 5$/m,
    );
  });

  test('a body as flat as somebody wants it', () => {
    const violations = JSON.stringify({
      form: 'visitor-pass',
      violations: [
        { path: 'guests', rule: 'maximum', value: 9 },
        { path: 'visitor', rule: 'enum', params: { choices: ['<b>', 'a & b'] } },
      ],
    });
    const of = (settings: string): string =>
      zeitwort(['render', '-', '--lines'], small(settings), violations).out.trimEnd();
    const both = /^(.+) \/ (.+)$/;
    const joined = JSON.parse(of('body: { detail: joined, separator: " / " }\n')) as {
      detail: string;
      errors: { detail: string }[];
    };
    expect(both.exec(joined.detail)?.slice(1)).toEqual(joined.errors.map(({ detail }) => detail));
    expect(JSON.parse(of('body: { detail: first }\n'))).toMatchObject({
      detail: joined.errors[0]?.detail,
      errors: [joined.errors[0]],
    });
    const shape = (type: string, body: string): string =>
      of(
        `body: { shape: ours }\nshapes: { ours: { mediaType: ${type}, body: ${JSON.stringify(body)} } }\n`,
      );
    expect(shape('text/plain', '<status> <texts("; ")>')).toBe(
      `422 ${joined.errors.map(({ detail }) => detail).join('; ')}`,
    );
    expect(shape('text/html', '<ul><li><texts("</li><li>")></li></ul>')).toMatch(
      /^<ul><li>[^<]+&lt;b&gt;[^<]+a &amp; b[^<]+<\/li><li>[^<]+<\/li><\/ul>$|^<ul><li>[^<]+<\/li><li>[^<]+&lt;b&gt;[^<]+a &amp; b[^<]+<\/li><\/ul>$/,
    );
    expect(of('body: { shape: html, html: { message: { element: em, class: said } } }\n')).toMatch(
      /<li [^>]+><em class="said">[^<]+<\/em><\/li>/,
    );
  });

  test.each([
    [
      'body: { shape: probelm }\n',
      /zeitwort\.yaml:5:16: "shape" is one of problem, .*\(did you mean "problem"\?\)/,
    ],
    [
      'body: { html: { element: "<b>" } }\n',
      /zeitwort\.yaml:5:26: "element": this is not an element of HTML/,
    ],
    [
      'body: { audiance: client }\n',
      /zeitwort\.yaml:5:9: "body" has no key "audiance" \(did you mean "audience"\?\)/,
    ],
    [
      'shapes: { x: { body: { a: "<titel>" } } }\n',
      /zeitwort\.yaml:5:27: there is no slot <titel> here \(did you mean "title"\?\)/,
    ],
    ['shapes: { problem: { body: {} } }\n', /zeitwort\.yaml:5:11: "problem" is a shape already/],
    [
      'problems: { not-fond: { status: 404 } }\n',
      /zeitwort\.yaml:5:13: "not-fond" is nearly "not-found"/,
    ],
    ['problems: { closed: { status: 299 } }\n', /this is not a registered HTTP error status/],
    ['problems: { closed: { status: 418 } }\n', /this is not a registered HTTP error status/],
  ])('%j is refused', (more, sentence) => {
    expect(zeitwort(['render', '--problem', 'not-found'], small(more))).toMatchObject({
      code: 2,
      out: '',
      err: expect.stringMatching(sentence),
    });
  });

  test('members of its own cannot be said otherwise, nor be what XML cannot hold', () => {
    const render = (...args: string[]): { code: number | null; out: string; err: string } =>
      zeitwort(['render', '--problem', 'conflict', ...args], small(''));
    for (const name of ['type', 'title', 'status', 'detail', 'instance', 'errors', 'more'])
      expect(render('--member', `${name}=200`)).toMatchObject({
        code: 2,
        out: '',
        err: `zeitwort: the member "${name}" is reserved; choose another name.\n`,
      });
    expect(render('--member', 'a b=1', '--shape', 'problem-xml').err).toContain(
      'XML has no element "a b"',
    );
    expect(JSON.parse(render('--member', 'a b=1').out)).toMatchObject({ status: 409, 'a b': 1 });
  });

  test('tables that rules look into', () => {
    const folder = folderWith({
      'zeitwort.yaml':
        'locales: [en]\ntables: { instruments: data/instruments.csv, people: data/people.json }\n',
      'data/instruments.csv': '\ufeffcode;retired\r\nechelle;no\r\nplates;yes\r\n',
      'data/people.json': [{ name: 'Ilse', id: 41 }],
      'rules/a.yaml': `forms: { f: { fields: {
        i: { knownIn: { table: instruments, column: code, having: { retired: 'no' } } }, p: { newIn: { table: people, column: id } },
        q: { knownIn: { table: instrumnets, column: code } }, r: { knownIn: { table: instruments, column: cod } } } } }`,
      'messages/en.json': {
        locale: 'en',
        fields: { i: { label: 'i' }, p: { label: 'p' }, q: { label: 'q' }, r: { label: 'r' } },
      },
    });
    const codes = (payload: string): string[] =>
      (
        JSON.parse(
          zeitwort(['try', '-', '--form', 'f', '--format', 'violations'], folder, payload).out,
        ) as {
          violations: { path: string }[];
        }
      ).violations.map(({ path }) => path);
    expect(codes('{"i":"plates","p":41}')).toEqual(['i', 'p']);
    // A list that is not there knows nothing; to take everything for known would be the worst of
    // answers.
    for (const [payload, sentence] of [
      ['{"q":"x"}', 'There is no table "instrumnets"'],
      ['{"r":"x"}', 'has no column "cod"'],
    ] as const)
      expect(zeitwort(['try', '-', '--form', 'f'], folder, payload)).toMatchObject({
        code: 2,
        out: '',
        err: expect.stringContaining(sentence),
      });
    expect(codes('{"i":"echelle","p":42}')).toEqual([]);
    const messages = (
      JSON.parse(zeitwort(['check', '--format', 'json'], folder).out) as {
        findings: { message: string }[];
      }
    ).findings.map(({ message }) => message);
    expect(messages).toEqual([
      expect.stringContaining('There is no table "instrumnets" (did you mean "instruments"?)'),
      expect.stringContaining('has no column "cod" (did you mean "code"?); it has code, retired'),
    ]);
  });
});
