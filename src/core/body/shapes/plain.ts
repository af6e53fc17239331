import type { Sentence } from '../../violation/sentence.js';
import { detailOf, type Answer } from '../answer.js';
import { printPath } from '../../path/path.js';
import { fieldName, groupedByField } from '../grouped.js';
import { jsonShape, type Shape } from './shape.js';

const head = ({ title, detail, status, problem, members, requestId, more }: Answer): object => ({
  code: problem,
  status,
  title,
  detail: detail || undefined,
  ...members,
  more: more || undefined,
  requestId,
});

/**
 * Field → texts. What is said of the body as a whole stands under the empty name, parameters under
 * `parameters`.
 */
export const fields = jsonShape(
  'fields',
  'application/json',
  (answer, { texts, inline: wanted }) => {
    const groups = groupedByField(answer);
    const of = (
      isBody: boolean,
      say: (sentence: Sentence) => string,
      isWanted: (sentence: Sentence) => boolean,
    ): object =>
      Object.fromEntries(
        groups
          .filter((group) => (group.case.in === 'body') === isBody)
          .flatMap(({ field, sentences }) => {
            const list = sentences.map(say);
            return !sentences.some(isWanted)
              ? []
              : [[field, texts === 'list' ? list : list.join(' ')]];
          }),
      );
    const beside = ({ inline, text }: Sentence): string => inline ?? text;
    const whole = wanted === 'alone' ? beside : ({ text }: Sentence): string => text;
    const always = (): boolean => true;
    // One list beside the other: where one of a field's texts has no other for beside the input, it
    // stands for itself.
    const isBeside = ({ inline }: Sentence): boolean => wanted !== 'alone' && inline !== undefined;
    const elsewhere = of(false, whole, always);
    const inline = Object.entries({
      fields: of(true, beside, isBeside),
      parameters: of(false, beside, isBeside),
    }).filter(([, said]) => Object.keys(said).length > 0);
    return {
      ...head(answer),
      fields: answer.problem === 'invalid-fields' ? of(true, whole, always) : undefined,
      parameters: Object.keys(elsewhere).length > 0 ? elsewhere : undefined,
      inline: inline.length > 0 ? Object.fromEntries(inline) : undefined,
      developer: answer.details?.map((detail, at) => ({ field: nameAt(answer, at), ...detail })),
    };
  },
);

const nameAt = ({ sentences }: Answer, at: number): string => {
  const sentence = sentences[at];
  return sentence ? fieldName(sentence.case) : '';
};

/** The code of the record with the number of omitted violations. */
export const MORE = 'more';

/** Flat records, one a violation. */
export const list = jsonShape('list', 'application/json', (answer) => {
  if (answer.problem !== 'invalid-fields')
    return [{ field: null, code: answer.problem, text: answer.detail || answer.title }];
  const records: object[] = answer.sentences.map((sentence, at) => {
    const { in: part, code } = sentence.case;
    return {
      field: fieldName(sentence.case),
      in: part === 'body' ? undefined : part,
      code,
      text: sentence.text,
      inline: sentence.inline,
      members: sentence.members?.map((path) => printPath(path)),
      developer: detailOf(answer, at),
    };
  });
  const { more, detail, title } = answer;
  // A list has no other place for what is said of all.
  return more === 0
    ? records
    : [...records, { field: null, code: MORE, text: detail || title, more }];
});

/** Lines for people: the title, the detail, a line a violation. */
export const text: Shape = {
  name: 'text',
  mediaType: 'text/plain; charset=utf-8',
  write({ title, detail, sentences, details, more }) {
    const lines = sentences.map(({ text: sentence }, at) => {
      const developer = details?.[at];
      return `- ${sentence}${developer ? ` (${JSON.stringify(developer)})` : ''}`;
    });
    return [title, detail, ...lines, more > 0 ? `- … (+${more})` : '']
      .filter((line) => line !== '')
      .join('\n');
  },
};
