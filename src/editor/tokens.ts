import { SemanticTokensBuilder, type SemanticTokens } from 'vscode-languageserver/node';
import { parsedMessage } from '../core/message/parse.js';
import { walk, type Message } from '../core/message/tree.js';
import { afterString, unescaped } from '../workspace/documents/json-literal.js';
import type { Extent, OpenText } from './positions.js';

/** The token types inside of messages, in the protocol's words. */
export const TOKEN_TYPES = ['variable', 'keyword', 'enumMember', 'operator'] as const;

interface Token extends Extent {
  readonly type: (typeof TOKEN_TYPES)[number];
}

/** The tokens of a message, by offsets in its text. */
function tokensOf(text: string, message: Message): Token[] {
  const tokens: Token[] = [];
  walk(message, (node) => {
    if (node.kind === 'hash') tokens.push({ from: node.start, to: node.end, type: 'operator' });
    if (!('name' in node)) return;
    const name = text.indexOf(node.name, node.start);
    tokens.push({ from: name, to: name + node.name.length, type: 'variable' });
    if (node.kind === 'argument') return;
    const kind = text.indexOf(node.kind, name + node.name.length);
    tokens.push({ from: kind, to: kind + node.kind.length, type: 'keyword' });
    if ('cases' in node)
      for (const { selector, start } of node.cases)
        tokens.push({ from: start, to: start + selector.length, type: 'enumMember' });
  });
  return tokens.sort((one, other) => one.from - other.from);
}

/** The values of a JSON text that hold arguments, between two offsets. */
function* literalsIn(text: string, { from, to }: Extent): Generator<Extent> {
  for (let open = text.indexOf('"'); open >= 0 && open < to;) {
    const end = afterString(text, open);
    const isKey = /^\s*:/.test(text.slice(end, end + 40));
    if (!isKey && end > from && text.slice(open, end).includes('{')) yield { from: open, to: end };
    open = text.indexOf('"', end);
  }
}

/** Returns the tokens of the messages of a catalog. */
export function semanticTokens(source: OpenText, within: Extent): SemanticTokens {
  const builder = new SemanticTokensBuilder();
  const { text } = source;
  for (const literal of literalsIn(text, within)) {
    const { text: said, places } = unescaped(text.slice(literal.from, literal.to));
    for (const { from, to, type } of tokensOf(said, parsedMessage(said) ?? [])) {
      const [start, end] = [literal.from + (places[from] ?? 0), literal.from + (places[to] ?? 0)];
      const { line, character } = source.position(start);
      builder.push(
        line,
        character,
        source.position(end).character - character,
        TOKEN_TYPES.indexOf(type),
        0,
      );
    }
  }
  return builder.build();
}
