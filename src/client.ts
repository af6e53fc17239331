// Reads error bodies for API clients. It stands alone: no import, so that it can be served to a browser as it is.

/** What came back, however it was fetched. */
export interface Reply {
  readonly status: number;
  /** The value of `Content-Type`, or null where there was none. */
  readonly mediaType: string | null;
  readonly text: string;
}

/** Where a value stands: names of members, and places of elements from 0. */
export type FieldPath = readonly (string | number)[];

/** How paths are written: `targets.2.name`, `targets[2].name`, or `/targets/2/name`. */
export type PathStyle = 'dots' | 'brackets' | 'pointer';

/** All that was said about one field. */
export interface FieldError {
  readonly path: FieldPath;
  readonly texts: readonly string[];
  readonly codes: readonly string[];
}

export type Outcome =
  /** The request was taken. */
  | { readonly kind: 'accepted' }
  /** It broke rules; `fields` by path, `form` what is said of the whole, `parameters` of query, path and headers by name. */
  | {
      readonly kind: 'invalid';
      readonly title: string;
      readonly detail: string;
      readonly fields: Readonly<Record<string, readonly string[]>>;
      readonly form: readonly string[];
      readonly parameters: Readonly<Record<string, readonly string[]>>;
      readonly errors: readonly FieldError[];
      /** How many violations the body does not tell, since there were too many. */
      readonly more: number;
    }
  /** The service answered that something else is wrong. */
  | { readonly kind: 'problem'; readonly status: number; readonly code: string; readonly title: string; readonly detail: string }
  /** Nothing came, or it was not the service that answered: a proxy's page, half a body. */
  | { readonly kind: 'no-answer'; readonly reason: 'network' | 'foreign' | 'broken'; readonly status?: number };

export interface ReadOptions {
  readonly paths?: PathStyle;
  /** Of `jsonapi`: what pointers of body fields start with. */
  readonly prefix?: string;
}

type Loose = unknown;
type Bag = Readonly<Record<string, unknown>>;

const isBag = (value: Loose): value is Bag => typeof value === 'object' && value !== null && !Array.isArray(value);
const textOf = (value: Loose): string => (typeof value === 'string' ? value : '');
const isIndex = (token: string): boolean => /^(?:0|[1-9]\d*)$/.test(token);

function fromPointer(pointer: string): FieldPath {
  let text = pointer;
  if (text.startsWith('#')) {
    text = text.slice(1);
    try {
      text = decodeURIComponent(text);
    } catch {
      // Then it is taken as it stands.
    }
  }
  if (!text.startsWith('/')) return [];
  return text
    .slice(1)
    .split('/')
    .map((token) => token.replaceAll('~1', '/').replaceAll('~0', '~'))
    .map((token) => (isIndex(token) ? Number(token) : token));
}

function fromNotation(text: string): FieldPath {
  const path: (string | number)[] = [];
  for (const [, name, index, quoted] of text.matchAll(/([^.[\]"]+)|\[(\d+)\]|\[("(?:[^"\\]|\\.)*")\]/g)) {
    if (name !== undefined) path.push(name);
    else if (index !== undefined) path.push(Number(index));
    else if (quoted !== undefined) {
      try {
        path.push(textOf(JSON.parse(quoted)));
      } catch {
        path.push(quoted);
      }
    }
  }
  return path;
}

/** Writes a path as a form library wants it. */
export function pathAs(path: FieldPath, style: PathStyle = 'dots'): string {
  if (style === 'pointer') return path.map((part) => `/${String(part).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');
  if (style === 'dots') return path.map(String).join('.');
  return path.map((part, at) => (typeof part === 'number' ? `[${part}]` : at === 0 ? part : `.${part}`)).join('');
}

interface Found {
  readonly parameter?: string;
  readonly path: FieldPath;
  readonly text: string;
  readonly code: string;
}

const stringsOf = (value: Loose): string[] =>
  Array.isArray(value) ? value.filter((one): one is string => typeof one === 'string') : typeof value === 'string' ? [value] : [];

function fromProblem(errors: readonly Loose[]): Found[] {
  return errors.filter(isBag).map((error) => {
    const { pointer, parameter, header, detail, code } = error;
    const name = typeof parameter === 'string' ? parameter : typeof header === 'string' ? header : undefined;
    return {
      ...(name === undefined ? {} : { parameter: name }),
      path: fromPointer(textOf(pointer)),
      text: textOf(detail),
      code: textOf(code),
    };
  });
}

function fromJsonApi(errors: readonly Loose[], prefix: string): Found[] {
  return errors.filter(isBag).map(({ source, detail, title, code, meta }) => {
    const { pointer, parameter, header } = isBag(source) ? source : {};
    // The pointer of what is missing leads to what is around it.
    const missing = isBag(meta) ? meta.missing : undefined;
    const name = typeof parameter === 'string' ? parameter : typeof header === 'string' ? header : undefined;
    const text = textOf(missing ?? pointer);
    return {
      ...(name === undefined ? {} : { parameter: name }),
      path: fromPointer(text.startsWith(prefix) ? text.slice(prefix.length) : text),
      text: textOf(detail) || textOf(title),
      code: textOf(code),
    };
  });
}

function fromGraphql(errors: readonly Loose[]): Found[] {
  return errors.filter(isBag).map(({ message, extensions }) => {
    const { input, code, in: place } = isBag(extensions) ? extensions : {};
    const path = Array.isArray(input)
      ? input.filter((part): part is string | number => typeof part === 'string' || typeof part === 'number')
      : [];
    return { ...(place === undefined ? {} : { parameter: path.join('.') }), path, text: textOf(message), code: textOf(code) };
  });
}

function fromFields(fields: Bag, isParameter: boolean): Found[] {
  return Object.entries(fields).flatMap(([name, texts]) =>
    stringsOf(texts).map((text) => ({ ...(isParameter ? { parameter: name } : {}), path: fromNotation(name), text, code: '' })),
  );
}

function fromList(records: readonly Loose[]): Found[] {
  return records.filter(isBag).map(({ field, in: place, text, code }) => ({
    ...(typeof place === 'string' ? { parameter: textOf(field) } : {}),
    path: fromNotation(textOf(field)),
    text: textOf(text),
    code: textOf(code),
  }));
}

/** A body of one of the shapes, whichever it is. */
interface Body {
  readonly title: string;
  readonly detail: string;
  /** The problem's name where the shape tells it. */
  readonly code: string;
  /** What broke; absent where the body speaks of another problem. */
  readonly found?: readonly Found[];
  readonly more?: number;
}

const countOf = (value: Loose): number => (typeof value === 'number' && value > 0 ? value : 0);

/** The count of what is not told stands beside the errors: on top, in `meta` or `extensions`, or in the last record of a list. */
function moreIn(value: Loose): number {
  const last: Loose = Array.isArray(value) ? value.at(-1) : value;
  if (!isBag(last)) return 0;
  const { more, meta, extensions } = last;
  return countOf(more) || countOf(isBag(meta) ? meta.more : 0) || countOf(isBag(extensions) ? extensions.more : 0);
}

function bodyOf(value: Loose, prefix: string): Body | undefined {
  const body = layoutOf(value, prefix);
  return body?.found ? { ...body, more: moreIn(value) } : body;
}

function layoutOf(value: Loose, prefix: string): Body | undefined {
  if (Array.isArray(value)) return listBody(value);
  if (!isBag(value)) return undefined;
  const [title, detail] = [textOf(value.title), textOf(value.detail)];
  if (Array.isArray(value.errors) && typeof value.status !== 'number') return errorListBody(value.errors, prefix);
  if (isBag(value.fields) || isBag(value.parameters)) {
    const found = [
      ...fromFields(isBag(value.fields) ? value.fields : {}, false),
      ...fromFields(isBag(value.parameters) ? value.parameters : {}, true),
    ];
    return { title, detail, code: textOf(value.code), found };
  }
  if (typeof value.status !== 'number' || title === '') return undefined;
  const type = textOf(value.type);
  const code = textOf(value.code) || (type === 'about:blank' ? '' : (type.split(/[/#]/).at(-1) ?? ''));
  return { title, detail, code, ...(Array.isArray(value.errors) ? { found: fromProblem(value.errors) } : {}) };
}

function listBody(records: readonly Loose[]): Body | undefined {
  const [first] = records;
  if (records.length > 0 && !(isBag(first) && 'field' in first && 'text' in first)) return undefined;
  if (isBag(first) && first.field === null) return { title: textOf(first.text), detail: '', code: textOf(first.code) };
  return {
    title: '',
    detail: '',
    code: 'invalid-fields',
    found: fromList(records.filter((one, at) => at === 0 || !isBag(one) || countOf(one.more) === 0)),
  };
}

function errorListBody(errors: readonly Loose[], prefix: string): Body | undefined {
  const [first] = errors;
  if (!isBag(first)) return undefined;
  if ('message' in first) {
    const { problem, input, code, detail } = isBag(first.extensions) ? first.extensions : {};
    const named = textOf(problem) || textOf(code);
    return input === undefined
      ? { title: textOf(first.message), detail: textOf(detail), code: named }
      : { title: '', detail: '', code: named, found: fromGraphql(errors) };
  }
  if (!('title' in first)) return undefined;
  const title = textOf(first.title);
  return first.source === undefined
    ? { title, detail: textOf(first.detail), code: textOf(first.code) }
    : { title, detail: '', code: 'invalid-fields', found: fromJsonApi(errors, prefix) };
}

const add = (into: Map<string, string[]>, key: string, text: string): void => {
  const texts = into.get(key);
  if (texts) texts.push(text);
  else into.set(key, [text]);
};

function invalid({ title, detail, found = [], more = 0 }: Body, style: PathStyle): Outcome {
  const fields = new Map<string, string[]>();
  const parameters = new Map<string, string[]>();
  const form: string[] = [];
  const errors = new Map<string, { path: FieldPath; texts: string[]; codes: string[] }>();
  for (const { parameter, path, text, code } of found) {
    if (parameter !== undefined) add(parameters, parameter, text);
    else if (path.length === 0) form.push(text);
    else {
      add(fields, pathAs(path, style), text);
      const key = JSON.stringify(path);
      const error = errors.get(key) ?? { path, texts: [], codes: [] };
      error.texts.push(text);
      if (code !== '') error.codes.push(code);
      errors.set(key, error);
    }
  }
  return {
    ...{ kind: 'invalid', title, detail, form, errors: [...errors.values()], more },
    fields: Object.fromEntries(fields),
    parameters: Object.fromEntries(parameters),
  };
}

const JSON_TYPE = /^[\w.+-]+\/(?:[\w.+-]+\+)?json\b/i;

/** Reads what came back. It never throws, whatever that is. */
export function readReply(
  { status, mediaType, text }: Reply,
  { paths = 'dots', prefix = '/data/attributes' }: ReadOptions = {},
): Outcome {
  if (status >= 200 && status < 300) return { kind: 'accepted' };
  if (mediaType === null || !JSON_TYPE.test(mediaType)) return { kind: 'no-answer', reason: 'foreign', status };
  let value: Loose;
  try {
    value = JSON.parse(text);
  } catch {
    return { kind: 'no-answer', reason: 'broken', status };
  }
  const body = bodyOf(value, prefix);
  if (!body) return { kind: 'no-answer', reason: 'foreign', status };
  if (body.found) return invalid(body, paths);
  return { kind: 'problem', status, code: body.code, title: body.title, detail: body.detail };
}

/** The part of a fetched response that is read here. */
export interface ResponseLike {
  readonly status: number;
  readonly headers: { get(name: string): string | null };
  text(): Promise<string>;
}

/**
 * Waits for a response and reads it: `await readResponse(fetch(url, options))`. A network error is an outcome too; it never
 * throws.
 */
export async function readResponse(response: ResponseLike | Promise<ResponseLike>, options: ReadOptions = {}): Promise<Outcome> {
  let status: number | undefined;
  try {
    const got = await response;
    status = got.status;
    return readReply({ status, mediaType: got.headers.get('content-type'), text: await got.text() }, options);
  } catch {
    return { kind: 'no-answer', reason: 'network', ...(status === undefined ? {} : { status }) };
  }
}
