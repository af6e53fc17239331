import { escapeRegex } from '../text/regex.js';
import { printMessage } from './print.js';
import type { MessageNode } from './tree.js';

/** How old texts write their arguments: the template with what stands for a name or a number. */
export interface SlotPattern {
  /** With one group: the argument's name or number. */
  readonly regex: RegExp;
}

/**
 * Reads a template such as `%(NAME)s`, `{{NAME}}` or `{NUMBER}`.
 * @throws {RangeError} when it has neither, or more than one
 */
export function placeholderTemplate(template: string): SlotPattern {
  const parts = template.split(/(NAME|NUMBER)/);
  if (parts.length !== 3)
    throw new RangeError('a template has NAME or NUMBER in it once, such as {{NAME}}');
  const [before = '', which, after = ''] = parts;
  const name = which === 'NAME' ? '\\s*([\\p{L}_][\\p{L}\\p{N}_.-]*)\\s*' : '(\\d+)';
  // A name that nothing closes ends where no letter follows.
  return {
    regex: new RegExp(
      escapeRegex(before) +
        name.replaceAll('\\s*', before === '' || after === '' ? '' : '\\s*') +
        escapeRegex(after),
      'gu',
    ),
  };
}

/**
 * Matches a leftover that looks like an argument of some notation, in a text that should have none.
 */
const LEFT_OVER =
  /%\d*\$?[-+0-9.]*[sdif@]|%[({]\w+|\{\{?\s*[\p{L}\d_]|[$#]\{|(?<![\p{L}\p{N}])[:@][a-z]\w{2,}/u;

/** A text that could not be converted, and why. */
export class ConversionError extends Error {
  override name = 'ConversionError';
}

/** The nodes of an old text: its arguments by their new names, the rest as text. */
function nodesOf(
  text: string,
  template: SlotPattern | undefined,
  nameOf: (old: string) => string,
): MessageNode[] {
  const nodes: MessageNode[] = [];
  const span = { start: 0, end: 0 };
  const put = (plain: string): void => {
    const left = LEFT_OVER.exec(plain)?.[0];
    if (left !== undefined)
      throw new ConversionError(
        `"${left}" looks like an argument, and the template does not cover it`,
      );
    if (plain !== '') nodes.push({ kind: 'text', text: plain, ...span });
  };
  let at = 0;
  for (const found of template ? text.matchAll(template.regex) : []) {
    put(text.slice(at, found.index));
    nodes.push({ kind: 'argument', name: nameOf(found[1] ?? ''), ...span });
    at = found.index + found[0].length;
  }
  put(text.slice(at));
  return nodes;
}

/**
 * An old text as an ICU message.
 * @param nameOf the new name of an argument
 * @throws {ConversionError}
 */
export function toMessage(
  text: string,
  template: SlotPattern | undefined,
  nameOf: (old: string) => string,
): string {
  return printMessage(nodesOf(text, template, nameOf));
}

/**
 * Old texts for the categories of a plural, as one message.
 * @param argument the name of the number that they hang on
 * @throws {ConversionError}
 */
export function toPlural(
  texts: readonly (readonly [string, string])[],
  argument: string,
  template: SlotPattern | undefined,
  nameOf: (old: string) => string,
): string {
  const cases = texts.map(([selector, text]) => ({
    selector,
    start: 0,
    // The number itself is written as the plural writes it.
    message: nodesOf(text, template, nameOf).map((node): MessageNode =>
      node.kind === 'argument' && node.name === argument
        ? { kind: 'hash', start: 0, end: 0 }
        : node,
    ),
  }));
  if (!cases.some(({ selector }) => selector === 'other'))
    throw new ConversionError('there is no text for the category "other"');
  return printMessage([{ kind: 'plural', name: argument, offset: 0, cases, start: 0, end: 0 }]);
}
