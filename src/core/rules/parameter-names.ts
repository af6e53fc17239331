import { VOCABULARY } from './vocabulary.js';

/** Whether a rule has a parameter or an argument of that name; the backend's own take any. */
export function hasParameter(rule: string, name: string): boolean {
  const definition = VOCABULARY.get(rule);
  return (
    !definition ||
    [...definition.parameters, ...definition.arguments].some((one) => one.name === name)
  );
}
