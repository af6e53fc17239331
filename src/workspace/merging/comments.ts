import { findNodeAtLocation, visit } from 'jsonc-parser';
import { treeOf } from '../documents/json-text.js';

type Keys = readonly (string | number)[];

interface Remark {
  readonly text: string;
  /** The member that it stands above, or behind; absent at the ends of the file. */
  member?: Keys;
}

/** The comments of a text in their order. */
function remarksIn(text: string): Remark[] {
  const remarks: Remark[] = [];
  let open: Remark[] = [];
  let last: Keys | undefined;
  visit(
    text,
    {
      onComment: (offset, length) => {
        const remark: Remark = { text: text.slice(offset, offset + length).trimEnd() };
        remarks.push(remark);
        const lineStart = text.lastIndexOf('\n', offset - 1) + 1;
        if (last && text.slice(lineStart, offset).trim() !== '') remark.member = last;
        else open.push(remark);
      },
      onObjectProperty: (name, _offset, _length, _line, _column, pathTo) => {
        last = [...pathTo(), name];
        for (const remark of open) remark.member = last;
        open = [];
      },
      onObjectEnd: () => {
        for (const remark of open) if (last) remark.member = last;
        open = [];
      },
    },
    { allowTrailingComma: true },
  );
  return remarks;
}

/** How often each comes. */
function counts(remarks: readonly Remark[]): Map<string, number> {
  const found = new Map<string, number>();
  for (const { text } of remarks) found.set(text, (found.get(text) ?? 0) + 1);
  return found;
}

/** A comment above a member, or at the top of a file that has no such member. */
function placed(text: string, remark: string, keys: Keys | undefined): string {
  const eol = text.includes('\r\n') ? '\r\n' : '\n';
  const root = treeOf(text);
  const at = (root && keys && findNodeAtLocation(root, [...keys])?.parent)?.offset;
  if (at === undefined) return `${remark}${eol}${text}`;
  const start = text.lastIndexOf('\n', at - 1) + 1;
  const before = text.slice(start, at);
  const said =
    before.trim() === ''
      ? `${remark}${eol}${before}`
      : remark.startsWith('/*')
        ? `${remark} `
        : `${eol}${remark}${eol}`;
  return text.slice(0, at) + said + text.slice(at);
}

/** Puts comments that the other side wrote where what was joined has what they are of. */
export function carryComments(base: string, theirs: string, joined: string): string {
  if (!/\/[/*]/.test(theirs)) return joined;
  const [known, there] = [counts(remarksIn(base)), counts(remarksIn(joined))];
  const met = new Map<string, number>();
  let text = joined;
  for (const { text: remark, member } of remarksIn(theirs)) {
    const times = (met.get(remark) ?? 0) + 1;
    met.set(remark, times);
    const has = Math.max(known.get(remark) ?? 0, there.get(remark) ?? 0);
    if (times > has) text = placed(text, remark, member);
  }
  return text;
}
