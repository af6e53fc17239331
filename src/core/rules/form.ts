import type { Origin } from '../origin.js';
import type { Pattern, SharedRoot } from '../path/path.js';

/** Where a field stands in a request. */
export type RequestPart = 'body' | 'query' | 'path' | 'header';
export const FIELD_PLACES: readonly RequestPart[] = ['body', 'query', 'path', 'header'];

/** Where a parameter stands. */
export type ParameterPart = Exclude<RequestPart, 'body'>;

/**
 * How lists and objects are written as the text of a parameter (OpenAPI 3.1.0, Parameter Object),
 * `json`: as JSON.
 */
export interface Writing {
  readonly style:
    | 'form'
    | 'simple'
    | 'label'
    | 'matrix'
    | 'spaceDelimited'
    | 'pipeDelimited'
    | 'deepObject'
    | 'json';
  /** Whether each value, or each member, stands alone. */
  readonly explode: boolean;
}

/** When a use holds: what another field must hold. */
export interface Condition {
  readonly field: Pattern;
  /** One of these values; absent where only presence is asked about. */
  readonly values?: readonly unknown[];
  /** Whether the field must have been left out, or must have been given. */
  readonly absent?: boolean;
}

/** One use of a rule on a field. */
export interface RuleUse {
  /** An id of the vocabulary, or the id of an external rule. */
  readonly rule: string;
  readonly external: boolean;
  /** A message key and code of this use's own. */
  readonly as?: string;
  /** By the parameters' names; of an external rule, samples, but for those that are `constants`. */
  readonly params: Readonly<Record<string, unknown>>;
  /** Of an external rule, the parameters that are the same whenever it is broken. */
  readonly constants?: Readonly<Record<string, unknown>>;
  /** The field that gives the bound or is compared. */
  readonly counterpart?: Pattern;
  /** All of these must hold. */
  readonly onlyIf?: readonly Condition[];
  /**
   * The alternatives of a schema that it stands in, from the outside; what two of them say need not
   * hold together.
   */
  readonly within?: readonly string[];
  /**
   * The problem of the whole request that it is when this is broken; else it is a matter of its
   * field.
   */
  readonly problem?: string;
  /** Stands in a sheet that adds to a form of a schema, or is of a file, which no schema sees. */
  readonly added?: true;
  /** A rule that code tests and no sheet declares. */
  readonly undeclared?: true;
  /**
   * Not declared, but following from the path of a field inside: a form with `lead.name` asks for
   * an object at `lead`.
   */
  readonly implied?: true;
  readonly origin: Origin;
}

export interface Field {
  readonly pattern: Pattern;
  /** The pattern as text, in its normal form. */
  readonly path: string;
  readonly in: RequestPart;
  /** Of a parameter or of a field of an HTML form, where that does not follow from its place. */
  readonly writing?: Writing;
  readonly uses: readonly RuleUse[];
  /** An object that may be left out, with all inside it. */
  readonly optional: boolean;
  /** Blanks at both ends do not count. */
  readonly trim: boolean;
  /** Whether its value never reaches a message, a body or a log. */
  readonly secret: boolean;
  /** Whether null and blank texts count as missing where the field is required. */
  readonly blank?: boolean;
  /** Its label in a sheet, in the original language. */
  readonly label?: { readonly text: string; readonly origin: Origin };
  readonly origin: Origin;
}

/**
 * A place where a definition stands that recurs in a form: its fields are listed once, below the
 * definition.
 */
export interface Join {
  readonly pattern: Pattern;
  readonly in: RequestPart;
  readonly root: SharedRoot;
  /** One of several definitions that may stand there: its name is not the name of the place. */
  readonly isChoice?: true;
}

/** The media types of what HTML forms send. */
export const FORM_MEDIA = ['application/x-www-form-urlencoded', 'multipart/form-data'] as const;
export type FormMedia = (typeof FORM_MEDIA)[number];
export const JSON_MEDIA = 'application/json';
export type BodyMedia = FormMedia | typeof JSON_MEDIA;

/** The fields and rules of one endpoint. */
export interface Form {
  readonly id: string;
  /** Such as `POST /proposals`. */
  readonly request?: string;
  /** The prefixes of the path of `request`, such as `/v2`. */
  readonly bases?: readonly string[];
  /** Asks only for what is sent (PATCH). */
  readonly partial: boolean;
  /** A request may come without a body. */
  readonly bodyOptional?: true;
  /** The media types of its bodies; JSON alone where absent. */
  readonly media?: readonly BodyMedia[];
  /** Adds to a form of the same id that a schema or a module declares. */
  readonly adds?: true;
  /** Whether null and blank texts count as missing, where a field does not say. */
  readonly blank?: boolean;
  /** In the order declared. Those of a definition that recurs have patterns that begin with it. */
  readonly fields: readonly Field[];
  /** Where such definitions stand. */
  readonly joins?: readonly Join[];
  readonly origin: Origin;
}

/** The keys that a message of this use may stand under, the most special first. */
export function keysOf(use: {
  readonly rule: string;
  readonly as?: string | undefined;
}): readonly string[] {
  return use.as === undefined ? [use.rule] : [use.as, use.rule];
}

/** The code that clients see: the use's own, else the rule's id. */
export function codeOf(use: { readonly rule: string; readonly as?: string | undefined }): string {
  return use.as ?? use.rule;
}
