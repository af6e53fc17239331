// The script of the report: filters and pages of a table that may have hundreds of thousands of
// rows. Only the rows of the page in view are in the document.
import type { ReportData, ReportRow } from '../workspace/checking/reporting.js';
import { unbroken } from './unbroken.js';

const PAGE = 50;
/** So many of the rows that are meant are printed; more would keep the printer busy for days. */
const PRINTED = 1000;

const data = JSON.parse(document.getElementById('data')?.textContent ?? '{}') as ReportData;

function element(id: string): HTMLElement {
  const found = document.getElementById(id);
  if (!found) throw new Error(`no ${id}`);
  return found;
}

function make(
  tag: string,
  attributes: Readonly<Record<string, string>> = {},
  ...children: (Node | string)[]
): HTMLElement {
  const made = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) made.setAttribute(name, value);
  made.append(...children);
  return made;
}

const search = element('search') as HTMLInputElement;
const form = element('form') as HTMLSelectElement;
const kind = element('kind') as HTMLSelectElement;
const state = element('state') as HTMLSelectElement;
const languages = element('languages') as HTMLFieldSetElement;
const status = element('status');
const head = element('head');
const body = element('body');
const previous = element('previous') as HTMLButtonElement;
const next = element('next') as HTMLButtonElement;
const pageOf = element('page-of');

const MARKS: Readonly<Record<string, readonly [string, string]>> = {
  h: ['house', 'the text of the house'],
  s: ['starter', 'the starter’s text'],
  d: ['draft', 'a draft, which clients do not read'],
  f: ['other language', 'another language’s text'],
  m: ['missing', 'no text'],
};

let shown: readonly ReportRow[] = data.rows;
let page = 0;

const chosen = (): number[] =>
  [...languages.querySelectorAll('input')].flatMap((input, at) => (input.checked ? [at] : []));

/** The searchable text of each row, made when the row is first searched. */
const words = new WeakMap<ReportRow, string>();
function wordsOf(row: ReportRow): string {
  let known = words.get(row);
  if (known === undefined) {
    const [formId, path, rule, , texts, , , key] = row;
    words.set(
      row,
      (known = [formId, path, rule, key, ...texts.filter((text) => text !== null)]
        .join('\n')
        .toLowerCase()),
    );
  }
  return known;
}

function isMeant(row: ReportRow, wanted: readonly string[], at: readonly number[]): boolean {
  const [formId, , , rowKind, , states, findings] = row;
  if (form.value !== '' && formId !== form.value) return false;
  if (kind.value !== '' && rowKind !== kind.value) return false;
  if (state.value === 'finding' && findings.length === 0) return false;
  if (state.value.length === 1 && !at.some((place) => states[place] === state.value)) return false;
  return wanted.every((word) => wordsOf(row).includes(word));
}

function cell([, , , , texts, states, findings]: ReportRow, at: number): HTMLElement {
  const locale = data.locales[at];
  const text = texts[at];
  const mark = MARKS[states[at] ?? 'w'];
  const made = make('td', { lang: locale?.tag ?? '', dir: locale?.dir ?? 'auto' });
  if (text !== null && text !== undefined)
    made.append(make('span', { class: 'text' }, ...unbroken(text)));
  if (mark)
    made.append(
      make(
        'span',
        { class: `mark ${states[at] ?? ''}`, title: mark[1], lang: 'en', dir: 'ltr' },
        mark[0],
      ),
    );
  for (const place of findings) {
    const finding = data.findings[place];
    if (finding?.locale !== locale?.tag) continue;
    made.append(findingNote(place));
  }
  return made;
}

function findingNote(place: number): HTMLElement {
  const finding = data.findings[place];
  return make(
    'p',
    { class: `finding ${finding?.severity ?? ''}`, lang: 'en', dir: 'ltr' },
    make('b', {}, `${finding?.severity ?? ''}: ${finding?.kind ?? ''}`),
    ` ${finding?.message ?? ''} `,
    make('code', {}, finding?.place ?? ''),
  );
}

function line(row: ReportRow, at: readonly number[]): HTMLElement {
  const [formId, path, rule, , , , findings, key] = row;
  const title = make(
    'th',
    { scope: 'row', title: key },
    make('span', { class: 'form' }, formId),
    make('span', { class: 'path' }, path),
    make('code', {}, rule),
  );
  // What is said of no language stands with the rule itself.
  for (const place of findings)
    if (data.findings[place]?.locale === undefined) title.append(findingNote(place));
  return make('tr', {}, title, ...at.map((one) => cell(row, one)));
}

function draw(rows: readonly ReportRow[]): void {
  const at = chosen();
  head.replaceChildren(
    make('th', { scope: 'col' }, 'field and rule'),
    ...at.map((one) => {
      const { tag = '', name = '', dir = 'ltr' } = data.locales[one] ?? {};
      return make('th', { scope: 'col', dir }, `${name} `, make('code', {}, tag));
    }),
  );
  body.replaceChildren(...rows.map((row) => line(row, at)));
}

function show(): void {
  const pages = Math.max(1, Math.ceil(shown.length / PAGE));
  page = Math.min(page, pages - 1);
  draw(shown.slice(page * PAGE, (page + 1) * PAGE));
  previous.disabled = page === 0;
  next.disabled = page >= pages - 1;
  pageOf.textContent = `page ${(page + 1).toLocaleString('en')} of ${pages.toLocaleString('en')}`;
}

function filter(): void {
  const wanted = search.value
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word !== '');
  const at = chosen();
  shown = data.rows.filter((row) => isMeant(row, wanted, at));
  page = 0;
  status.textContent = `${shown.length.toLocaleString('en')} of ${data.rows.length.toLocaleString('en')} texts`;
  show();
}

let timer: ReturnType<typeof setTimeout> | undefined;
search.addEventListener('input', () => {
  clearTimeout(timer);
  timer = setTimeout(filter, 120);
});
for (const control of [form, kind, state, languages]) control.addEventListener('change', filter);
previous.addEventListener('click', () => {
  page -= 1;
  show();
});
next.addEventListener('click', () => {
  page += 1;
  show();
});
document.addEventListener('keydown', (event) => {
  const typing =
    event.target instanceof HTMLInputElement || event.target instanceof HTMLSelectElement;
  if (event.key === '/' && !typing) {
    event.preventDefault();
    search.focus();
  }
});
// The picture leads to the texts that it counts.
document.addEventListener('click', (event) => {
  const cellOf =
    event.target instanceof Element ? event.target.closest<HTMLElement>('[data-form]') : null;
  if (!cellOf) return;
  form.value = cellOf.dataset.form ?? '';
  kind.value = 'message';
  const at = Number(cellOf.dataset.locale);
  for (const [place, input] of [...languages.querySelectorAll('input')].entries())
    if (place === at) input.checked = true;
  filter();
  element('texts').scrollIntoView();
  search.focus({ preventScroll: true });
});
let opened: HTMLDetailsElement[] = [];
window.addEventListener('beforeprint', () => {
  draw(shown.slice(0, PRINTED));
  // What is folded away on the screen is read on paper.
  opened = [
    ...document.querySelectorAll<HTMLDetailsElement>('main details:not(.languages):not([open])'),
  ];
  for (const details of opened) details.open = true;
});
window.addEventListener('afterprint', () => {
  for (const details of opened) details.open = false;
  show();
});
filter();
