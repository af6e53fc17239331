import { getOrMake } from '../../base/get-or-make.js';
import type { Locale } from '../../locale/tag.js';
import { MAY_HOLD } from '../../message/may-hold.js';
import { FORMAT_NAMES } from '../../rules/format-names.js';
import { TYPE_NAMES } from '../../rules/types.js';
import { selectKey } from '../../path/identifier.js';
import { suggestion } from '../../text/closest.js';
import type { Context } from '../subject/context.js';
import type { Kind } from '../subject/kind.js';
import { PerPurpose } from '../subject/checked-text.js';
import { aboutText, type CheckedText } from '../subject/checked-text.js';
import { keyed } from '../../base/keyed.js';

const KEYS: Readonly<Record<string, readonly string[]>> = keyed({
  nested: ['yes', 'no'],
  hint: ['yes', 'no'],
  exclusive: ['yes', 'no'],
  located: ['yes', 'no'],
  bound: ['value', 'field', 'today'],
});

/** The one rule that a message is for, by its key where nothing uses it yet. */
const ruleOf = ({ rows, key }: CheckedText): string | undefined =>
  rows.length === 0
    ? key
    : rows.every(({ use }) => use.rule === rows[0]?.use.rule)
      ? rows[0]?.use.rule
      : undefined;

/**
 * The keys that an argument can have whatever a workspace says; nothing where that hangs on it, or
 * anything can come.
 */
export function fixedKeys(name: string, rule: string | undefined): readonly string[] | undefined {
  if (Object.hasOwn(KEYS, name)) return KEYS[name];
  if (name === 'expected' && rule === 'type') return [...TYPE_NAMES, 'file', 'several'];
  return name === 'format' && rule === 'format' ? FORMAT_NAMES.map(selectKey) : undefined;
}

/** The keys that an argument can have where a message is used; nothing where anything can come. */
function keysFor(
  name: string,
  rule: string | undefined,
  { catalog }: CheckedText,
  context: Context,
): readonly string[] | undefined {
  const fixed = fixedKeys(name, rule);
  if (fixed || !/^(label|counterpart)_gender$/.test(name)) return fixed;
  return gendersOf(catalog.locale, context);
}

const known = new WeakMap<Context, Map<Locale, readonly string[]>>();

/** The genders that labels of a language have. */
function gendersOf(locale: Locale, context: Context): readonly string[] {
  const byLocale = getOrMake(known, context, () => new Map());
  let genders = byLocale.get(locale);
  if (!genders) {
    const texts = context.catalogs
      .filter((one) => one.locale === locale)
      .flatMap((one) => one.texts);
    byLocale.set(
      locale,
      (genders = [...new Set(texts.flatMap(({ details }) => details.gender ?? []))]),
    );
  }
  return genders;
}

export const selectMismatch: Kind = {
  kind: 'select-mismatch',
  severity: 'warning',
  about: 'A case compares an argument with a key that it never has; the case is never used.',
  remedy: 'Write one of the keys that the sentence lists.',
  example: '"{nested, select, maybe {…} other {…}}"         // it is yes or no',
  look: (context, report) => {
    const rules = new PerPurpose((checked) => ({ rule: ruleOf(checked) }));
    return {
      needs: MAY_HOLD.structured,
      text: (checked) => {
        for (const node of checked.caseNodes) {
          if (node.kind !== 'select') continue;
          const keys = keysFor(node.name, rules.of(checked).rule, checked, context);
          for (const { selector, start } of keys ? node.cases : []) {
            if (selector === 'other' || keys?.includes(selector)) continue;
            const message = `{${node.name}} is never "${selector}"${suggestion(selector, keys ?? [])}; it can be ${keys?.join(', ') || 'nothing yet'}.`;
            report({ message, ...aboutText(checked, start) });
          }
        }
      },
    };
  },
};
