import { printPath } from '../path/path.js';
import type { Violation } from '../violation/violation.js';
import type { FormIndex } from './form-index.js';
import type { Field } from './form.js';

/** Whether null and blank texts at a field are told as missing. */
export const isBlankMissing = ({ blank, uses }: Field): boolean => blank === true && uses.some(({ rule }) => rule === 'required');

/** What a report tells of a value that counts as missing is that it is missing, once. */
export function blankAsMissing(violations: readonly Violation[], index: FormIndex): Violation[] {
  const told = new Set<string>();
  return violations.flatMap((violation) => {
    const { path, in: part = 'body', value, rule } = violation;
    const isBlank = value === null || (typeof value === 'string' && value.trim() === '');
    if (!isBlank && rule !== 'required') return [violation];
    const pattern = index.readPath(path, part);
    const field = index.field(pattern, part);
    if (!field || !isBlankMissing(field)) return [violation];
    const key = `${part} ${printPath(pattern)}`;
    if (told.has(key)) return [];
    told.add(key);
    const use = field.uses.find((one) => one.rule === 'required');
    return [
      {
        path,
        ...(violation.in === undefined ? {} : { in: part }),
        rule: 'required',
        ...(use?.as === undefined ? {} : { as: use.as }),
        ...(value === undefined ? {} : { value }),
      },
    ];
  });
}
