import { getOrMake } from '../../core/base/get-or-make.js';
import type { FormIndex } from '../../core/rules/form-index.js';
import { MASK } from '../../core/text/value.js';
import type { FormTable } from './forms.js';

/** A form whose request was met, and the parameters that the path held. */
export interface FormMatch {
  readonly form: FormIndex;
  readonly segments: Readonly<Record<string, string>>;
}

/** A segment of a path: texts, and a parameter between each two of them. */
interface Part {
  readonly texts: readonly string[];
  readonly names: readonly string[];
}

interface Route {
  readonly form: string;
  readonly parts: readonly Part[];
  /** Whether a part holds a secret parameter; absent where none does. */
  readonly secret?: readonly boolean[];
}

/** `report-{night}.{format}` → `report-`, `.` and nothing, with `night` and `format` between. */
function partOf(segment: string): Part {
  const pieces = segment.split(/\{([^{}]+)\}/);
  return {
    texts: pieces.filter((_, at) => at % 2 === 0),
    names: pieces.filter((_, at) => at % 2 === 1),
  };
}

/**
 * The values of a part's parameters, each as short as it can be and none empty; nothing where the
 * text is no such segment.
 */
function valuesIn(text: string, { texts: [first = '', ...rest] }: Part): string[] | undefined {
  if (!text.startsWith(first)) return undefined;
  const values: string[] = [];
  let from = first.length;
  for (const [at, next] of rest.entries()) {
    const isLast = at === rest.length - 1;
    const to = isLast ? text.length - next.length : text.indexOf(next, from + 1);
    if (to <= from || (isLast && !text.endsWith(next))) return undefined;
    values.push(text.slice(from, to));
    from = to + next.length;
  }
  return from === text.length ? values : undefined;
}

const decoded = (text: string): string | undefined => {
  try {
    return decodeURIComponent(text);
  } catch {
    return undefined;
  }
};

/** Whether a part of a route is more than the nothing behind a slash. */
const isWritten = (part: Part | undefined): boolean =>
  part !== undefined && (part.names.length > 0 || part.texts.join('') !== '');

const partsOf = (path: string): string[] => path.split('/').slice(1);

/** Finds the form that a request is for, by the method and path that forms name. */
export class RequestForms {
  private readonly routes = new Map<string, Route[]>();
  /** Routes with secret parameters, without empty parts. */
  private readonly guarded: Route[] = [];

  constructor(private readonly forms: FormTable) {
    for (const { form } of forms.values()) {
      const [method, path] = form.request?.split(' ') ?? [];
      if (method === undefined || path === undefined) continue;
      const isSecret = (name: string): boolean =>
        form.fields.some(
          (field) => field.in === 'path' && field.secret && field.pattern[0] === name,
        );
      for (const base of ['', ...(form.bases ?? [])])
        this.add(method, base + path, form.id, isSecret);
    }
    // What names more of the path goes first.
    for (const routes of this.routes.values())
      routes.sort((one, other) => literal(other) - literal(one));
  }

  private add(
    method: string,
    path: string,
    form: string,
    isSecret: (name: string) => boolean,
  ): void {
    const parts = partsOf(path).map(partOf);
    const secret = parts.map(({ names }) => names.some(isSecret));
    if (secret.includes(true))
      this.guarded.push({
        form,
        parts: parts.filter(isWritten),
        secret: secret.filter((_, at) => isWritten(parts[at])),
      });
    const key = `${method} ${parts.length}`;
    getOrMake(this.routes, key, () => []).push({ form, parts });
  }

  /** The methods that some form takes at a path. */
  methodsAt(path: string): string[] {
    const methods = new Set([...this.routes.keys()].map((key) => key.split(' ')[0] ?? ''));
    return [...methods].filter((method) => this.find(method, path) !== undefined);
  }

  /**
   * A path as logs may have it: without what a route declares secret, whatever method is asked for,
   * and also where the path goes on behind the route, stops before its end or cannot be decoded.
   */
  shown(path: string): string {
    if (this.guarded.length === 0) return path;
    const given = path.split('/');
    const written = given.flatMap((text, at) => (text === '' ? [] : [{ at, text: decoded(text) }]));
    for (const { parts, secret = [] } of this.guarded) {
      for (const [nth, part] of parts.entries()) {
        const here = written[nth];
        if (!here) break;
        if (secret[nth]) given[here.at] = MASK;
        // A text that cannot be decoded may be anything.
        else if (here.text !== undefined && !valuesIn(here.text, part)) break;
      }
    }
    return given.join('/');
  }

  find(method: string, path: string): FormMatch | undefined {
    const parts = partsOf(path);
    for (const route of this.routes.get(`${method} ${parts.length}`) ?? []) {
      const segments = matched(route, parts);
      const form = segments && this.forms.get(route.form);
      if (form) return { form, segments };
    }
    return undefined;
  }
}

/** How much of a path a route names: whole segments, then parts of some. */
const literal = ({ parts }: Route): number =>
  parts.reduce(
    (sum, { texts, names }) =>
      sum + (names.length === 0 ? 1 : texts.some((text) => text !== '') ? 0.5 : 0),
    0,
  );

function matched({ parts }: Route, given: readonly string[]): Record<string, string> | undefined {
  const segments = new Map<string, string>();
  for (const [at, part] of parts.entries()) {
    const text = decoded(given[at] ?? '');
    const values = text === undefined ? undefined : valuesIn(text, part);
    if (!values) return undefined;
    for (const [nth, name] of part.names.entries()) segments.set(name, values[nth] ?? '');
  }
  return Object.fromEntries(segments);
}
