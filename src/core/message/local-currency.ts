import { CURRENCY_OF_REGION } from './currencies.js';
import type { Message, MessageNode } from './tree.js';

/** ICU writes a currency without one of its own as ¤, which is ISO 4217's XXX. */
export function currencyOf(locale: string): string {
  const { region } = new Intl.Locale(locale);
  const at = region === undefined ? -1 : ` ${CURRENCY_OF_REGION}`.indexOf(` ${region}`);
  return at < 0 ? 'XXX' : CURRENCY_OF_REGION.slice(at + 2, at + 5);
}

/** A message whose currencies are named, where they are the ones of the locale's region. */
export const withCurrencies = (message: Message, locale: string): Message =>
  message.map((node): MessageNode => {
    if ('cases' in node)
      return {
        ...node,
        cases: node.cases.map((one) => ({ ...one, message: withCurrencies(one.message, locale) })),
      };
    if (node.kind !== 'number' || !node.style.localCurrency) return node;
    const { scale, options } = node.style;
    const named = { ...options, currency: currencyOf(locale) };
    return { ...node, style: { options: named, ...(scale === undefined ? {} : { scale }) } };
  });
