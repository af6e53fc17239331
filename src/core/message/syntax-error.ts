/** A text that is not an ICU message, or uses a part of the syntax that is refused here. */
export class MessageError extends Error {
  override name = 'MessageError';
  /**
   * @param problem what stands there and what was expected
   * @param offset where, in UTF-16 units from 0
   * @param remedy what to write instead
   */
  constructor(
    readonly problem: string,
    readonly offset: number,
    readonly remedy: string,
  ) {
    super(`${problem} at character ${offset + 1}: ${remedy}`);
  }
}
