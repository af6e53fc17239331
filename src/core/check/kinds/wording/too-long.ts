import type { Locale } from '../../../locale/tag.js';
import { compileTree } from '../../../message/compile.js';
import { MAY_HOLD } from '../../../message/may-hold.js';
import type { Message } from '../../../message/tree.js';
import { VOCABULARY } from '../../../rules/vocabulary.js';
import type { Kind } from '../../subject/kind.js';
import { aboutText, type CheckedText } from '../../subject/checked-text.js';

let segmenter: Intl.Segmenter | undefined;

function lengthOf(text: string): number {
  segmenter ??= new Intl.Segmenter('und', { granularity: 'grapheme' });
  return [...segmenter.segment(text)].length;
}

/**
 * How long a text is with sample values, in characters as people count them: with the longest of
 * the cases that it chooses from.
 */
export function sampleLength(checked: Pick<CheckedText, 'entry' | 'rows' | 'key'>): number {
  const { tree, locale } = checked.entry;
  return longest(tree, locale, samplesFor(checked), '');
}

/** @param number what stands for `#` */
function longest(
  message: Message,
  locale: Locale,
  samples: Readonly<Record<string, unknown>>,
  number: string,
): number {
  const lengths = message.map((node) => {
    if (node.kind === 'hash') return lengthOf(number);
    if (!('cases' in node)) return lengthOf(compileTree([node], locale)(samples));
    const sample = node.kind === 'select' ? number : String(samples[node.name]);
    return Math.max(
      ...node.cases.map((one) =>
        longest(one.message, locale, samples, String(one.exactly ?? sample)),
      ),
    );
  });
  return lengths.reduce((all, one) => all + one, 0);
}

/**
 * Arguments as they may come: declared parameters, else the vocabulary's samples, else a word of
 * usual length.
 */
function samplesFor({
  entry,
  rows,
  key,
}: Pick<CheckedText, 'entry' | 'rows' | 'key'>): Record<string, unknown> {
  const [row] = rows;
  const rule = VOCABULARY.get(row?.use.rule ?? key);
  const samples = Object.fromEntries(
    (rule?.arguments ?? []).map(({ name, sample }) => [
      name,
      Array.isArray(sample) ? sample.join(', ') : sample,
    ]),
  );
  const params = Object.fromEntries(
    Object.entries(row?.use.params ?? {}).map(([name, value]) => [
      name,
      Array.isArray(value) ? value.join(', ') : value,
    ]),
  );
  const others = Object.fromEntries(
    [...entry.signature.names].map((name) => [name, /_number/.test(name) ? 12 : 'magnitude']),
  );
  return { ...others, ...samples, ...params };
}

export const tooLong: Kind = {
  kind: 'too-long',
  severity: 'warning',
  about: 'A text with sample values is longer than its `room`.',
  remedy: 'Shorten it, or raise the room.',
  example: '{ "text": "{label} must not be longer than {max} characters.", "room": 20 }',
  look: (_, report) => ({
    needs: MAY_HOLD.details,
    text: (checked) => {
      const { room } = checked.entry.details;
      if (room === undefined || checked.entry.error) return;
      const length = sampleLength(checked);
      if (length <= room) return;
      const message = `With sample values this text has ${length} characters, and there is room for ${room}. Shorten it.`;
      report({ message, ...aboutText(checked) });
    },
  }),
};
