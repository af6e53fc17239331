// Stands for core/locale/pseudo.ts: a pack has no language that nobody speaks.
export const PSEUDO_LOCALES: readonly never[] = [];
export const isPseudo = (): boolean => false;
