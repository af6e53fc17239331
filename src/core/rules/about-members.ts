/** The rules about a member that should not be there, or not be called so. */
export const ABOUT_MEMBERS: ReadonlySet<string> = new Set([
  'additionalProperties',
  'unevaluatedProperties',
  'propertyNames',
]);
