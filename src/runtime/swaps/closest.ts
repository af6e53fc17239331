// Stands for core/text/closest.ts: what is misspelt is told, without a guess.
export const closest = (): undefined => undefined;
export const suggestion = (): string => '';
