import type { Origin } from '../../core/origin.js';
import { isObject, type LooseObject } from '../../core/reading.js';
import {
  FORM_MEDIA,
  type FormMedia,
  type ParameterPart,
  type Writing,
} from '../../core/rules/form.js';
import { writingIn } from '../../core/rules/parameters.js';
import type { Dialect } from './bundle.js';
import { SchemaError, type Documents, type Where } from './documents.js';

/** One parameter of an OpenAPI document. */
export interface ParameterOf {
  readonly name: string;
  readonly in: ParameterPart;
  readonly required: boolean;
  readonly writing: Writing;
  readonly schema: unknown;
  readonly where: Where;
  readonly examples: readonly Example[];
}

/** A value that a document gives as an example, and where. */
export interface Example {
  readonly value: unknown;
  readonly origin: Origin;
}

/** A media type of an OpenAPI document. */
interface Media {
  readonly schema: unknown;
  readonly where: Where;
  readonly examples: readonly Example[];
}

/** How a member of an HTML form is sent (OpenAPI 3.1.0, Encoding Object). */
export interface Encoding {
  readonly writing?: Writing;
  /** The media types that it may have; none where that follows from its schema. */
  readonly types: readonly string[];
  readonly origin: Origin;
}

/** A body: as JSON, or as an HTML form sends it. */
export interface BodyOf extends Media {
  /** Whether its schema is of a form, and not of JSON. */
  readonly isForm: boolean;
  readonly media: readonly FormMedia[];
  readonly encodings: ReadonlyMap<string, Encoding>;
}

/** A body that is neither JSON nor a form, whose fields are not read. */
export interface PassedOver {
  readonly request: string;
  readonly types: readonly string[];
  readonly origin: Origin;
}

/** One operation that takes parameters, or a body as JSON or as a form. */
export interface Operation {
  readonly id: string;
  /** Such as `POST /proposals`. */
  readonly request: string;
  /** The paths of the servers that it is at, where they have some. */
  readonly bases: readonly string[];
  readonly body?: BodyOf | undefined;
  /**
   * The document says that a request may come without a body; where it does not say, somebody
   * mostly forgot to.
   */
  readonly bodyOptional: boolean;
  readonly parameters: readonly ParameterOf[];
  readonly where: Where;
}

const METHODS = ['get', 'put', 'post', 'delete', 'options', 'head', 'patch', 'trace'];
const PLACES = ['query', 'path', 'header'] as const;

/**
 * Header parameters of these names are ignored (OpenAPI 3.1.0, Parameter Object): other parts of a
 * document describe them.
 */
const IGNORED_HEADERS: ReadonlySet<string> = new Set(['accept', 'content-type', 'authorization']);

/** The version of an OpenAPI document that we read, or nothing where it is none. */
export function openApiVersion(root: unknown): '3.0' | '3.1' | undefined {
  const version = isObject(root) && typeof root.openapi === 'string' ? root.openapi : '';
  return version.startsWith('3.0.') ? '3.0' : version.startsWith('3.1.') ? '3.1' : undefined;
}

/** How the schemas of such a document are read (OpenAPI 3.0.3 and 3.1.0, Schema Object). */
export function dialectOf(version: '3.0' | '3.1'): Dialect {
  return version === '3.0'
    ? { version: 'draft-07', booleanBounds: true, nullable: true, forRequests: true }
    : { version: '2020-12', booleanBounds: false, nullable: false, forRequests: true };
}

class OperationReader {
  readonly passedOver: PassedOver[] = [];

  constructor(
    private readonly documents: Documents,
    private readonly failed: (error: SchemaError) => void,
  ) {}

  /** Returns the target of a Reference Object; any other node itself. */
  private followed(node: unknown, where: Where, depth = 0): { node: unknown; where: Where } {
    if (!isObject(node) || typeof node.$ref !== 'string' || depth > 16) return { node, where };
    try {
      const target = this.documents.resolve(node.$ref, where);
      return this.followed(target.node, target.where, depth + 1);
    } catch (error) {
      if (!(error instanceof SchemaError)) throw error;
      this.failed(error);
      return { node: undefined, where };
    }
  }

  *operations(root: LooseObject, where: Where): Generator<Operation> {
    for (const [path, reference] of Object.entries(isObject(root.paths) ? root.paths : {})) {
      const { node: item, where: there } = this.followed(reference, below(where, 'paths', path));
      if (!isObject(item)) continue;
      for (const [method, operation] of Object.entries(item)) {
        if (METHODS.includes(method) && isObject(operation))
          yield* this.operation(operation, below(there, method), method, path, item, there, root);
      }
    }
  }

  private *operation(
    operation: LooseObject,
    where: Where,
    method: string,
    path: string,
    item: LooseObject,
    itemWhere: Where,
    root: LooseObject,
  ): Generator<Operation> {
    const request = `${method.toUpperCase()} ${path}`;
    const { node: requestBody, where: toldAt } = this.followed(
      operation.requestBody,
      below(where, 'requestBody'),
    );
    const body = isObject(requestBody) ? this.body(requestBody.content, toldAt) : undefined;
    if (
      !body &&
      isObject(requestBody) &&
      isObject(requestBody.content) &&
      Object.keys(requestBody.content).length > 0
    )
      this.passedOver.push({ request, types: Object.keys(requestBody.content), origin: toldAt });
    const bodyOptional = isObject(requestBody) && requestBody.required === false;
    // An operation's own parameter stands in for the path's of the same name and place.
    const all = [
      ...this.parameters(item.parameters, below(itemWhere, 'parameters')),
      ...this.parameters(operation.parameters, below(where, 'parameters')),
    ];
    const parameters = [...new Map(all.map((one) => [`${one.in} ${one.name}`, one])).values()];
    if (!body && parameters.length === 0) return;
    const id = typeof operation.operationId === 'string' ? operation.operationId : request;
    const bases = basesOf(
      [operation, item, root].find(({ servers }) => Array.isArray(servers))?.servers,
    );
    yield { id, request, bases, body, bodyOptional, parameters, where };
  }

  private parameters(list: unknown, start: Where): ParameterOf[] {
    if (!Array.isArray(list)) return [];
    return list.flatMap((reference: unknown, at): ParameterOf[] => {
      const { node, where } = this.followed(reference, below(start, at));
      if (!isObject(node) || typeof node.name !== 'string') return [];
      const part = PLACES.find((one) => one === node.in);
      if (!part || (part === 'header' && IGNORED_HEADERS.has(node.name.toLowerCase()))) return [];
      const about = {
        name: node.name,
        in: part,
        required: node.required === true || part === 'path',
      };
      if (node.schema !== undefined)
        return [
          {
            ...about,
            writing: writingOf(node, part),
            schema: node.schema,
            where: below(where, 'schema'),
            examples: this.examples(node, where),
          },
        ];
      const json = this.json(node.content, where);
      return json ? [{ ...about, writing: { style: 'json', explode: false }, ...json }] : [];
    });
  }

  /** The schema of what is written as JSON. */
  private json(content: unknown, where: Where): Media | undefined {
    return this.media(content, where, /^application\/(?:[\w.+-]+\+)?json\b/i);
  }

  private media(content: unknown, where: Where, name: RegExp): Media | undefined {
    const found = mediaIn(content, name);
    if (!found) return undefined;
    const [type, media] = found;
    const at = below(where, 'content', type);
    return { schema: media.schema, where: below(at, 'schema'), examples: this.examples(media, at) };
  }

  /** Returns the body of a request: by its schema for JSON, else by that of an HTML form. */
  private body(content: unknown, where: Where): BodyOf | undefined {
    const media = FORM_MEDIA.filter((type) => mediaIn(content, named(type)));
    const encodings = new Map<string, Encoding>();
    for (const type of [...media].reverse()) {
      const [written, { encoding }] = mediaIn(content, named(type)) ?? ['', {}];
      for (const [name, one] of Object.entries(isObject(encoding) ? encoding : {}))
        if (isObject(one))
          encodings.set(name, encodingOf(one, below(where, 'content', written, 'encoding', name)));
    }
    const json = this.json(content, where);
    if (json) return { ...json, isForm: false, media, encodings };
    const [first] = media.flatMap((type) => this.media(content, where, named(type)) ?? []);
    return first && { ...first, isForm: true, media, encodings };
  }

  /** The examples of a parameter or of a media type (OpenAPI 3.1.0, Example Object). */
  private examples({ example, examples }: LooseObject, where: Where): Example[] {
    const own = example === undefined ? [] : [{ value: example, origin: below(where, 'example') }];
    const named = Object.entries(isObject(examples) ? examples : {}).flatMap(
      ([name, reference]): Example[] => {
        const { node, where: there } = this.followed(reference, below(where, 'examples', name));
        return isObject(node) && node.value !== undefined
          ? [{ value: node.value, origin: below(there, 'value') }]
          : [];
      },
    );
    return [...own, ...named];
  }
}

/**
 * The paths of servers; a variable of one stands for its default (OpenAPI 3.1.0, Server Object).
 */
function basesOf(servers: unknown): string[] {
  const paths = (Array.isArray(servers) ? servers : []).flatMap((server: unknown): string[] => {
    if (!isObject(server) || typeof server.url !== 'string') return [];
    const variables = isObject(server.variables) ? server.variables : {};
    const url = server.url.replace(/\{([^{}]*)\}/g, (whole, name: string) => {
      const variable = variables[name];
      return isObject(variable) && typeof variable.default === 'string' ? variable.default : whole;
    });
    const path = url.replace(/^(?:[a-z][a-z0-9+.-]*:)?\/\/[^/?#]*/i, '').replace(/[?#].*$/s, '');
    return [`/${path.replace(/^\/+|\/+$/g, '')}`];
  });
  return [...new Set(paths)].filter((path) => path !== '/');
}

/** The first media type of a body that has such a name and says what it holds. */
function mediaIn(content: unknown, name: RegExp): readonly [string, LooseObject] | undefined {
  for (const [type, media] of Object.entries(isObject(content) ? content : {}))
    if (name.test(type) && isObject(media) && media.schema !== undefined) return [type, media];
  return undefined;
}

/** Media types are named in any case, with parameters or without (RFC 9110 section 8.3.1). */
const named = (type: FormMedia): RegExp =>
  new RegExp(`^${type.replace(/[/.-]/g, '\\$&')}\\s*(?:;|$)`, 'i');

function encodingOf({ style, explode, contentType }: LooseObject, origin: Origin): Encoding {
  const types = typeof contentType === 'string' ? contentType.split(',') : [];
  const isWritten = style !== undefined || explode !== undefined;
  return {
    types: types.map((type) => type.replace(/;.*$/s, '').trim().toLowerCase()),
    origin,
    ...(isWritten ? { writing: writingOf({ style, explode }, 'query') } : {}),
  };
}

const STYLES: Readonly<Record<ParameterPart, readonly Writing['style'][]>> = {
  query: ['form', 'spaceDelimited', 'pipeDelimited', 'deepObject'],
  path: ['simple', 'label', 'matrix'],
  header: ['simple'],
};

function writingOf({ style, explode }: LooseObject, part: ParameterPart): Writing {
  const known = STYLES[part].find((one) => one === style) ?? writingIn(part).style;
  // An object in brackets is written in one way alone.
  if (known === 'deepObject') return { style: known, explode: true };
  return { style: known, explode: typeof explode === 'boolean' ? explode : known === 'form' };
}

const below = (where: Where, ...keys: (string | number)[]): Where => ({
  ...where,
  keys: [...where.keys, ...keys],
});

/**
 * The operations of an OpenAPI document that a request can break a rule of, and the bodies that
 * nobody reads.
 */
export function operationsOf(
  root: LooseObject,
  where: Where,
  documents: Documents,
  failed: (error: SchemaError) => void,
): { readonly operations: readonly Operation[]; readonly passedOver: readonly PassedOver[] } {
  const reader = new OperationReader(documents, failed);
  return { operations: [...reader.operations(root, where)], passedOver: reader.passedOver };
}
