import { getOrMake } from '../../../base/get-or-make.js';
import type { Locale } from '../../../locale/tag.js';
import type { Message } from '../../../message/tree.js';
import type { Entry } from '../../../texts/entry.js';
import type { Kind } from '../../subject/kind.js';
import { aboutText, CheckedText } from '../../subject/checked-text.js';

const MARKS = /[.!?…。！？؟।]["»”’)\u2069]*$/u;

/** Whether a message ends as a sentence does, in all its cases; undefined where that is unclear. */
function endsMarked(message: Message): boolean | undefined {
  const last = message.at(-1);
  if (!last) return undefined;
  if (last.kind === 'text')
    return last.text.trim() === '' ? undefined : MARKS.test(last.text.trimEnd());
  if (!('cases' in last)) return false;
  const inner = last.cases.map((one) => endsMarked(one.message)).filter((one) => one !== undefined);
  return inner.length === 0 ? undefined : inner.every(Boolean);
}

const [FULL_STOP, LETTER_A, LETTER_Z] = [0x2e, 0x61, 0x7a];

/** So many messages make a habit, and so large a part of them. */
const HABIT = { messages: 4, share: 0.75 };

/** Whether a message has a mark at its end; nothing where that cannot be known. */
function markOf(entry: Entry): boolean | undefined {
  if (entry.purpose.kind !== 'message') return undefined;
  // A plain text that ends with a letter or a bare full stop is decided at once.
  const last = entry.isPlain ? entry.text.charCodeAt(entry.text.length - 1) : NaN;
  if (last === FULL_STOP) return true;
  if (last >= LETTER_A && last <= LETTER_Z) return false;
  return entry.error ? undefined : endsMarked(entry.tree);
}

export const endMark: Kind = {
  kind: 'end-mark',
  severity: 'warning',
  about:
    'Most messages of a language end with a full stop and this one does not, or the other way round.',
  remedy: 'Write it like the other messages.',
  example: '"required": "Please give {label}"    // all others end with a full stop',
  look: (context, report) => {
    // So many with a mark, so many without; which they are is looked for only where some stand
    // against the habit.
    const counts = new Map<Locale, { marked: number; bare: number }>();
    return {
      sorts: ['message'],
      text: (checked) => {
        const marked = markOf(checked.entry);
        if (marked === undefined) return;
        const count = getOrMake(counts, checked.entry.locale, () => ({ marked: 0, bare: 0 }));
        if (marked) count.marked += 1;
        else count.bare += 1;
      },
      end: () => {
        for (const catalog of context.catalogs) {
          const { marked = 0, bare = 0 } = counts.get(catalog.locale) ?? {};
          const all = marked + bare;
          if (
            all < HABIT.messages ||
            marked === 0 ||
            bare === 0 ||
            Math.max(marked, bare) / all < HABIT.share
          )
            continue;
          const most = marked >= bare;
          for (const entry of catalog.texts) {
            const own = markOf(entry);
            if (own === undefined || own === most) continue;
            const message = most
              ? 'The other messages of this language end with a full stop, and this one does not.'
              : 'The other messages of this language end without a full stop, and this one has one.';
            const checked = new CheckedText(catalog, entry, [], undefined);
            report({ message, ...aboutText(checked, Math.max(0, entry.text.length - 1)) });
          }
        }
      },
    };
  },
};
