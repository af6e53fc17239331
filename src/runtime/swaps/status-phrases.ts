// Stands for core/body/status-phrases.ts: what a pack has no title for is called by its name.
export const ERROR_STATUSES: ReadonlyMap<number, string> = new Map();
