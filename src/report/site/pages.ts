import { answerProblem, typeUri } from '../../core/body/answer.js';
import { PROBLEM_ARGUMENTS } from '../../core/body/problem-arguments.js';
import { TELLS_WHETHER, TO_TRY_AGAIN } from '../../core/body/problems.js';
import { escapeHtml as esc } from '../../core/text/markup.js';
import { ERROR_STATUSES } from '../../core/body/status-phrases.js';
import { directionOf, type Locale } from '../../core/locale/tag.js';
import { compileTree } from '../../core/message/compile.js';
import { readMessage } from '../../core/message/parse.js';
import { exampleBody } from '../../core/rules/example-body.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { codeOf, type Field, type Form, type RuleUse } from '../../core/rules/form.js';
import { samplePathIn } from '../../core/rules/sample-path.js';
import { capitalised } from '../../core/text/value.js';
import { sampleIn } from '../../core/violation/samples.js';
import { said, Words } from '../../core/violation/words.js';
import { answerOptions, sentencesOf } from '../../workspace/answering/answering.js';
import { workspaceRenderer } from '../../workspace/answering/renderer.js';
import { PageAddresses, problemFolder } from '../../workspace/answering/page-addresses.js';
import { pageOf } from '../embedded.js';
import { changesBody } from './changes.js';
import { shownParams, SITE_MARK, type SiteSource } from './source.js';
import { SITE_STYLE } from './style.js';
import type { SiteWord } from './words.js';

/** Sample parameters of problems. */
const SAMPLES: Readonly<Record<string, unknown>> = Object.freeze({
  count: 2,
  fields: 2,
  line: 3,
  column: 14,
  seconds: 30,
});

/** So many fields stand in the answer to a wrong request. */
const MOST_BROKEN = 3;

/** Filters lists by what somebody types; without scripts all is there. */
const SEARCH = `const box=document.getElementById('search'),items=[...document.querySelectorAll('[data-found]')],none=document.getElementById('none');box.addEventListener('input',()=>{const words=box.value.toLowerCase().split(/\\s+/).filter(Boolean);let any=false;for(const item of items){const text=item.textContent.toLowerCase();item.hidden=!words.every(word=>text.includes(word));any||=!item.hidden}none.hidden=any})`;

/** Where a page leads: a folder of the site, and a place in its page. */
interface Link {
  readonly folder: string;
  readonly anchor?: string;
}

/** Returns the advice for clients about a problem. */
function remedyOf(problem: string, status: number): SiteWord {
  if (status === 401) return 'signIn';
  if (status === 403 || status === 404 || status === 410) return 'stop';
  if (TO_TRY_AGAIN.has(problem) || [408, 425, 429, 503, 504].includes(status)) return 'later';
  return status >= 500 ? 'report' : 'correct';
}

function whenOf(problem: string, status: number): SiteWord {
  if (problem === 'invalid-fields') return 'whenRules';
  return status >= 500 ? 'whenServer' : 'whenRequest';
}

/** Writes the pages of one language. */
export class SitePages {
  private readonly addresses: PageAddresses;
  private readonly words: ReturnType<SiteSource['wordsOf']>;
  private readonly renderer: ReturnType<typeof workspaceRenderer>;

  constructor(
    private readonly source: SiteSource,
    private readonly locale: Locale,
  ) {
    this.addresses = new PageAddresses(source.workspace);
    this.words = source.wordsOf(locale);
    this.renderer = workspaceRenderer(source.workspace, { audience: 'client' });
  }

  private get workspace(): SiteSource['workspace'] {
    return this.source.workspace;
  }

  private word(name: SiteWord, args: Readonly<Record<string, unknown>> = {}): string {
    const { locale, words } = this.words;
    const text = words[name];
    return esc(text.includes('{') ? compileTree(readMessage(text), locale)(args) : text);
  }

  /** A link from a page to another, or to a place in it, in this language. */
  private link(from: string, { folder, anchor }: Link, locale = this.locale): string {
    const own = this.addresses.in(this.locale, from);
    const up = '../'.repeat(own.split('/').length - 1);
    const file = `${this.addresses.in(locale, folder)}index.html`;
    const parts = `${up}${file}`.split('/').map(encodeURIComponent).join('/');
    return esc(parts + (anchor === undefined ? '' : `#${anchor}`));
  }

  private page(folder: string, title: string, main: string): string {
    const { locales, title: name, changes } = this.source;
    const home = name ?? this.words.words.heading;
    const tongues = locales.map((tag) => {
      const called = esc(new Intl.DisplayNames([tag], { type: 'language' }).of(tag) ?? tag);
      const current = tag === this.locale ? ' aria-current="true"' : '';
      return `<li><a href="${this.link(folder, { folder }, tag)}" lang="${tag}" dir="${directionOf(tag)}" hreflang="${tag}"${current}>${called}</a></li>`;
    });
    const changed = changes
      ? `<li><a href="${this.link(folder, { folder: 'changes/' })}">${this.word('changes')}</a></li>`
      : '';
    const body = `${SITE_MARK}
<a class="skip" href="#main">${this.word('skip')}</a>
<header>
<nav aria-label="${this.word('home')}"><ul><li><a href="${this.link(folder, { folder: '' })}">${folder === '' ? this.word('home') : esc(home)}</a></li>${changed}</ul></nav>
<nav aria-label="${this.word('languages')}"><ul>${tongues.join('')}</ul></nav>
</header>
<main id="main">
${main}
</main>`;
    const whole = folder === '' ? esc(home) : `${title} · ${esc(home)}`;
    return pageOf(this.locale, whole, SITE_STYLE, body, directionOf(this.locale));
  }

  /** An answer as it comes, its body laid out for people. */
  private answer(status: number, headers: Readonly<Record<string, string>>, text: string): string {
    const type = headers['content-type'] ?? '';
    const pretty = /json/.test(type) ? JSON.stringify(JSON.parse(text), undefined, 2) : text;
    const lines = ['content-type', 'content-language', 'retry-after'].flatMap((name) => {
      const value = headers[name];
      const shown = name.replace(/\b[a-z]/g, (letter) => letter.toUpperCase());
      return value === undefined ? [] : [`${shown}: ${value}`];
    });
    const head = [`HTTP/1.1 ${status} ${ERROR_STATUSES.get(status) ?? ''}`.trimEnd(), ...lines];
    return `<pre tabindex="0"><code>${esc(`${head.join('\n')}\n\n${pretty}`)}</code></pre>`;
  }

  private json(value: unknown): string {
    return `<pre tabindex="0"><code>${esc(JSON.stringify(value, undefined, 2))}</code></pre>`;
  }

  /** Returns sample parameters of a problem. */
  private samplesOf(problem: string): Record<string, unknown> {
    const names = PROBLEM_ARGUMENTS[problem] ?? [];
    const own = names
      .filter((name) => !Object.hasOwn(TELLS_WHETHER, name))
      .map((name) => [name, SAMPLES[name]] as const);
    return { ...Object.fromEntries(own), ...this.workspace.config.problemParams.get(problem) };
  }

  private titleOf(problem: string): string {
    const options = answerOptions(this.workspace, { audience: 'client' });
    const params = this.samplesOf(problem);
    return answerProblem(problem, params, this.locale, '', this.workspace.texts, options).title;
  }

  private get forms(): readonly FormIndex[] {
    return [...this.workspace.forms.values()];
  }

  /** Where a field stands in the page of its form. */
  private fieldLink({ form }: FormIndex, field: Field): Link {
    return {
      folder: this.addresses.form(form.id),
      anchor: `field-${form.fields.indexOf(field) + 1}`,
    };
  }

  problem(id: string, status: number): string {
    const { workspace, source } = this;
    const options = answerOptions(workspace, { audience: 'client' });
    const folder = problemFolder(id, options.typeBase);
    const samples = this.samplesOf(id);
    const leading = this.forms.flatMap((index) =>
      index.form.fields.flatMap((field) =>
        field.uses
          .filter(({ problem }) => problem === id)
          .map(
            (use) =>
              `<li><a href="${this.link(folder, this.fieldLink(index, field))}"><code>${esc(`${index.form.id} ${field.path} ${codeOf(use)}`)}</code></a></li>`,
          ),
      ),
    );
    const forms =
      id === 'invalid-fields'
        ? this.forms.map(
            ({ form }) =>
              `<li><a href="${this.link(folder, { folder: this.addresses.form(form.id) })}">${esc(form.id)}</a></li>`,
          )
        : [];
    const rows = source.locales.map((locale) => {
      const { title, detail, locales } = answerProblem(
        id,
        samples,
        locale,
        '',
        workspace.texts,
        options,
      );
      const tongue = locales[0] ?? locale;
      const about = `lang="${tongue}" dir="${directionOf(tongue)}"`;
      return `<tr><th scope="row"><code>${locale}</code></th><td ${about}>${esc(title)}</td><td ${about}>${esc(detail)}</td></tr>`;
    });
    const parameters = Object.entries(samples).map(
      ([name, value]) =>
        `<tr><td><code>${esc(name)}</code></td><td><code>${esc(JSON.stringify(value))}</code></td></tr>`,
    );
    const title = esc(this.titleOf(id));
    return this.page(
      folder,
      title,
      `<h1>${title}</h1>
<dl>
<dt>${this.word('problem')}</dt><dd><code>${esc(id)}</code></dd>
<dt>${this.word('status')}</dt><dd><code>${status} ${esc(ERROR_STATUSES.get(status) ?? '')}</code></dd>
<dt>${this.word('type')}</dt><dd><code>${esc(typeUri(id, options))}</code></dd>
</dl>
<h2>${this.word('when')}</h2>
<p>${this.word(whenOf(id, status))}</p>
${forms.length > 0 ? `<ul>${forms.join('')}</ul>` : ''}${leading.length > 0 ? `<p>${this.word('rulesLead')}:</p><ul>${leading.join('')}</ul>` : ''}
<h2>${this.word('todo')}</h2>
<p>${this.word(remedyOf(id, status))}</p>
<h2>${this.word('says')}</h2>
<div class="scroll" tabindex="0" role="region" aria-label="${this.word('says')}"><table><thead><tr><th scope="col">${this.word('languages')}</th><th scope="col">${this.word('title')}</th><th scope="col">${this.word('detail')}</th></tr></thead><tbody>${rows.join('')}</tbody></table></div>
${parameters.length > 0 ? `<h2>${this.word('parameters')}</h2><table><tbody>${parameters.join('')}</tbody></table>` : ''}
<h2>${this.word('example')}</h2>
${this.example(id, samples)}`,
    );
  }

  private example(id: string, params: Readonly<Record<string, unknown>>): string {
    const forms = id === 'invalid-fields' ? this.forms : [];
    const index = forms.find(({ form }) => form.fields.some(({ uses }) => uses.length > 0));
    const { status, headers, body } =
      (index && this.broken(index)) ??
      this.renderer.renderProblem(id, { locale: this.locale, params });
    return this.answer(status, headers, body);
  }

  /** The answer to a request in which some fields are wrong; nothing where none can be. */
  private broken({
    form,
  }: FormIndex): ReturnType<ReturnType<typeof workspaceRenderer>['render']> | undefined {
    const telling = (use: RuleUse): boolean => use.rule !== 'type' && use.problem === undefined;
    const chosen = form.fields.flatMap((field) => {
      const [first, ...others] = field.uses.filter(telling);
      // What is missing is said alike of all fields; another rule shows more.
      const use = field.secret ? undefined : (others[0] ?? first);
      return use ? [sampleIn(form, field, use)] : [];
    });
    const fallback = form.fields.flatMap((field) =>
      field.uses.slice(0, 1).map((use) => sampleIn(form, field, use)),
    );
    const violations = (chosen.length > 0 ? chosen : fallback).slice(0, MOST_BROKEN);
    return violations.length === 0
      ? undefined
      : this.renderer.render({ form: form.id, violations }, { locale: this.locale });
  }

  form(index: FormIndex): string {
    const { form } = index;
    const folder = this.addresses.form(form.id);
    const fields = form.fields
      .map((field, at) => ({ field, at }))
      .filter(({ field }) => field.uses.length > 0)
      .map(({ field, at }) => this.field(index, field, at));
    const payload = exampleBody(form, (body) => this.source.broken(index, body));
    const wrong = this.broken(index);
    const type = wrong?.headers['content-type'] ?? '';
    const outcome =
      wrong && /json/.test(type) ? this.source.read(wrong.status, type, wrong.body) : undefined;
    return this.page(
      folder,
      esc(form.id),
      `<h1>${esc(form.id)}</h1>
${form.request === undefined ? '' : `<p class="lead"><code>${esc(form.request)}</code></p>`}
${payload ? `<h2>${this.word('payload')}</h2>${this.json(payload)}` : ''}
<h2>${this.word('fields')}</h2>
${fields.join('\n')}
${wrong ? `<h2>${this.word('wrong')}</h2>${this.answer(wrong.status, wrong.headers, wrong.body)}` : ''}
${outcome === undefined ? '' : `<h2>${this.word('reader')}</h2>${this.json(outcome)}`}`,
    );
  }

  private labelOf(index: FormIndex, { pattern, in: part }: Field): string {
    const { zone, shorten } = answerOptions(this.workspace);
    const speech = { locale: this.locale, sentence: this.locale, zone, shorten };
    const path = samplePathIn(index.form, pattern, part);
    const words = new Words(this.workspace.texts, index);
    return capitalised(said(words.label(path, part, 'base', speech), path), this.locale);
  }

  private field(index: FormIndex, field: Field, at: number): string {
    const rules = field.uses.map((use) => this.rule(index, field, use));
    const path = `${field.in === 'body' ? '' : `${field.in}: `}${field.path}`;
    const shown = path === '' ? '' : ` <code>${esc(path)}</code>`;
    return `<section class="field" id="field-${at + 1}"><h3>${esc(this.labelOf(index, field))}${shown}</h3>
${field.secret ? `<p class="secret">${this.word('secret')}</p>` : ''}<ul class="rules">${rules.join('')}</ul></section>`;
  }

  private rule(index: FormIndex, field: Field, use: RuleUse): string {
    const params = field.secret
      ? []
      : shownParams(use.external ? (use.constants ?? {}) : use.params).map(
          ([name, value]) => `<small><code>${esc(`${name}: ${value}`)}</code></small>`,
        );
    return `<li><span><code>${esc(codeOf(use))}</code>${params.join('')}</span><span>${this.sentence(index, field, use)}</span></li>`;
  }

  private sentence(index: FormIndex, field: Field, use: RuleUse): string {
    const { problem } = use;
    if (problem !== undefined && this.workspace.config.statuses.has(problem)) {
      const folder = problemFolder(problem, this.workspace.config.body.typeBase);
      const from = this.addresses.form(index.form.id);
      return `<a href="${this.link(from, { folder })}"><code>${esc(problem)}</code></a>`;
    }
    // The one value that is right is the secret itself.
    if (field.secret && use.rule === 'const') return '';
    const violation = sampleIn(index.form, field, use);
    const { text, case: at } = sentencesOf(this.workspace, index).say(violation, this.locale);
    const tongue = at.spoken?.locale ?? this.locale;
    const about = tongue === this.locale ? '' : ` lang="${tongue}" dir="${directionOf(tongue)}"`;
    return about === '' ? esc(text) : `<span${about}>${esc(text)}</span>`;
  }

  private codes(): string {
    const places = new Map<string, Map<Form, Link>>();
    for (const index of this.forms)
      for (const field of index.form.fields)
        for (const use of field.uses) {
          const of = places.get(codeOf(use)) ?? new Map<Form, Link>();
          places.set(codeOf(use), of);
          if (!of.has(index.form)) of.set(index.form, this.fieldLink(index, field));
        }
    const items = [...places]
      .sort(([one], [other]) => (one < other ? -1 : 1))
      .map(([code, of]) => {
        const links = [...of].map(
          ([{ id }, link]) => `<a href="${this.link('', link)}">${esc(id)}</a>`,
        );
        return `<li data-found><code>${esc(code)}</code><br><small>${links.join('')}</small></li>`;
      });
    return `<ul class="codes">${items.join('')}</ul>`;
  }

  index(): string {
    const { config } = this.workspace;
    const { typeBase } = config.body;
    const forms = this.forms.map(
      ({ form }) =>
        `<tr data-found><td><a href="${this.link('', { folder: this.addresses.form(form.id) })}">${esc(form.id)}</a></td><td><code>${esc(form.request ?? '')}</code></td></tr>`,
    );
    const problems = [...config.statuses].map(
      ([id, status]) =>
        `<tr data-found id="${esc(id)}"><td><a href="${this.link('', { folder: problemFolder(id, typeBase) })}">${esc(this.titleOf(id))}</a></td><td><code>${esc(id)}</code></td><td><code>${status}</code></td></tr>`,
    );
    const language =
      new Intl.DisplayNames([this.words.locale], { type: 'language' }).of(config.original) ??
      config.original;
    const table = (word: SiteWord, heads: readonly SiteWord[], rows: readonly string[]): string =>
      `<h2>${this.word(word)}</h2>
<div class="scroll" tabindex="0" role="region" aria-label="${this.word(word)}"><table><thead><tr>${heads.map((head) => `<th scope="col">${this.word(head)}</th>`).join('')}</tr></thead><tbody>${rows.join('')}</tbody></table></div>`;
    return this.page(
      '',
      '',
      `<h1>${esc(this.source.title ?? this.words.words.heading)}</h1>
<p class="find"><label for="search">${this.word('search')}</label><input id="search" type="search" autocomplete="off"><span id="none" role="status" hidden>${this.word('nothing')}</span></p>
${table('forms', ['form', 'request'], forms)}
${table('problems', ['title', 'problem', 'status'], problems)}
<h2>${this.word('codes')}</h2>
${this.codes()}
<h2>${this.word('how')}</h2>
<p>${this.word('howText', { language })}</p>
<script>${SEARCH}</script>`,
    );
  }

  changes(): string | undefined {
    const { changes } = this.source;
    if (!changes) return undefined;
    const title = this.word('since', { revision: changes.revision });
    const names = { problem: this.word('problem'), field: this.word('field') };
    return this.page(
      'changes/',
      title,
      `<h1>${title}</h1>${changesBody(changes.found, this.locale, names) || `<p>${this.word('nothing')}</p>`}`,
    );
  }
}
