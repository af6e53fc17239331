import { describe, expect, test } from '@jest/globals';
import { copyOf, zeitwort } from '../support/program.js';

interface Body {
  type: string;
  title: string;
  status: number;
  detail: string;
  instance?: string;
  errors: { pointer: string; code: string; detail: string }[];
}

const observatory = copyOf('observatory');
const render = (
  report: unknown,
  ...args: string[]
): { code: number | null; err: string; body: Body } => {
  const { code, err, out } = zeitwort(
    ['render', '-', ...args],
    observatory,
    JSON.stringify(report),
  );
  return { code, err, body: JSON.parse(out) as Body };
};
const seconds = { path: 'targets[2].exposures[0].seconds', rule: 'maximum', value: 5400 };

describe('render', () => {
  test('gives a problem details object with everything in it', () => {
    const { code, err, body } = render({
      form: 'observing-proposal',
      instance: '/proposals/7',
      violations: [{ path: '/title', rule: 'required' }],
    });
    expect([code, err]).toEqual([0, '']);
    expect(body).toEqual({
      type: 'https://errors.harrowfell.example/invalid-fields',
      title: 'Please correct what was sent',
      status: 422,
      detail: 'Correct the problem and send the request again.',
      instance: '/proposals/7',
      errors: [{ pointer: '#/title', code: 'required', detail: 'Please give a title.' }],
    });
  });

  test.each([
    ['en', 'Target 3, exposure 1: exposure time in seconds must be at most 3,600.'],
    ['de', 'Belichtungszeit in Sekunden (Ziel 3, Aufnahme 1): Der Wert darf höchstens 3.600 sein.'],
    [
      'pl',
      'Czas ekspozycji w sekundach (cel 3, ekspozycja 1): wartość może wynosić najwyżej 3600.',
    ],
    ['ar', 'زمن التعريض بالثواني (الهدف 3، اللقطة 1): يجب ألا تزيد القيمة على 3,600.'],
    ['ja', '天体3の露出1の露出時間（秒）は3,600以下にしてください。'],
    [
      'de-CH',
      'Belichtungszeit in Sekunden (Ziel 3, Aufnahme 1): Der Wert darf höchstens 3.600 sein.',
    ],
  ])('names elements from 1 in %s', (locale, detail) => {
    const { body } = render(
      { form: 'observing-proposal', violations: [seconds] },
      '--locale',
      locale,
    );
    expect(body.errors).toEqual([
      { pointer: '#/targets/2/exposures/0/seconds', code: 'maximum', detail },
    ]);
  });

  test('tells violations in the order of the document, rules as declared', () => {
    const violations = [
      { path: 'targets[1].name', rule: 'required' },
      seconds,
      { path: 'targets[0].exposures[10].seconds', rule: 'minimum' },
      { path: 'targets[0].exposures[9].seconds', rule: 'minimum' },
      { path: 'dryRun', in: 'query', rule: 'enum' },
      { path: 'title', rule: 'maxLength' },
      { path: 'title', rule: 'required' },
      { path: '', rule: 'type', params: { expected: 'object' } },
    ];
    const { body } = render({ form: 'observing-proposal', violations });
    const told = body.errors.map((error) => [
      ('pointer' in error ? error.pointer : undefined) ?? error,
      error.code,
    ]);
    expect(told).toEqual([
      [
        { parameter: 'dryRun', code: 'enum', detail: 'Dry run must be one of these: yes, no.' },
        'enum',
      ],
      ['#', 'type'],
      ['#/title', 'required'],
      ['#/title', 'maxLength'],
      ['#/targets/0/exposures/9/seconds', 'minimum'],
      ['#/targets/0/exposures/10/seconds', 'minimum'],
      ['#/targets/1/name', 'required'],
      ['#/targets/2/exposures/0/seconds', 'maximum'],
    ]);
    expect(body.errors[1]?.detail).toBe('The body of the request must be an object.');
  });

  test('--with-headers prints what goes over the wire', () => {
    const { out } = zeitwort(
      ['render', 'violations/bad-proposal.json', '--locale', 'ja', '--with-headers'],
      observatory,
    );
    const [head = '', body = ''] = out.split('\r\n\r\n');
    expect(head.split('\r\n')).toEqual([
      'HTTP/1.1 422 Unprocessable Content',
      'Content-Type: application/problem+json',
      'Content-Language: ja',
      `Content-Length: ${Buffer.byteLength(body)}`,
    ]);
    expect((JSON.parse(body) as Body).errors).toHaveLength(5);
  });

  test('`perField: first` tells the first rule of each field', () => {
    const first = copyOf('small', {
      'zeitwort.yaml': 'locales: [en]\nbody: { perField: first }\n',
    });
    const violations = [
      { path: 'visitor', rule: 'maxLength' },
      { path: 'visitor', rule: 'required' },
      { path: 'day', rule: 'format' },
    ];
    const { out } = zeitwort(
      ['render', '-'],
      first,
      JSON.stringify({ form: 'visitor-pass', violations }),
    );
    const body = JSON.parse(out) as Body;
    expect(body.errors.map(({ code }) => code)).toEqual(['required', 'format']);
    expect([body.type, body.detail]).toEqual([
      'about:blank',
      'Correct the 2 problems and send the request again.',
    ]);
  });

  test('goes on with what is good in a broken workspace', () => {
    const broken = copyOf('broken');
    const violations = [
      { path: 'title', rule: 'required' },
      { path: 'targets[2].name', rule: 'maxLength' },
    ];
    const { code, out } = zeitwort(
      ['render', '-', '--locale', 'de', '--audience', 'client'],
      broken,
      JSON.stringify({ form: 'observing-proposal', violations }),
    );
    expect(code).toBe(0);
    expect((JSON.parse(out) as Body).errors.map(({ detail }) => detail)).toEqual([
      'Titel: Bitte angeben.',
      'Name (Ziel 3): Der Wert darf höchstens 60 Zeichen lang sein.',
    ]);
  });
});
