// Reads error bodies for API clients. It asks for nothing but itself, so that it can be served to a
// browser as it is.
import {
  fromNotation,
  fromPointer,
  pathAs,
  type InputPath,
  type PathStyle,
} from './client-paths.js';
import {
  type Loose,
  type Bag,
  isBag,
  textOf,
  type Found,
  inlineOf,
  stringsOf,
  fromProblem,
  fromJsonApi,
  fromGraphql,
  fromFields,
  fromList,
} from './client-found.js';
import { takenApart } from './client-shape.js';
import { problemOfStatus } from './core/body/status-problems.js';

export { pathAs, type InputPath, type PathStyle } from './client-paths.js';

/** An HTTP response, however it was fetched. */
export interface Reply {
  readonly status: number;
  /** The value of `Content-Type`, or null where there was none. */
  readonly mediaType: string | null;
  readonly text: string;
  /** The value of `Location`, where something was made. */
  readonly location?: string | null | undefined;
}

/** All that was said about one field. */
export interface InputError {
  readonly path: InputPath;
  readonly texts: readonly string[];
  /** The text beside the input for each error; the whole text where the body has no other. */
  readonly inlines: readonly string[];
  readonly codes: readonly string[];
  /** The inputs of which some have to be given, where that is what is wrong. */
  readonly members?: readonly InputPath[];
}

export type Outcome =
  /** The request was taken. */
  | {
      readonly kind: 'accepted';
      readonly status: number;
      /** The body, as JSON where it is JSON, else as text; absent where there is none. */
      readonly data?: unknown;
      /** Where to find what was made. */
      readonly location?: string;
    }
  /**
   * It broke rules; `fields` by path, `form` what is said of the whole, `parameters` of query, path
   * and headers by name.
   */
  | {
      readonly kind: 'invalid';
      readonly title: string;
      readonly detail: string;
      readonly fields: Readonly<Record<string, readonly string[]>>;
      readonly form: readonly string[];
      readonly parameters: Readonly<Record<string, readonly string[]>>;
      readonly errors: readonly InputError[];
      /** Of parameters, the texts for beside their inputs. */
      readonly inlineParameters: Readonly<Record<string, readonly string[]>>;
      /** The number of violations that the body leaves out, since there were too many. */
      readonly more: number;
      /** Further members of the body (extension members, RFC 9457 section 3.2). */
      readonly members: Readonly<Record<string, unknown>>;
    }
  /** The service answered that something else is wrong. */
  | {
      readonly kind: 'problem';
      readonly status: number;
      /** The problem's name; of `about:blank` the one that its status stands for. */
      readonly code: string;
      readonly title: string;
      readonly detail: string;
      readonly members: Readonly<Record<string, unknown>>;
    }
  /** Nothing came, or it was not the service that answered: a proxy's page, half a body. */
  | {
      readonly kind: 'no-answer';
      readonly reason: 'network' | 'foreign' | 'broken';
      readonly status?: number;
    };

export interface ReplyOptions {
  readonly paths?: PathStyle;
  /** Of `jsonapi`: what pointers of body fields start with. */
  readonly prefix?: string;
  /** Of a shape of your own: its contract (`zeitwort contract`), or its template. */
  readonly shape?: unknown;
}

/** A body of one of the shapes, whichever it is. */
interface Body {
  readonly title: string;
  readonly detail: string;
  /** The problem's name where the shape has it. */
  readonly code: string;
  /** The broken rules; absent where the body is about another problem. */
  readonly found?: readonly Found[];
  readonly more?: number;
  readonly members?: Bag;
}

const countOf = (value: Loose): number => (typeof value === 'number' && value > 0 ? value : 0);

/**
 * The number of omitted violations stands beside the errors: on top, in `meta` or `extensions`, or
 * in the last record of a list.
 */
function moreIn(value: Loose): number {
  const last: Loose = Array.isArray(value) ? value.at(-1) : value;
  if (!isBag(last)) return 0;
  const { more, meta, extensions } = last;
  return (
    countOf(more) ||
    countOf(isBag(meta) ? meta.more : 0) ||
    countOf(isBag(extensions) ? extensions.more : 0)
  );
}

function bodyOf(value: Loose, prefix: string): Body | undefined {
  const body = layoutOf(value, prefix);
  return body?.found ? { ...body, more: moreIn(value) } : body;
}

/** Members of a body that have a meaning of their own (RFC 9457 section 3.1), and ours. */
const STANDARD: ReadonlySet<string> = new Set([
  'type',
  'title',
  'status',
  'detail',
  'instance',
  'errors',
  'more',
  'code',
]);

/**
 * The code of a problem without a type, from its status (RFC 9457 section 4.2.1). Bodies that state
 * a cause mostly use these two.
 */
const codeOfStatus = (status: number): string =>
  status === 400 ? 'malformed-body' : status === 422 ? 'invalid-fields' : problemOfStatus(status);

function layoutOf(value: Loose, prefix: string): Body | undefined {
  if (Array.isArray(value)) return listBody(value);
  if (!isBag(value)) return undefined;
  const [title, detail] = [textOf(value.title), textOf(value.detail)];
  if (Array.isArray(value.errors) && typeof value.status !== 'number')
    return errorListBody(value.errors, prefix);
  if (isBag(value.fields) || isBag(value.parameters)) {
    const inline = isBag(value.inline) ? value.inline : {};
    const found = [
      ...fromFields(value.fields, inline.fields, false),
      ...fromFields(value.parameters, inline.parameters, true),
    ];
    return { title, detail, code: textOf(value.code), found };
  }
  if (typeof value.status !== 'number' || title === '') return undefined;
  const type = textOf(value.type);
  const code =
    textOf(value.code) || (type === 'about:blank' ? '' : (type.split(/[/#]/).at(-1) ?? ''));
  const members = Object.fromEntries(Object.entries(value).filter(([name]) => !STANDARD.has(name)));
  return {
    title,
    detail,
    code,
    members,
    ...(Array.isArray(value.errors) ? { found: fromProblem(value.errors) } : {}),
  };
}

function listBody(records: readonly Loose[]): Body | undefined {
  const [first] = records;
  if (records.length > 0 && !(isBag(first) && 'field' in first && 'text' in first))
    return undefined;
  if (isBag(first) && first.field === null)
    return { title: textOf(first.text), detail: '', code: textOf(first.code) };
  return {
    title: '',
    detail: '',
    code: 'invalid-fields',
    found: fromList(
      records.filter((one, at) => at === 0 || !isBag(one) || countOf(one.more) === 0),
    ),
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

/** A body of a shape of one's own. */
function ownBody(value: Loose, shape: Loose): Body | undefined {
  const template = isBag(shape) && 'x-zeitwort-shape' in shape ? shape['x-zeitwort-shape'] : shape;
  const apart = takenApart(template, value);
  if (!apart) return undefined;
  const { answer, records } = apart;
  const found = records.flatMap(
    ({ field, pointer, fragment, in: place, part = place, text, texts, ...record }) => {
      const { inline = record.beside, inlines, code, codes } = record;
      const at = textOf(fragment) || textOf(pointer);
      const path = at === '' ? fromNotation(textOf(field)) : fromPointer(at);
      const elsewhere = textOf(record.header) || textOf(record.parameter);
      const isElsewhere = elsewhere !== '' || (typeof part === 'string' && part !== 'body');
      const parameter = isElsewhere ? { parameter: elsewhere || textOf(field) || at } : {};
      const said = stringsOf(texts ?? text);
      const codesOf = stringsOf(codes ?? code);
      const beside = stringsOf(inlines ?? inline);
      return said.map((one, at): Found => ({
        ...parameter,
        path,
        text: one,
        ...inlineOf(beside[at]),
        code: codesOf[at] ?? '',
      }));
    },
  );
  const summary = {
    title: textOf(answer.title),
    detail: textOf(answer.detail),
    code: textOf(answer.problem),
  };
  return { ...summary, ...(found.length > 0 ? { found, more: countOf(answer.more) } : {}) };
}

const add = (into: Map<string, string[]>, key: string, text: string): void => {
  const texts = into.get(key);
  if (texts) texts.push(text);
  else into.set(key, [text]);
};

function invalid(
  { title, detail, found = [], more = 0, members = {} }: Body,
  style: PathStyle,
): Outcome {
  const fields = new Map<string, string[]>();
  const parameters = new Map<string, string[]>();
  const inlineParameters = new Map<string, string[]>();
  const form: string[] = [];
  const errors = new Map<
    string,
    {
      path: InputPath;
      texts: string[];
      inlines: string[];
      codes: string[];
      members?: readonly InputPath[];
    }
  >();
  for (const { parameter, path, text, inline = text, members: named, code } of found) {
    if (parameter !== undefined) {
      add(parameters, parameter, text);
      add(inlineParameters, parameter, inline);
      continue;
    }
    if (path.length === 0) form.push(text);
    else add(fields, pathAs(path, style), text);
    // What is said of the whole has no input, unless it names some.
    if (path.length > 0 || named) {
      const key = JSON.stringify(path);
      const error = errors.get(key) ?? { path, texts: [], inlines: [], codes: [] };
      error.texts.push(text);
      error.inlines.push(inline);
      if (code !== '') error.codes.push(code);
      if (named) error.members = named;
      errors.set(key, error);
    }
  }
  return {
    kind: 'invalid',
    title,
    detail,
    form,
    errors: [...errors.values()],
    more,
    members,
    fields: Object.fromEntries(fields),
    parameters: Object.fromEntries(parameters),
    inlineParameters: Object.fromEntries(inlineParameters),
  };
}

const JSON_TYPE = /^[\w.+-]+\/(?:[\w.+-]+\+)?json\b/i;

function accepted({ status, mediaType, text, location }: Reply): Outcome {
  let data: unknown = text === '' ? undefined : text;
  if (data !== undefined && mediaType !== null && JSON_TYPE.test(mediaType)) {
    try {
      data = JSON.parse(text);
    } catch {
      // Then it is given as it came: what was taken was taken.
    }
  }
  return {
    kind: 'accepted',
    status,
    ...(data === undefined ? {} : { data }),
    ...(location ? { location } : {}),
  };
}

/** Reads what came back. It never throws, whatever that is. */
export function readReply(
  reply: Reply,
  { paths = 'dots', prefix = '/data/attributes', shape }: ReplyOptions = {},
): Outcome {
  const { status, mediaType, text } = reply;
  if (status >= 200 && status < 300) return accepted(reply);
  if (mediaType === null || !JSON_TYPE.test(mediaType))
    return { kind: 'no-answer', reason: 'foreign', status };
  let value: Loose;
  try {
    value = JSON.parse(text);
  } catch {
    return { kind: 'no-answer', reason: 'broken', status };
  }
  const body = shape === undefined ? bodyOf(value, prefix) : ownBody(value, shape);
  if (!body) return { kind: 'no-answer', reason: 'foreign', status };
  if (body.found) return invalid(body, paths);
  const { title, detail, members = {} } = body;
  return {
    kind: 'problem',
    status,
    code: body.code || codeOfStatus(status),
    title,
    detail,
    members,
  };
}

/** The part of a fetched response that is read here. */
export interface ResponseLike {
  readonly status: number;
  readonly headers: { get(name: string): string | null };
  text(): Promise<string>;
}

/** The outcome of a request, with the response for its headers; without it where none came. */
export type Answered<R extends ResponseLike> = Outcome & { readonly response?: R };

/**
 * Waits for a response and reads it: `await readResponse(fetch(url, options))`. A network error is
 * an outcome too; it never throws.
 */
export async function readResponse<R extends ResponseLike>(
  response: R | Promise<R>,
  options: ReplyOptions = {},
): Promise<Answered<R>> {
  let got: R | undefined;
  try {
    got = await response;
    const { status, headers } = got;
    const reply = {
      status,
      mediaType: headers.get('content-type'),
      location: headers.get('location'),
      text: await got.text(),
    };
    return { ...readReply(reply, options), response: got };
  } catch {
    return {
      kind: 'no-answer',
      reason: 'network',
      ...(got === undefined ? {} : { status: got.status, response: got }),
    };
  }
}
