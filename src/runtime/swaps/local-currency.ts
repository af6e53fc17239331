// Stands for core/message/local-currency.ts: in the trees of a pack every currency is named.
export const currencyOf = (): string => 'XXX';
