import type { RequestPart } from './core/rules/form.js';
import type { Violation } from './core/rules/violation.js';

declare global {
  /**
   * The declarations that `zeitwort types` writes for a workspace: `forms`, by form, by path, by
   * rule, and `problems` with their parameters. Without such a file everything is allowed; with it,
   * a name that does not exist does not compile.
   */
  // eslint-disable-next-line @typescript-eslint/no-empty-object-type -- the declarations of a workspace are merged into it
  interface ZeitwortDeclarations {}
}

/** The declaration of one rule at one place. */
export interface DeclaredRule {
  readonly params: object;
  readonly as: string;
  readonly in: RequestPart;
}

type AnyForms = Readonly<
  Record<string, Readonly<Record<string, Readonly<Record<string, DeclaredRule>>>>>
>;
type Declared<K extends string, Otherwise> =
  ZeitwortDeclarations extends Readonly<Record<K, infer T>> ? T : Otherwise;
type Forms = Declared<'forms', AnyForms>;
type Problems = Declared<'problems', Readonly<Record<string, Readonly<Record<string, unknown>>>>>;

/** The id of a form. */
export type FormId = Extract<keyof Forms, string>;
/** A concrete path of a form: `targets[2].name`. */
export type FieldPath<F extends FormId> = Extract<keyof Forms[F], string>;
/** A rule that stands at a path. */
export type RuleId<F extends FormId, P extends FieldPath<F>> = Extract<keyof Forms[F][P], string>;
/** The name of a problem of the whole request. */
export type ProblemId = Extract<keyof Problems, string>;
/** The parameters in the texts of a problem. */
export type ProblemParams<P extends ProblemId> = Problems[P];

type RuleAt<F extends FormId, P extends FieldPath<F>, R extends RuleId<F, P>> = Forms[F][P][R];
type ParamsOf<T> = T extends { readonly params: infer Q } ? Q : never;
type CodeOf<T> = T extends { readonly as: infer A } ? A : never;
type PartOf<T> = T extends { readonly in: infer I } ? I : never;

/** Whether nothing has to be said of a rule. */
type IsOptional<T> =
  Partial<ParamsOf<T>> extends ParamsOf<T>
    ? 'body' extends PartOf<T>
      ? true
      : [PartOf<T>] extends [never]
        ? true
        : false
    : false;

interface Reported {
  /** The value that was sent. */
  readonly value?: unknown;
  /** The field's label, where only the request knows it. */
  readonly label?: string;
}

type Details<T> = Reported &
  ([CodeOf<T>] extends [never] ? unknown : { readonly as?: CodeOf<T> }) &
  ('body' extends PartOf<T> ? { readonly in?: PartOf<T> } : { readonly in: PartOf<T> }) &
  (Partial<ParamsOf<T>> extends ParamsOf<T>
    ? { readonly params?: ParamsOf<T> }
    : { readonly params: ParamsOf<T> });

/**
 * A violation, its form, path, rule and parameters held against what `zeitwort types` declared.
 * @param details the parameters that the rule does not declare itself, its own code (`as`), the
 * part of the request where that is not the body, the value given
 */
export function violation<F extends FormId, P extends FieldPath<F>, R extends RuleId<F, P>>(
  _form: F,
  path: P,
  rule: R,
  ...details: IsOptional<RuleAt<F, P, R>> extends true
    ? [details?: Details<RuleAt<F, P, R>>]
    : [details: Details<RuleAt<F, P, R>>]
): Violation {
  const [extra] = details as readonly [Omit<Violation, 'path' | 'rule'>?];
  return { path, rule, ...extra };
}
