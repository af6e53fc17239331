// Stands for core/locale/registry.ts: the tags of a pack were held against the registry when it was made.
export const unregistered = (): undefined => undefined;
