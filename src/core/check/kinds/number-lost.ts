import { ANY_ELEMENT } from '../../path/path.js';
import type { Kind } from '../subject/kind.js';
import { aboutText } from '../subject/checked-text.js';
import { placeArguments } from './offers.js';

export const numberLost: Kind = {
  kind: 'number-lost',
  severity: 'warning',
  about:
    "An element's label does not say which element it is; the number is added behind the label, which may read badly.",
  remedy: 'Write the argument that the sentence names where the number belongs in the label.',
  example: '"targets[*]": { "label": "target" }    // write "target {targets_number}"',
  look: (_, report) => ({
    sorts: ['label'],
    concerns: ({ field, key }) => key === '' && field?.pattern.at(-1) === ANY_ELEMENT,
    text: (checked) => {
      const own = placeArguments(checked.field?.pattern ?? []).at(-1);
      if (own === undefined || checked.entry.error || checked.entry.signature.names.has(own))
        return;
      report({
        message: `This label does not say which element it names. Write {${own}} where its number belongs.`,
        ...aboutText(checked),
      });
    },
  }),
};
