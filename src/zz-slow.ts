import { po } from './exchange/translations/po.js';
import { xliff } from './exchange/translations/xliff.js';
import { csv } from './exchange/translations/csv.js';
import { properties } from './exchange/translations/properties.js';
import { Review } from './workspace/review-file.js';
import { parseYaml } from './workspace/yaml.js';
import { readSheet } from './core/rules/sheet.js';
import { leaksIn, rawPathIn } from './core/audit/leaks.js';
import { TextMatcher } from './core/audit/text-matcher.js';
const time = (name: string, work: (n: number) => unknown, n: number) => {
  const out: number[] = [];
  for (const size of [n / 4, n]) {
    const since = performance.now();
    try {
      work(size);
    } catch (e) {
      process.stdout.write(`(${String((e as Error).message).slice(0, 60)}) `);
    }
    out.push(Math.round(performance.now() - since));
    if (out[0]! > 15000) break;
  }
  console.log(name, ...out);
};
const X = (inner: string) =>
  `<?xml version="1.0"?><xliff xmlns="urn:oasis:names:tc:xliff:document:2.0" version="2.1" srcLang="en" trgLang="de"><file id="f">${inner}</file></xliff>`;
const U = (inner: string) => X(`<unit id="u" name="k"><segment><source>${inner}</source></segment></unit>`);
const only = process.argv[2];
const cases: [string, (n: number) => unknown, number][] = [
  ['xliff comments', (n) => xliff.read(X('<!--'.repeat(n)), {}), 100000],
  ['xliff closed comments', (n) => xliff.read(X('<!---->'.repeat(n)), {}), 100000],
  ['xliff cdata', (n) => xliff.read(U('<![CDATA['.repeat(n)), {}), 100000],
  ['xliff pi', (n) => xliff.read(X('<?'.repeat(n)), {}), 100000],
  ['xliff amp', (n) => xliff.read(U('&amp;'.repeat(n)), {}), 100000],
  ['xliff rawamp', (n) => xliff.read(U('&'.repeat(n)), {}), 100000],
  ['xliff lt', (n) => xliff.read(U('<'.repeat(n)), {}), 100000],
  [
    'xliff units',
    (n) => xliff.read(X('<unit id="u" name="k"><segment><source>a</source></segment></unit>'.repeat(n)), {}),
    20000,
  ],
  ['xliff ph', (n) => xliff.read(U('<ph id="1" dataRef="d"/>'.repeat(n)), {}), 50000],
  ['po escapes', (n) => po.read(`msgctxt "a"\nmsgid "${'\\101'.repeat(n)}"\nmsgstr "${'\\n'.repeat(n)}"\n`, {}), 100000],
  ['po quote esc', (n) => po.read(`msgctxt "a"\nmsgid "${'\\"'.repeat(n)}\nmsgstr "x"\n`, {}), 100000],
  ['po quotes', (n) => po.read(`msgctxt "a"\nmsgid ${'"'.repeat(n)}\nmsgstr "x"\n`, {}), 100000],
  ['po bs', (n) => po.read(`msgctxt "a"\nmsgid "${'\\x'.repeat(n)}"\nmsgstr "x"\n`, {}), 100000],
  [
    'po entries',
    (n) => po.read(Array.from({ length: n }, (_, i) => `msgctxt "a${i}"\nmsgid "b"\nmsgstr "x"\n`).join('\n'), {}),
    40000,
  ],
  ['po lines', (n) => po.read(`msgctxt "a"\nmsgid ""\n${'"x"\n'.repeat(n)}msgstr "x"\n`, {}), 100000],
  ['po comments', (n) => po.read(`${'# x\n'.repeat(n)}msgctxt "a"\nmsgid "s"\nmsgstr "x"\n`, {}), 100000],
  ['csv quotes', (n) => csv.read(`key,target\n${'"'.repeat(n)}`, {}), 100000],
  ['csv rows', (n) => csv.read(`key,target\n${'a,b\n'.repeat(n)}`, {}), 100000],
  ['csv cols', (n) => csv.read(`key,target${',x'.repeat(n)}\n`, {}), 100000],
  ['properties', (n) => properties.read(`a=${'\\u00'.repeat(n)}\n`, {}), 100000],
  ['properties cont', (n) => properties.read(`a=${'x\\\n'.repeat(n)}\n`, {}), 100000],
  ['properties lines', (n) => properties.read('a=b\n'.repeat(n), {}), 100000],
  ['review', (n) => Review.parse('{"keys":["messages","a"],"state":"reviewed","text":"x","source":"y"}\n'.repeat(n), 'r'), 40000],
  [
    'yaml forms',
    (n) =>
      readSheet(
        parseYaml(
          `forms:\n${Array.from({ length: n }, (_, i) => `  f${i}:\n    fields:\n      a: { required: true }\n`).join('')}`,
          'a.yaml',
        ),
        'a.yaml',
      ),
    20000,
  ],
  ['yaml aliases', (n) => parseYaml(`a: &a x\nb: [${'*a, '.repeat(n)}]\n`, 'a.yaml'), 30000],
  ['yaml anchors', (n) => parseYaml(`b: [${Array.from({ length: n }, (_, i) => `&a${i} x`).join(', ')}]\n`, 'a.yaml'), 30000],
  [
    'yaml anchors+aliases',
    (n) => parseYaml(`b: [${Array.from({ length: n }, (_, i) => `&a${i} x, *a${i}`).join(', ')}]\n`, 'a.yaml'),
    30000,
  ],
  ['yaml flow', (n) => parseYaml(`b: ${'- '.repeat(n)}x`, 'a.yaml'), 100000],
  ['yaml quotes', (n) => parseYaml(`b: "${'\\x41'.repeat(n)}`, 'a.yaml'), 100000],
  ['yaml keys', (n) => parseYaml(Array.from({ length: n }, (_, i) => `k${i}: 1\n`).join(''), 'a.yaml'), 40000],
  ['leaks paths', (n) => rawPathIn('targets.2.'.repeat(n)), 16000],
  ['leaks', (n) => leaksIn('targets.2.'.repeat(n)), 16000],
  ['leaks at', (n) => leaksIn('at x ('.repeat(n)), 16000],
  ['leaks slash', (n) => leaksIn('/a'.repeat(n)), 40000],
  ['leaks word', (n) => leaksIn('a'.repeat(n)), 160000],
  ['leaks words', (n) => leaksIn('Ab '.repeat(n)), 60000],
  ['leaks dots', (n) => leaksIn('a.'.repeat(n)), 80000],
  ['rawpath words', (n) => rawPathIn('a'.repeat(n)), 160000],
  ['rawpath br', (n) => rawPathIn('a[0]'.repeat(n)), 40000],
];
for (const [name, work, n] of cases) if (!only || name.includes(only)) time(name, work, n);
void TextMatcher;
