import type { FormIndex } from '../core/rules/form-index.js';
import type { FormTable } from './forms.js';

/** A form whose request was met, and the parameters that the path held. */
export interface FormMatch {
  readonly form: FormIndex;
  readonly segments: Readonly<Record<string, string>>;
  /** By segment of the path, the parameter that it is. */
  readonly names: readonly (string | undefined)[];
}

interface Route {
  readonly form: string;
  readonly parts: readonly ({ readonly text: string } | { readonly name: string })[];
}

const decoded = (text: string): string | undefined => {
  try {
    return decodeURIComponent(text);
  } catch {
    return undefined;
  }
};

const partsOf = (path: string): string[] => path.split('/').slice(1);

/** Finds the form that a request is for, by the method and path that forms name. */
export class RequestForms {
  private readonly routes = new Map<string, Route[]>();

  constructor(private readonly forms: FormTable) {
    for (const { form } of forms.values()) {
      const [method, path] = form.request?.split(' ') ?? [];
      if (method === undefined || path === undefined) continue;
      for (const base of ['', ...(form.bases ?? [])]) this.add(method, base + path, form.id);
    }
    // What names more of the path goes first.
    for (const routes of this.routes.values()) routes.sort((one, other) => literal(other) - literal(one));
  }

  private add(method: string, path: string, form: string): void {
    const parts = partsOf(path).map((part) => {
      const name = /^\{(.+)\}$/.exec(part)?.[1];
      return name === undefined ? { text: part } : { name };
    });
    const key = `${method} ${parts.length}`;
    this.routes.set(key, [...(this.routes.get(key) ?? []), { form, parts }]);
  }

  /** The methods that some form takes at a path. */
  methodsAt(path: string): string[] {
    const methods = new Set([...this.routes.keys()].map((key) => key.split(' ')[0] ?? ''));
    return [...methods].filter((method) => this.find(method, path) !== undefined);
  }

  find(method: string, path: string): FormMatch | undefined {
    const parts = partsOf(path);
    for (const route of this.routes.get(`${method} ${parts.length}`) ?? []) {
      const segments = matched(route, parts);
      const form = segments && this.forms.get(route.form);
      if (form) return { form, segments, names: route.parts.map((part) => ('name' in part ? part.name : undefined)) };
    }
    return undefined;
  }
}

const literal = ({ parts }: Route): number => parts.filter((part) => 'text' in part).length;

function matched({ parts }: Route, given: readonly string[]): Record<string, string> | undefined {
  const segments = new Map<string, string>();
  for (const [at, part] of parts.entries()) {
    const text = decoded(given[at] ?? '');
    if (text === undefined || ('text' in part ? part.text !== text : text === '')) return undefined;
    if ('name' in part) segments.set(part.name, text);
  }
  return Object.fromEntries(segments);
}
