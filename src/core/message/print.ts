import type { Message, MessageNode } from './tree.js';

function quoted(text: string, inPlural: boolean): string {
  return text.replace(inPlural ? /[{}#']+/g : /[{}']+/g, (run) => {
    const doubled = run.replaceAll("'", "''");
    return doubled.length === 2 * run.length ? doubled : `'${doubled}'`;
  });
}

function printNode(node: MessageNode, inPlural: boolean): string {
  switch (node.kind) {
    case 'text':
      return quoted(node.text, inPlural);
    case 'hash':
      return '#';
    case 'argument':
      return `{${node.name}}`;
    case 'number':
    case 'date':
    case 'time':
      return `{${[node.name, node.kind, node.styleText].filter((part) => part !== undefined).join(', ')}}`;
    case 'plural':
    case 'selectordinal':
    case 'select': {
      const cases = node.cases.map(
        ({ selector, message }) => `${selector} {${print(message, node.kind !== 'select')}}`,
      );
      if (node.kind !== 'select' && node.offset !== 0) cases.unshift(`offset:${node.offset}`);
      return `{${node.name}, ${node.kind}, ${cases.join(' ')}}`;
    }
  }
}

function print(message: Message, inPlural: boolean): string {
  return message.map((node) => printNode(node, inPlural)).join('');
}

/** Writes a message so that reading it gives a tree that formats the same. */
export function printMessage(message: Message): string {
  return print(message, false);
}
