// Stands for core/body/developer.ts: packs answer to clients, who are told nothing of what is
// inside.
export const developerDetail = (): undefined => undefined;
