import { couldBe } from '../../core/audit/text-matcher.js';
import type { Locale } from '../../core/locale/tag.js';
import { readMessage } from '../../core/message/parse.js';
import type { Message } from '../../core/message/tree.js';
import type { PlainInline, PlainSentence } from '../../core/pack/plain.js';
import { IcuWriter } from '../../core/pack/writers.js';
import { fieldKey } from '../../core/pack/left-out.js';
import { narrowerPatterns } from '../../core/pack/written-at.js';
import { codeOf, keysOf } from '../../core/rules/form.js';
import { withStandIns } from '../../core/rules/unnamed.js';
import { entryOf, type Entry } from '../../core/texts/entry.js';
import type { Phrase } from '../../core/texts/phrase.js';
import type { Workspace } from '../reading/workspace.js';
import { makeSentences } from './sentences.js';

/** One text that could have said a sentence, and of what. */
export interface Traced {
  readonly locale: Locale;
  readonly entry: Entry;
  /** A rule of a field, or a part of a problem. */
  readonly of:
    | {
        readonly form: string;
        readonly path: string;
        readonly rule: string;
        readonly beside: boolean;
      }
    | { readonly problem: string; readonly part: string };
}

/** Isolates are not to be seen, so nobody copies them. */
const withoutIsolates = (text: string): string => text.replace(/[\u2066-\u2069]/g, '');

/** The ICU message of a sentence that a pack has; of several, the one that is tried first. */
const messageOf = (sentence: PlainInline): Message => {
  const first = (Array.isArray(sentence) ? sentence[0] : sentence) as PlainSentence | null;
  const text =
    typeof first === 'object' && first !== null && 'sentence' in first ? first.sentence : first;
  return typeof text === 'string' ? readMessage(withoutIsolates(text)) : [];
};

/** A text, and what it says where it stands. */
interface Said extends Traced {
  readonly message: Message;
}

/** All that a workspace says, as far as it is known before a request. */
function saidIn(workspace: Workspace, locales: readonly Locale[]): Said[] {
  const { texts, config } = workspace;
  return locales.flatMap((locale) => {
    const { pack } = makeSentences(workspace, locale, new IcuWriter());
    const found: Said[] = [];
    const add = (phrase: Phrase | undefined, of: Traced['of'], worked?: PlainInline): void => {
      const entry = entryOf(phrase);
      if (!entry || entry.error) return;
      const message = worked === undefined ? entry.tree : messageOf(worked);
      found.push({ locale, entry, of, message });
    };
    for (const { form } of workspace.forms.values())
      for (const field of form.fields)
        for (const pattern of [field.pattern, ...narrowerPatterns(texts, form.id, field.pattern)])
          for (const use of field.uses) {
            const path = fieldKey(pattern, field.in);
            const rule = codeOf(use);
            const question = { form: form.id, path: pattern, keys: keysOf(use) };
            const message = texts.message(question, locale);
            const of = { form: form.id, path, rule, beside: false };
            add(message, of, pack.forms[form.id]?.[path]?.[rule]);
            add(
              message && texts.inline(message),
              {
                ...of,
                beside: true,
              },
              pack.inlines[form.id]?.[path]?.[rule],
            );
            const [, general = []] = withStandIns(question.keys);
            add(texts.message({ ...question, keys: general }, locale), of);
          }
    for (const problem of config.statuses.keys())
      for (const part of ['title', 'detail'] as const)
        add(texts.problem('', problem, locale)[part], { problem, part });
    return found;
  });
}

/**
 * Finds the texts that could have said each of some sentences: labels and parameters are those of
 * the rule, and anything matches where only a request has the value.
 */
export function traceSentences(
  workspace: Workspace,
  sentences: readonly string[],
  locales: readonly Locale[],
): Traced[][] {
  const all = saidIn(workspace, locales);
  return sentences.map((sentence) => {
    const text = withoutIsolates(sentence.trim());
    return all.filter(({ message }) => couldBe(message, text));
  });
}

/** Deeper than any body is nested. */
const DEEPEST = 64;

/**
 * Returns the texts of a body that people read: those of several words; of a body that is not JSON,
 * its lines.
 */
export function sentencesIn(body: string): string[] {
  const found = new Set<string>();
  const walk = (value: unknown, depth: number): void => {
    if (typeof value === 'string' && /\S[\s\u3000].*\S|[^\u0000-\u024F]{4}/u.test(value))
      found.add(value);
    if (typeof value === 'object' && value !== null && depth < DEEPEST)
      for (const one of Object.values(value)) walk(one, depth + 1);
  };
  try {
    walk(JSON.parse(body), 0);
  } catch {
    for (const line of body.split(/\r?\n/)) walk(line.replace(/^- /, ''), 0);
  }
  return [...found];
}
