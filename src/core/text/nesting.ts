/** Payloads are read so deep: what they are judged by goes down as far as they do. */
export const DEEPEST_PAYLOAD = 128;

/** How often a sign stands in a text, as far as it matters. */
function count(text: string, sign: string, most: number): number {
  let found = 0;
  for (let at = text.indexOf(sign); at >= 0 && found <= most; at = text.indexOf(sign, at + 1))
    found += 1;
  return found;
}

/**
 * Where a JSON text is nested deeper than allowed; nothing where it is not. It is looked at before
 * any parser sees it.
 */
export function tooDeepAt(text: string, deepest: number): number | undefined {
  // Most texts open nothing as often as that, wherever it stands.
  if (count(text, '[', deepest) + count(text, '{', deepest) <= deepest) return undefined;
  let depth = 0;
  let quoted = false;
  for (let at = 0; at < text.length; at++) {
    const unit = text.charCodeAt(at);
    if (quoted) {
      if (unit === 0x5c) at += 1;
      else if (unit === 0x22) quoted = false;
    } else if (unit === 0x22) quoted = true;
    else if (unit === 0x5b || unit === 0x7b) {
      depth += 1;
      if (depth > deepest) return at;
    } else if (unit === 0x5d || unit === 0x7d) depth -= 1;
  }
  return undefined;
}

/** Whether lists and objects stand in each other deeper than allowed, in what was read already. */
export function isDeeper(value: unknown, deepest: number): boolean {
  if (typeof value !== 'object' || value === null) return false;
  if (deepest === 0) return true;
  for (const name in value)
    if (isDeeper((value as Readonly<Record<string, unknown>>)[name], deepest - 1)) return true;
  return false;
}
