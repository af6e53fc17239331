import type { Locale } from '../../locale/tag.js';
import type { Message } from '../../message/tree.js';
import type { Kind } from '../kind.js';
import { aboutRole, type Role } from '../roles.js';

const MARKS = /[.!?…。！？؟।]["»”’)\u2069]*$/u;

/** Whether a message ends as a sentence does, in all its cases; nothing where that cannot be told. */
function endsMarked(message: Message): boolean | undefined {
  const last = message.at(-1);
  if (!last) return undefined;
  if (last.kind === 'text') return last.text.trim() === '' ? undefined : MARKS.test(last.text.trimEnd());
  if (!('cases' in last)) return false;
  const inner = last.cases.map((one) => endsMarked(one.message)).filter((one) => one !== undefined);
  return inner.length === 0 ? undefined : inner.every(Boolean);
}

/** So many messages make a habit, and so large a part of them. */
const HABIT = { messages: 4, share: 0.75 };

export const endMark: Kind = {
  kind: 'end-mark',
  severity: 'warning',
  about: 'Most messages of a language end with a full stop and this one does not, or the other way round.',
  remedy: 'Do as the others do.',
  example: '"required": "Please give {label}"    // all others end with a full stop',
  texts: (_, report) => {
    const groups = new Map<Locale, { role: Role; marked: boolean }[]>();
    return {
      each: (role) => {
        if (role.kind !== 'message' || role.entry.error) return;
        const marked = endsMarked(role.entry.tree);
        if (marked === undefined) return;
        const group = groups.get(role.entry.locale);
        if (group) group.push({ role, marked });
        else groups.set(role.entry.locale, [{ role, marked }]);
      },
      end: () => {
        for (const group of groups.values()) {
          const marked = group.filter((one) => one.marked).length;
          const most = marked * 2 >= group.length;
          const share = Math.max(marked, group.length - marked) / group.length;
          if (group.length < HABIT.messages || share < HABIT.share) continue;
          for (const { role } of group.filter((one) => one.marked !== most)) {
            const message = most
              ? 'The other messages of this language end with a full stop, and this one does not.'
              : 'The other messages of this language end without a full stop, and this one has one.';
            report({ message, ...aboutRole(role, Math.max(0, role.entry.text.length - 1)) });
          }
        }
      },
    };
  },
};
