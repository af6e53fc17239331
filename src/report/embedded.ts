/** JSON inside of a script element: nothing in it can end the element. */
export const embedded = (data: unknown): string =>
  JSON.stringify(data)
    .replaceAll('<', '\\u003c')
    .replaceAll('\u2028', '\\u2028')
    .replaceAll('\u2029', '\\u2029');

/** A script inside of its element. */
export const inScript = (script: string): string => script.replaceAll('</script', '<\\/script');
