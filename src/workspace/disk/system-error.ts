/**
 * The code of what the system refused (`ENOENT`), whatever realm the error comes from; empty where
 * it has none.
 */
export const systemCodeOf = (error: unknown): string =>
  typeof error === 'object' && error !== null && 'code' in error ? String(error.code) : '';
