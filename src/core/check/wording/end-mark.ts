import type { Locale } from '../../locale/tag.js';
import type { Message } from '../../message/tree.js';
import type { Kind } from '../kind.js';
import { aboutRole, eachRole, type Role } from '../roles.js';

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

const [FULL_STOP, LETTER_A, LETTER_Z] = [0x2e, 0x61, 0x7a];

/** So many messages make a habit, and so large a part of them. */
const HABIT = { messages: 4, share: 0.75 };

/** Whether a message has a mark at its end; nothing of what is no message, or cannot be told of. */
function markOf({ kind, entry }: Role): boolean | undefined {
  if (kind !== 'message') return undefined;
  // A plain text that ends with a letter or a bare full stop tells at once.
  const last = entry.isPlain ? entry.text.charCodeAt(entry.text.length - 1) : NaN;
  if (last === FULL_STOP) return true;
  if (last >= LETTER_A && last <= LETTER_Z) return false;
  return entry.error ? undefined : endsMarked(entry.tree);
}

export const endMark: Kind = {
  kind: 'end-mark',
  severity: 'warning',
  about: 'Most messages of a language end with a full stop and this one does not, or the other way round.',
  remedy: 'Do as the others do.',
  example: '"required": "Please give {label}"    // all others end with a full stop',
  texts: (context, report) => {
    // So many with a mark, so many without; which they are is looked for only where some stand against the habit.
    const counts = new Map<Locale, { marked: number; bare: number }>();
    return {
      sorts: ['message'],
      each: (role) => {
        const marked = markOf(role);
        if (marked === undefined) return;
        let count = counts.get(role.entry.locale);
        if (!count) counts.set(role.entry.locale, (count = { marked: 0, bare: 0 }));
        if (marked) count.marked += 1;
        else count.bare += 1;
      },
      end: () => {
        for (const catalog of context.subject.catalogs) {
          const { marked = 0, bare = 0 } = counts.get(catalog.locale) ?? {};
          const all = marked + bare;
          if (all < HABIT.messages || marked === 0 || bare === 0 || Math.max(marked, bare) / all < HABIT.share) continue;
          const most = marked >= bare;
          eachRole(context, catalog, (role) => {
            const own = markOf(role);
            if (own === undefined || own === most) return;
            const message = most
              ? 'The other messages of this language end with a full stop, and this one does not.'
              : 'The other messages of this language end without a full stop, and this one has one.';
            report({ message, ...aboutRole(role, Math.max(0, role.entry.text.length - 1)) });
          });
        }
      },
    };
  },
};
