/** JSON inside of a script element: nothing in it can end the element. */
export const embedded = (data: unknown): string =>
  JSON.stringify(data)
    .replaceAll('<', '\\u003c')
    .replaceAll('\u2028', '\\u2028')
    .replaceAll('\u2029', '\\u2029');

/** A script inside of its element. */
export const inScript = (script: string): string => script.replaceAll('</script', '<\\/script');

/** A page as one file that asks for nothing else. @param body the HTML of what is in it */
export const pageOf = (
  lang: string,
  title: string,
  style: string,
  body: string,
  direction: 'ltr' | 'rtl' = 'ltr',
): string =>
  `<!doctype html>
<html lang="${lang}" dir="${direction}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="color-scheme" content="light dark">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'">
<title>${title}</title>
<style>${style}</style>
</head>
<body>
${body}
</body>
</html>
`;
