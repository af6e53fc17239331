/** Whether a media type, with parameters or without, is of JSON (RFC 6839 section 3.1). */
export const isJsonMedia = (type: string): boolean =>
  /^application\/(?:[\w.+-]+\+)?json\s*(?:;|$)/i.test(type);
