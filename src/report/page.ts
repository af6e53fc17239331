import { escapeHtml as esc } from '../core/text/markup.js';
import { COVERAGES, isCovered } from '../core/check/subject/coverage.js';
import type { ReportData } from '../workspace/checking/reporting.js';
import { embedded, inScript, pageOf } from './embedded.js';
import { REPORT_STYLE } from './style.js';

/** So many languages are shown beside each other at first; the reader chooses more. */
const SHOWN_AT_FIRST = 4;

/** By coverage, in the order of `COVERAGES`. */
type Counts = readonly number[];

const sum = (counts: Counts): number => counts.reduce((all, one) => all + one, 0);

/** How many of them are covered. */
const coveredOf = (counts: Counts): number =>
  sum(counts.filter((_, at) => isCovered(COVERAGES[at])));

const percent = (counts: Counts): number =>
  sum(counts) === 0 ? 100 : Math.floor((coveredOf(counts) / sum(counts)) * 100);

const share = (part: number, counts: Counts): string => {
  const all = sum(counts);
  return (all === 0 ? 0 : (part / all) * 100).toFixed(2).replace(/\.?0+$/, '');
};

/** How many rules have each coverage; of a house only where there is one. */
const countsTold = (counts: Counts): string =>
  counts
    .flatMap((count, nth) =>
      count === 0 && COVERAGES[nth] === 'house' ? [] : [`${count} ${COVERAGES[nth] ?? ''}`],
    )
    .join(', ');

/** Whether some text comes from a house. */
const hasHouse = ({ coverage }: ReportData): boolean =>
  coverage.some(({ counts }) => counts.some((one) => (one[COVERAGES.indexOf('house')] ?? 0) > 0));

/**
 * One square of the picture: the share in figures, and a bar whose parts differ in pattern, not in
 * colour alone.
 */
function square(form: string, counts: Counts, at: number, tag: string): string {
  const covered = percent(counts);
  const caption = `${form}, ${tag}: ${covered} % covered; ${countsTold(counts)}`;
  const part = (count: number, nth: number): string =>
    count === 0
      ? ''
      : `<i class="${COVERAGES[nth]?.[0] ?? ''}" style="width:${share(count, counts)}%"></i>`;
  const lacking = sum(counts) - coveredOf(counts);
  return `<td class="${lacking > 0 ? 'lacks' : ''}"><button type="button" data-form="${esc(form)}" data-locale="${at}" title="${esc(caption)}" aria-label="${esc(caption)}"><b>${covered}<small> %</small></b><span class="bar">${counts.map(part).join('')}</span>${lacking > 0 ? `<small class="lack">${lacking} lacking</small>` : ''}</button></td>`;
}

/** Of no rules. */
const NONE: Counts = COVERAGES.map(() => 0);

function picture(data: ReportData): string {
  const { coverage, locales } = data;
  const house = hasHouse(data) ? '<span><i class="h"></i> of the house</span>' : '';
  const total = locales.map((_, at) =>
    coverage.reduce<Counts>(
      (all, { counts }) => all.map((one, nth) => one + (counts[at]?.[nth] ?? 0)),
      NONE,
    ),
  );
  const row = (name: string, form: string, counts: readonly Counts[]): string =>
    `<tr><th scope="row">${esc(name)}</th>${locales.map(({ tag }, at) => square(form, counts[at] ?? NONE, at, tag)).join('')}</tr>`;
  return `<section aria-labelledby="coverage"><h2 id="coverage">Coverage by form and language</h2>
<p class="legend"><span><i class="w"></i> written</span>${house}<span><i class="s"></i> starter</span><span><i class="d"></i> draft, which clients do not read</span><span><i class="f"></i> fallback, in another language</span><span><i class="m"></i> missing</span></p>
<div class="scroll" tabindex="0" role="region" aria-labelledby="coverage"><table class="heat">
<thead><tr><th scope="col">form</th>${locales.map(({ tag, name }) => `<th scope="col"><abbr title="${esc(name)}">${esc(tag)}</abbr></th>`).join('')}</tr></thead>
<tbody>${row('all forms', '', total)}${coverage.map(({ form, counts }) => row(form, form, counts)).join('')}</tbody>
</table></div></section>`;
}

const day = (time: number | undefined): string =>
  time === undefined ? 'now' : new Date(time * 1000).toISOString().slice(0, 10);

/** One language over time: a column for each moment, from what is written up to what is lacking. */
function timeline(history: ReportData['history'], tag: string, name: string): string {
  const columns = history.map(({ commit, time, locales: { [tag]: counts } }, at) => {
    if (!counts) return '';
    const caption = `${day(time)}${commit === undefined ? '' : ` (${commit.slice(0, 8)})`}: ${percent(counts)} % covered; ${countsTold(counts)}`;
    const parts = counts
      .map((count, nth) =>
        count === 0
          ? ''
          : `<i class="${COVERAGES[nth]?.[0] ?? ''}" style="height:${share(count, counts)}%"></i>`,
      )
      .join('');
    return `<li style="grid-column:${at + 1}" title="${esc(caption)}" aria-label="${esc(caption)}">${parts}</li>`;
  });
  const [first] = history.filter(({ locales }) => locales[tag]);
  const last = history.at(-1)?.locales[tag] ?? NONE;
  const before = first?.locales[tag] ?? last;
  return `<tr><th scope="row">${esc(name)} <code>${esc(tag)}</code></th><td>${percent(before)} %<small> ${day(first?.time)}</small></td><td><ol class="moments">${columns.join('')}</ol></td><td>${percent(last)} %<small> now</small></td></tr>`;
}

/** How coverage changed, where there is something to compare. */
function overTime({ history, locales }: ReportData): string {
  if (history.length < 2) return '';
  const rows = locales.map(({ tag, name }) => timeline(history, tag, name)).join('');
  return `<section aria-labelledby="time"><h2 id="time">Coverage over time</h2>
<p class="hint">At the last ${history.length - 1} commits, the oldest first, and now.</p>
<div class="scroll" tabindex="0" role="region" aria-labelledby="time"><table class="time"><tbody>${rows}</tbody></table></div></section>`;
}

/** Returns the section of terms, where the workspace has terms. */
function termsSection({ terms, locales }: ReportData): string {
  if (terms.length === 0) return '';
  const cells = terms.map(({ note, in: inEach }) => {
    const cells = inEach.map((term, at) => {
      const { tag = '', dir = 'ltr' } = locales[at] ?? {};
      if (!term) return '<td>–</td>';
      const never = term.never.map((word) => `<s>${esc(word)}</s>`).join(' ');
      return `<td lang="${esc(tag)}" dir="${dir}">${esc(term.text)}${never === '' ? '' : ` <small>never ${never}</small>`}</td>`;
    });
    return `<tr>${cells.join('')}<td>${esc(note)}</td></tr>`;
  });
  return `<section aria-labelledby="terms"><h2 id="terms">Terms</h2>
<div class="scroll" tabindex="0" role="region" aria-labelledby="terms"><table class="time"><thead><tr>${locales.map(({ name }) => `<th scope="col">${esc(name)}</th>`).join('')}<th scope="col">what it is</th></tr></thead><tbody>${cells.join('')}</tbody></table></div></section>`;
}

function findingsSection({ findings }: ReportData): string {
  const kinds = new Map<string, { severity: string; count: number }>();
  for (const { kind, severity } of findings) {
    const known = kinds.get(kind);
    kinds.set(kind, { severity, count: (known?.count ?? 0) + 1 });
  }
  if (kinds.size === 0)
    return '<section><h2>Findings</h2><p>None: every rule has a good text.</p></section>';
  const order = ['error', 'warning', 'info'];
  const rows = [...kinds].sort(
    ([, one], [, other]) =>
      order.indexOf(one.severity) - order.indexOf(other.severity) || other.count - one.count,
  );
  const items = rows.map(([kind, { severity, count }]) => {
    const own = findings.filter((one) => one.kind === kind);
    const list = own
      .slice(0, 200)
      .map(({ message, place }) => `<li>${esc(message)} <code>${esc(place)}</code></li>`)
      .join('');
    const more =
      own.length > 200
        ? `<li>and ${own.length - 200} more; <code>zeitwort check --kind ${kind}</code> lists them</li>`
        : '';
    return `<details><summary><span class="severity ${severity}">${severity}</span> <b>${kind}</b> <span class="count">${count}</span></summary><ul>${list}${more}</ul></details>`;
  });
  return `<section><h2>Findings</h2>${items.join('')}</section>`;
}

function controls(data: ReportData): string {
  const { coverage, locales, original } = data;
  const first = new Set([original, ...locales.map(({ tag }) => tag)].slice(0, SHOWN_AT_FIRST + 1));
  const option = (value: string, text: string): string =>
    `<option value="${esc(value)}">${esc(text)}</option>`;
  const boxes = locales
    .map(
      ({ tag, name }) =>
        `<label><input type="checkbox"${first.has(tag) ? ' checked' : ''}> ${esc(name)} <code>${esc(tag)}</code></label>`,
    )
    .join('');
  return `<div class="controls" role="search">
<label class="wide">Search <input id="search" type="search" placeholder="a word, a path, a rule" autocomplete="off"></label>
<label>Form <select id="form">${option('', 'all')}${coverage.map(({ form }) => option(form, form)).join('')}</select></label>
<label>Texts <select id="kind">${option('message', 'messages')}${option('inline', 'messages beside inputs')}${option('label', 'labels')}${option('choice', 'names of values')}${option('word', 'words')}${option('frame', 'frames')}${option('problem', 'problems')}${option('', 'all')}</select></label>
<label>Show <select id="state">${option('', 'everything')}${option('finding', 'with a finding')}${option('m', 'missing')}${option('f', 'fallback')}${option('d', 'draft')}${hasHouse(data) ? option('h', 'house') : ''}${option('s', 'starter')}</select></label>
</div>
<details class="languages"><summary>Languages beside each other</summary><fieldset id="languages"><legend class="unseen">Languages</legend>${boxes}</fieldset></details>`;
}

/** The report as one file that asks for nothing else. */
export function reportPage(data: ReportData, script: string, name: string): string {
  const counts = ['error', 'warning', 'info'].map(
    (severity) =>
      `${data.findings.filter((one) => one.severity === severity).length} ${severity === 'info' ? 'notes' : `${severity}s`}`,
  );
  const body = `<a class="skip" href="#texts">To the texts</a>
<header><h1>Validation texts of ${esc(name)}</h1><p>${data.locales.length} languages, original in <b>${esc(data.original)}</b>. ${counts.join(', ')}.</p></header>
<main>
${picture(data)}
${overTime(data)}
<section id="texts" aria-labelledby="texts-head"><h2 id="texts-head">Texts side by side</h2>
<p class="hint">Messages are shown with sample arguments, as clients would read them. Press <kbd>/</kbd> to search.</p>
${controls(data)}
<p id="status" role="status" aria-live="polite"></p>
<div class="scroll" tabindex="0" role="region" aria-label="Texts"><table class="texts"><thead><tr id="head"></tr></thead><tbody id="body"></tbody></table></div>
<nav aria-label="Pages"><button id="previous" type="button">Previous</button> <span id="page-of"></span> <button id="next" type="button">Next</button></nav>
<noscript><p>The table needs scripts to be allowed for this file.</p></noscript>
</section>
${termsSection(data)}
${findingsSection(data)}
</main>
<script type="application/json" id="data">${embedded(data)}</script>
<script>${inScript(script)}</script>`;
  return pageOf('en', `Texts of ${esc(name)}`, REPORT_STYLE, body);
}
