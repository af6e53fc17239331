import type { Violation } from './core/rules/violation.js';

/**
 * The forms of a workspace, as `zeitwort types` declares them: by form, by path, by rule. Without
 * such a file everything is allowed; with it, naming what does not exist does not compile.
 */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type -- declarations that a workspace makes are merged into it
export interface DeclaredForms {}

/** What is declared of one rule at one place. */
export interface DeclaredRule {
  readonly params: object;
  readonly as: string;
}

type AnyForms = Readonly<
  Record<string, Readonly<Record<string, Readonly<Record<string, DeclaredRule>>>>>
>;
type Forms = [keyof DeclaredForms] extends [never] ? AnyForms : DeclaredForms;

/** The id of a form. */
export type FormId = Extract<keyof Forms, string>;
/** A concrete path of a form: `targets[2].name`. */
export type FieldPath<F extends FormId> = Extract<keyof Forms[F], string>;
/** A rule that stands at a path. */
export type RuleId<F extends FormId, P extends FieldPath<F>> = Extract<keyof Forms[F][P], string>;

type RuleAt<F extends FormId, P extends FieldPath<F>, R extends RuleId<F, P>> = Forms[F][P][R];
type ParamsOf<T> = T extends { readonly params: infer Q } ? Q : never;
type CodeOf<T> = T extends { readonly as: infer A } ? A : never;

/** Whether nothing has to be said of a rule. */
type IsOptional<T> = Partial<T> extends T ? true : false;

interface Told {
  /** What was given. */
  readonly value?: unknown;
}

type Details<T> = Told &
  ([CodeOf<T>] extends [never] ? unknown : { readonly as?: CodeOf<T> }) &
  (IsOptional<ParamsOf<T>> extends true
    ? { readonly params?: ParamsOf<T> }
    : { readonly params: ParamsOf<T> });

/**
 * A violation, its form, path, rule and parameters held against what `zeitwort types` declared.
 * @param details the parameters that the rule does not declare itself, its own code (`as`), the
 * value given
 */
export function violation<F extends FormId, P extends FieldPath<F>, R extends RuleId<F, P>>(
  _form: F,
  path: P,
  rule: R,
  ...details: IsOptional<ParamsOf<RuleAt<F, P, R>>> extends true
    ? [details?: Details<RuleAt<F, P, R>>]
    : [details: Details<RuleAt<F, P, R>>]
): Violation {
  const [told] = details as readonly [Pick<Violation, 'params' | 'as' | 'value'>?];
  return { path, rule, ...told };
}
