import type { Kind } from '../subject/kind.js';
import { aboutText } from '../subject/checked-text.js';

export const missingInline: Kind = {
  kind: 'missing-inline',
  severity: 'warning',
  about:
    "A message of the workspace's own has no text for beside the input, which `body.inline` asks for; the whole sentence stands there too.",
  remedy:
    'Write the message as { "text": …, "inline": … }, where `inline` says the same without the label.',
  example: '"messages": { "required": "Please name your proposal." }   // with "inline: true"',
  look: ({ subject, table }, report) =>
    subject.asksInline
      ? {
          sorts: ['message'],
          text: (checked) => {
            const { entry } = checked;
            if (entry.purpose.layer !== 'written' || entry.details.inline) return;
            // Where the original has none either, it is missing there alone.
            const original = table.cell(subject.original, entry.purpose);
            if (original && original !== entry && !original.details.inline) return;
            const message = `"${entry.key}" has no "inline" in ${entry.locale}, so the whole sentence stands beside the input too. Write one that says the same without the label.`;
            report({ message, ...aboutText(checked) });
          },
        }
      : undefined,
};
