/** Signs of a server's internals in texts, each with a name for people. */
const LEAKS: readonly (readonly [string, RegExp])[] = [
  [
    'a stack trace',
    /(?:^|\n)[ \t]{0,40}at [^\n]{1,200}:\d+(?::\d+)?\)?|Traceback \(most recent call last\)|\bat [\w$.]{1,200}\([\w$]{1,200}\.(?:java|kt|scala|cs):\d+\)|goroutine \d+ \[/,
  ],
  // Each is tried from the beginning of a word alone, and as far as names are long.
  [
    'a class',
    /(?<![\w.])(?:[a-z]\w{0,60}\.){2,12}[A-Z]\w*|\b[A-Z]\w{0,100}(?:Exception|StackTrace)\b|\b\w{1,100}::\w{1,100}::\w+/,
  ],
  [
    'a query',
    /\bSELECT\s[^\n]{1,300}\sFROM\s|\bINSERT\s+INTO\s|\bUPDATE\s+\w+\s+SET\s|\bDELETE\s+FROM\s|\bSQLSTATE\b|syntax error at or near|\bORA-\d{5}\b|duplicate key value violates/,
  ],
  [
    'a file of the server',
    /(?:^|[\s"'(=])(?:\/(?:home|usr|var|srv|app|opt|etc|root|tmp|mnt|Users)\/[\w./-]+|[A-Za-z]:\\[\w\\. -]+|(?:file:\/\/|node:internal\/)[\w./-]+)/,
  ],
];

export interface Leak {
  readonly what: string;
  readonly shown: string;
}

/**
 * Matches a part of every leak: most texts match nothing, and then no other expression is tried.
 */
const SUSPECT =
  /(?:^|\n)[ \t]{0,40}at |\(most recent|\.(?:java|kt|scala|cs):|goroutine|\w\.[A-Z]|Exception|StackTrace|\w::\w|(?:SELECT|INSERT|UPDATE|DELETE)\s|SQLSTATE|syntax error at|ORA-\d|duplicate key|[\s"'(=]\/[A-Za-z]+\/|^\/[A-Za-z]+\/|[A-Za-z]:\\|file:\/\/|node:internal/;

/** Finds the internals in a text: what each is, and the part that shows it. */
export function leaksIn(text: string): Leak[] {
  if (!SUSPECT.test(text)) return [];
  return LEAKS.flatMap(([what, regex]) => {
    const found = regex
      .exec(text)?.[0]
      .replace(/^[\s"'(=]+/, '')
      .trim();
    return found === undefined
      ? []
      : [{ what, shown: found.length > 80 ? `${found.slice(0, 79)}…` : found }];
  });
}

// `targets[2].name`, `targets.2.name`, `/targets/2/name`: names joined by dots, brackets or slashes
// with a place among them.
const RAW_PATH =
  /(?:^|[\s"'“„«(])((?:\/?[A-Za-z_]\w*)(?:(?:\.|\/)\w+)*(?:\[\d+\]|[./]\d+(?=[./\s"'”“»),;:]|$))(?:[./]?\w+|\[\d+\])*)/;

/** The first raw path in a text for people. */
export function rawPathIn(text: string): string | undefined {
  return RAW_PATH.exec(text)?.[1];
}
