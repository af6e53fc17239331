// The registry of subtags is larger than the rest of the runtime: what a pack names was checked
// when it was written, and what a client asks for is only looked up among these.

export const isRegisteredTag = (): boolean => true;

export const unregistered = (text: string): string => `"${text}" is not registered`;
