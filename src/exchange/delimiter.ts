/** The sign behind the first name of the head, which is what stands between all cells. */
export const delimiterOf = (text: string): string =>
  /^\uFEFF?(?:"[^"]*"|[^",;\t\r\n]*)([,;\t])/.exec(text)?.[1] ?? ',';
