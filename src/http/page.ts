import { escapeHtml as esc } from '../core/text/markup.js';
import { directionOf, type Locale } from '../core/locale/tag.js';
import { ANY_DEPTH, ANY_ELEMENT, ANY_KEY, type Path, type Pattern } from '../core/path/path.js';
import { compareRanks, type FormIndex } from '../core/rules/form-index.js';
import type { Field } from '../core/rules/form.js';
import { declaredTypes } from '../core/rules/types.js';
import { capitalised } from '../core/text/value.js';
import { said, Words } from '../core/violation/words.js';
import type { Workspace } from '../workspace/reading/workspace.js';
import { pageWords } from './page-words.js';
import { answerOptions } from '../workspace/answering/answering.js';

/** The page script's data about one input. */
interface InputKind {
  readonly tag: 'input' | 'textarea' | 'select';
  /** How what was typed becomes JSON. */
  readonly as: 'text' | 'number' | 'flag';
  readonly attributes: string;
}

const LONG_TEXT = 200;

function kindOf(field: Field): InputKind {
  const types = declaredTypes(field.uses);
  if (field.uses.some(({ rule }) => rule === 'enum'))
    return { tag: 'select', as: 'text', attributes: '' };
  if (types.includes('boolean')) return { tag: 'input', as: 'flag', attributes: 'type="checkbox"' };
  if (types.includes('number') || types.includes('integer'))
    return { tag: 'input', as: 'number', attributes: 'type="text" inputmode="decimal"' };
  const longest = field.uses.find(({ rule }) => rule === 'maxLength')?.params.max;
  if (!field.secret && typeof longest === 'number' && longest >= LONG_TEXT)
    return { tag: 'textarea', as: 'text', attributes: 'rows="3" dir="auto"' };
  return {
    tag: 'input',
    as: 'text',
    attributes: field.secret ? 'type="password" autocomplete="off"' : 'type="text" dir="auto"',
  };
}

/** A pattern with its elements at a place each; keys of maps and depths have no input. */
function placed(pattern: Pattern, rows: number): Path[] {
  if (pattern.includes(ANY_DEPTH) || pattern.includes(ANY_KEY)) return [];
  return pattern.reduce<Path[]>(
    (paths, segment) =>
      paths.flatMap((path): Path[] => {
        if (segment === ANY_ELEMENT) return Array.from({ length: rows }, (_, at) => [...path, at]);
        return typeof segment === 'symbol' ? [] : [[...path, segment]];
      }),
    [[]],
  );
}

class PageWriter {
  private readonly words: Words;
  private ids = 0;

  constructor(
    private readonly workspace: Workspace,
    private readonly form: FormIndex,
    private readonly locale: Locale,
    private readonly rows: number,
  ) {
    this.words = new Words(workspace.texts, form);
  }

  private label(path: Path, field: Field): string {
    const { zone, shorten } = answerOptions(this.workspace);
    const speech = { locale: this.locale, sentence: this.locale, zone, shorten };
    return capitalised(said(this.words.label(path, field.in, 'base', speech), path), this.locale);
  }

  private options(field: Field, path: Path): string {
    const { zone, shorten } = answerOptions(this.workspace);
    const speech = { locale: this.locale, sentence: this.locale, zone, shorten };
    const values = field.uses.find(({ rule }) => rule === 'enum')?.params.choices;
    const named = (Array.isArray(values) ? (values as unknown[]) : []).map((value) => {
      const name = said(this.words.choices([value], path, field.in, speech), path);
      return `<option value="${esc(typeof value === 'string' ? value : JSON.stringify(value))}">${esc(name)}</option>`;
    });
    return `<option value="">${esc(pageWords(this.locale).choose)}</option>${named.join('')}`;
  }

  private input(field: Field, path: Path): string {
    const id = `f${(this.ids += 1)}`;
    const { tag, as, attributes } = kindOf(field);
    const where = field.in === 'body' ? JSON.stringify(path) : JSON.stringify([field.path]);
    const common = `id="${id}" data-in="${field.in}" data-path="${esc(where)}" data-as="${as}" aria-describedby="${id}-error"`;
    const control =
      tag === 'select'
        ? `<select ${common}>${this.options(field, path)}</select>`
        : tag === 'textarea'
          ? `<textarea ${common} ${attributes}></textarea>`
          : `<input ${common} ${attributes}>`;
    return `<div class="field" style="--depth:${path.length - 1}"><label for="${id}">${esc(this.label(path, field))}</label>${control}<p class="error" id="${id}-error" hidden></p></div>`;
  }

  /** Whether something else of the form stands inside this field. */
  private isContainer(field: Field): boolean {
    return this.form.form.fields.some(
      (other) =>
        other !== field &&
        other.in === field.in &&
        other.pattern.length > field.pattern.length &&
        field.pattern.every((part, at) => other.pattern[at] === part),
    );
  }

  private place(field: Field, path: Path): string {
    const id = `f${(this.ids += 1)}`;
    const level = Math.min(6, 1 + path.length);
    return `<div class="place" style="--depth:${path.length - 1}" data-in="body" data-path="${esc(JSON.stringify(path))}"><h${level} id="${id}">${esc(this.label(path, field))}</h${level}><p class="error" id="${id}-error" hidden></p></div>`;
  }

  private entries(): { path: Path; html: () => string; rank: readonly number[] }[] {
    return this.form.form.fields.flatMap((field) =>
      placed(field.pattern, this.rows).flatMap((path) => {
        const container = this.isContainer(field);
        if (container && path.length === 0) return [];
        const html = (): string => (container ? this.place(field, path) : this.input(field, path));
        return [{ path, html, rank: this.form.rank(path, field.in, 0) }];
      }),
    );
  }

  write(): string {
    const { id, request } = this.form.form;
    const { locales: languages } = this.workspace.config;
    const said = pageWords(this.locale);
    const [method = 'POST', path = ''] = request?.split(' ') ?? [];
    const entries = this.entries().sort((one, other) => compareRanks(one.rank, other.rank));
    const languageName = (tag: string): string =>
      new Intl.DisplayNames([tag], { type: 'language' }).of(tag) ?? tag;
    const choices = languages.map(
      (tag) =>
        `<option value="${tag}" lang="${tag}"${tag === this.locale ? ' selected' : ''}>${esc(languageName(tag))}</option>`,
    );
    const hasRows = this.form.form.fields.some(({ pattern }) => pattern.includes(ANY_ELEMENT));
    const rows = [1, 2, 3, 4, 5].map(
      (count) => `<option${count === this.rows ? ' selected' : ''}>${count}</option>`,
    );
    return `<!doctype html>
<html lang="${this.locale}" dir="${directionOf(this.locale)}">
<head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><link rel="icon" href="data:,"><title>${esc(id)}</title><style>${STYLE}</style></head>
<body>
<main>
<header><h1>${esc(id)}</h1><p class="request">${request === undefined ? NO_REQUEST : `<bdi>${esc(request)}</bdi>`}</p>
<label>${esc(said.language)} <select id="language">${choices.join('')}</select></label>${hasRows ? ` <label>${esc(said.rows)} <select id="rows">${rows.join('')}</select></label>` : ''}</header>
<form id="form" novalidate data-method="${esc(method)}" data-path="${esc(path)}" data-sending="${esc(said.sending)}" data-accepted="${esc(said.accepted)}" data-no-answer="${esc(said.noAnswer)}">
<div id="summary" tabindex="-1" hidden></div>
${entries.map((entry) => entry.html()).join('\n')}
<button id="send"${request === undefined ? ' disabled' : ''}>${esc(said.send)}</button>
</form>
<p id="status" role="status"></p>
</main>
<script type="module" src="/zeitwort/form-page.js"></script>
</body>
</html>
`;
  }
}

/** For whoever keeps the form, who reads rule files; there is nothing to try before that. */
const NO_REQUEST =
  '<span lang="en" dir="ltr">This form has no <code>request</code>, so there is nowhere to send it: write one beside its fields, such as <code>request: POST /proposals</code>.</span>';

const STYLE = `
:root{color-scheme:light dark;--error:light-dark(#a4161a,#ff8f8f);--line:light-dark(#8a8f98,#70757d)}
body{font:1rem/1.5 system-ui,sans-serif;margin:0}
main{max-width:42rem;margin:0 auto;padding:1rem}
header{border-block-end:1px solid var(--line);margin-block-end:1rem;padding-block-end:1rem}
h1{font-size:1.4rem;margin:0}h2,h3,h4,h5,h6{font-size:1.05rem;margin:1.2rem 0 0}
.request{margin:0 0 .6rem;font-family:ui-monospace,monospace;font-size:.9rem}
.field,.place{margin-inline-start:calc(var(--depth,0)*1.2rem)}
.field{margin-block:.7rem}
.field label{display:block;font-weight:600}
input:not([type=checkbox]),select,textarea{font:inherit;padding:.35rem .5rem;border:1px solid var(--line);border-radius:.25rem;box-sizing:border-box}
.field input:not([type=checkbox]),.field select,.field textarea{inline-size:100%}
[aria-invalid=true]{border:2px solid var(--error)!important}
.error{color:var(--error);margin:.2rem 0 0}
#summary{border:2px solid var(--error);border-radius:.25rem;padding:.6rem 1rem;margin-block-end:1rem}
#summary h2{margin:0;font-size:1.05rem}#summary ul{margin:.4rem 0 0;padding-inline-start:1.2rem}#summary a{color:inherit}
button{font:inherit;padding:.5rem 1.2rem;margin-block-start:.8rem}
`;

/** The page on which one form can be tried by hand. */
export function formPage(
  workspace: Workspace,
  form: FormIndex,
  locale: Locale,
  rows: number,
): string {
  return new PageWriter(workspace, form, locale, rows).write();
}
