import { getOrMake } from '../base/get-or-make.js';
import { ANY_DEPTH, ANY_KEY, isSharedRoot, type Pattern } from '../path/path.js';
import type { Form, RequestPart } from './form.js';

const known = new WeakMap<Form, Map<RequestPart, boolean>>();

const isOpen = (segment: Pattern[number]): boolean =>
  segment === ANY_KEY ||
  segment === ANY_DEPTH ||
  typeof segment === 'number' ||
  isSharedRoot(segment);

/**
 * Whether two patterns of a part may cover one path; where none is open but for elements, none do.
 */
export function mayOverlap(form: Form, part: RequestPart): boolean {
  const byPart = getOrMake(known, form, () => new Map<RequestPart, boolean>());
  return getOrMake(byPart, part, () =>
    form.fields.some((field) => field.in === part && field.pattern.some(isOpen)),
  );
}
