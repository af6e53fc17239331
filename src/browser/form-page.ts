/// <reference lib="dom" />
/// <reference lib="dom.iterable" />
import { unbroken } from './unbroken.js';
import { readResponse, type InputPath, type Outcome } from '../client.js';

// The script of the page that tries a form: what was typed becomes JSON, what comes back is shown
// beside its field.

type Control = HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement;

function element(id: string): HTMLElement {
  const found = document.getElementById(id);
  if (!found) throw new Error(`the page has no ${id}`);
  return found;
}

const form = element('form') as HTMLFormElement;
const summary = element('summary');
const status = element('status');
const button = element('send') as HTMLButtonElement;
const controls = [...form.querySelectorAll<Control>('[data-as]')];
const places = [...form.querySelectorAll<HTMLElement>('[data-path]')];

const pathOf = (node: HTMLElement): InputPath => JSON.parse(node.dataset.path ?? '[]') as InputPath;
const isTicked = (control: Control): boolean =>
  control instanceof HTMLInputElement && control.type === 'checkbox';

function valueOf(control: Control): unknown {
  if (isTicked(control)) return (control as HTMLInputElement).checked;
  if (control.value === '') return undefined;
  // What is not a number is sent as it was typed: what comes of it is what one wants to see.
  if (control.dataset.as === 'number')
    return Number.isNaN(Number(control.value)) ? control.value : Number(control.value);
  return control.value;
}

function put(root: Record<string, unknown>, path: InputPath, value: unknown): void {
  let node: Record<string | number, unknown> = root;
  for (const [at, part] of path.entries()) {
    if (at === path.length - 1) node[part] = value;
    else
      node = (node[part] ??= typeof path[at + 1] === 'number' ? [] : {}) as Record<
        string | number,
        unknown
      >;
  }
}

function request(): { url: string; init: RequestInit } {
  const body: Record<string, unknown> = {};
  const query = new URLSearchParams();
  const headers: Record<string, string> = {
    'accept-language': document.documentElement.lang,
    prefer: 'inline',
  };
  let path = form.dataset.path ?? '/';
  for (const control of controls) {
    const value = valueOf(control);
    const name = String(pathOf(control)[0] ?? '');
    const text = typeof value === 'string' ? value : JSON.stringify(value);
    if (value === undefined) continue;
    if (control.dataset.in === 'body') put(body, pathOf(control), value);
    else if (control.dataset.in === 'query') query.append(name, text);
    else if (control.dataset.in === 'header') headers[name] = text;
    else path = path.replace(`{${name}}`, encodeURIComponent(text));
  }
  const method = form.dataset.method ?? 'POST';
  const search = query.size > 0 ? `?${query.toString()}` : '';
  if (method === 'GET' || method === 'HEAD')
    return { url: path + search, init: { method, headers } };
  return {
    url: path + search,
    init: {
      method,
      headers: { ...headers, 'content-type': 'application/json' },
      body: JSON.stringify(body),
    },
  };
}

function clear(): void {
  for (const error of form.querySelectorAll<HTMLElement>('.error')) {
    error.textContent = '';
    error.hidden = true;
  }
  for (const control of controls) control.removeAttribute('aria-invalid');
  summary.hidden = true;
  summary.replaceChildren();
  status.textContent = '';
}

/**
 * The input or heading that an error belongs to; what stands deeper than any belongs to the nearest
 * around it.
 */
function nodeFor(path: InputPath, isParameter: boolean): HTMLElement | undefined {
  for (let length = path.length; length > 0; length--) {
    const wanted = JSON.stringify(path.slice(0, length));
    const found = places.find(
      (node) => node.dataset.path === wanted && (node.dataset.in !== 'body') === isParameter,
    );
    if (found) return found;
  }
  return undefined;
}

function showAt(node: HTMLElement, texts: readonly string[]): string {
  const isControl = node.dataset.as !== undefined;
  const id = isControl ? node.id : (node.querySelector('[id]')?.id ?? '');
  if (isControl) node.setAttribute('aria-invalid', 'true');
  const error = element(`${id}-error`);
  for (const text of texts)
    error.append(...(error.hasChildNodes() ? [' '] : []), ...unbroken(text));
  error.hidden = false;
  return id;
}

/**
 * Whether a node is the path's own, and not only near it: what stands beside it need not say the
 * label again.
 */
const standsFor = (node: HTMLElement, path: InputPath): boolean =>
  node.dataset.path === JSON.stringify(path);

function show(
  title: string,
  detail: string,
  entries: readonly { text: string; id?: string }[],
): void {
  const heading = document.createElement('h2');
  heading.textContent = title;
  const about = document.createElement('p');
  about.textContent = detail;
  const list = document.createElement('ul');
  for (const { text, id } of entries) {
    const item = document.createElement('li');
    if (id === undefined) item.append(...unbroken(text));
    else {
      const link = document.createElement('a');
      link.href = `#${id}`;
      link.append(...unbroken(text));
      link.addEventListener('click', (event) => {
        event.preventDefault();
        element(id).focus();
      });
      item.append(link);
    }
    list.append(item);
  }
  summary.replaceChildren(
    heading,
    ...(detail === '' ? [] : [about]),
    ...(entries.length > 0 ? [list] : []),
  );
  summary.hidden = false;
  summary.focus();
}

function tell(outcome: Outcome): void {
  switch (outcome.kind) {
    case 'accepted':
      status.textContent = form.dataset.accepted ?? '';
      return;
    case 'problem':
      show(outcome.title, outcome.detail, []);
      return;
    case 'no-answer':
      show(form.dataset.noAnswer ?? '', '', []);
      return;
    case 'invalid': {
      const parameters = Object.entries(outcome.parameters).map(([name, texts]) => ({
        path: [name],
        texts,
        isParameter: true,
        inlines: outcome.inlineParameters[name] ?? texts,
      }));
      const fields = outcome.errors.map(({ path, texts, inlines }) => ({
        path,
        texts,
        inlines,
        isParameter: false,
      }));
      const entries = [...parameters, ...fields].flatMap(
        ({ path, texts, inlines, isParameter }) => {
          const node = nodeFor(path, isParameter);
          const id = node && showAt(node, standsFor(node, path) ? inlines : texts);
          return texts.map((text) => (id === undefined || id === '' ? { text } : { text, id }));
        },
      );
      show(outcome.title, outcome.detail, [...outcome.form.map((text) => ({ text })), ...entries]);
    }
  }
}

form.addEventListener('submit', (event) => {
  event.preventDefault();
  if (button.disabled) return;
  clear();
  const label = button.textContent;
  button.disabled = true;
  button.textContent = form.dataset.sending ?? label;
  const { url, init } = request();
  void readResponse(fetch(url, init)).then((outcome) => {
    button.disabled = false;
    button.textContent = label;
    tell(outcome);
  });
});

// What was typed survives a change of the language or of the number of rows; secrets are not kept.
const store = `form ${location.pathname}`;
const keyOf = (control: Control): string =>
  `${control.dataset.in ?? ''} ${control.dataset.path ?? ''}`;

function leave(): void {
  const kept = controls.filter((control) => control.getAttribute('type') !== 'password');
  const values = kept.map((control) => [
    keyOf(control),
    isTicked(control) ? (control as HTMLInputElement).checked : control.value,
  ]);
  sessionStorage.setItem(store, JSON.stringify(values));
  const parameters = new URLSearchParams({
    locale: (element('language') as HTMLSelectElement).value,
  });
  const rows = document.getElementById('rows');
  if (rows instanceof HTMLSelectElement) parameters.set('rows', rows.value);
  location.search = parameters.toString();
}

for (const id of ['language', 'rows'])
  document.getElementById(id)?.addEventListener('change', leave);
const saved = new Map(
  JSON.parse(sessionStorage.getItem(store) ?? '[]') as [string, string | boolean][],
);
for (const control of controls) {
  const value = saved.get(keyOf(control));
  if (typeof value === 'boolean') (control as HTMLInputElement).checked = value;
  else if (value !== undefined) control.value = value;
}
