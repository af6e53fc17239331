import type { Remark } from '../../finding.js';
import type { Form } from '../../rules/form.js';
import type { Kind } from '../subject/kind.js';

/** A method and a path, whatever its parameters are called. */
const shapeOf = (request: string): string => request.replace(/\{[^{}]*\}/g, '{}');

function* twins(forms: readonly Form[]): Generator<Remark> {
  const known = new Map<string, string>();
  for (const { id, request, origin } of forms) {
    if (request === undefined) continue;
    const shape = shapeOf(request);
    const other = known.get(shape);
    if (other === undefined) known.set(shape, id);
    else
      yield {
        kind: 'duplicate-request',
        form: id,
        message: `"${request}" is the request of the form "${other}" already; the service answers it by that one. Give one of the two another request.`,
        spot: { ...origin, at: 'key' },
      };
  }
}

export const duplicateRequest: Kind = {
  kind: 'duplicate-request',
  severity: 'warning',
  about: 'Two forms are for one request, by method and path; a service knows only the first.',
  remedy: 'Give one of the two another request, or take it out.',
  example: 'visit: { request: POST /visits }    # as another form has it',
  *findInRules({ subject }) {
    yield* twins(subject.forms);
  },
};
