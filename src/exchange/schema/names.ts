/**
 * The last word of an id or a file's name: `…/observing-proposal.schema.json` →
 * `observing-proposal`.
 */
export function lastWordOf(name: string): string {
  const word =
    name
      .replace(/[#?].*$/, '')
      .split(/[/:]/)
      .filter((part) => part !== '')
      .at(-1) ?? '';
  return word.replace(/(\.schema)?\.(json|jsonc|ya?ml)$/i, '');
}
