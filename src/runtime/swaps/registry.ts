// The registry of subtags is larger than the rest of the runtime: what a pack names was checked
// when it was written, and what a client asks for is only looked up among these.

export const isRegisteredTag = (): boolean => true;

/** Extended languages, whose prefix `accept` leaves out too. */
export const preferredTag = (text: string): string =>
  text.replace(/^(?:ar|kok|lv|ms|sgn|sw|uz|zh)-(?=[a-z]{3}(?:-|$))/i, '');

export const malformed = (text: string): string => `"${text}" is no language tag`;

export const unregistered = (text: string): string => `"${text}" is not registered`;
