// Stands for core/texts/pseudo.ts: a pack has no language that nobody speaks.
export const pseudoEntry = <T>(entry: T): T => entry;
