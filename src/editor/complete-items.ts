import {
  CompletionItemKind,
  InsertTextFormat,
  type CompletionItem,
  type MarkupContent,
  MarkupKind,
} from 'vscode-languageserver/node';
import type { ArgumentDefinition, Parameter } from '../core/rules/definition.js';
import { VOCABULARY } from '../core/rules/vocabulary.js';
import { aboutKind } from './diagnostics.js';
import type { Extent, OpenText } from './positions.js';

/** Names the documentation of an item; it is looked up when the item is selected. */
export interface About {
  readonly sort: 'rule' | 'kind' | 'words';
  readonly of: string;
}

/** One word that could stand where somebody types. */
export interface Offer {
  readonly name: string;
  readonly kind: CompletionItemKind;
  /** A few words beside it. */
  readonly detail?: string;
  /** Those that are most likely wanted come first. */
  readonly rank?: number;
  readonly about?: About;
  /** The snippet that replaces the name, with `$1` where the cursor goes. */
  readonly snippet?: string;
}

/** Escapes the dollar, the brace and the backslash in a snippet. */
export const inSnippet = (text: string): string => text.replace(/[\\$}]/g, '\\$&');

/** A snippet as plain text: its places are empty. */
export const withoutPlaces = (snippet: string): string =>
  snippet
    .replace(/(?<!\\)\$\{\d+:((?:[^}\\]|\\.)*)\}/g, '$1')
    .replace(/(?<!\\)\$\d/g, '')
    .replace(/\\([\\$}])/g, '$1');

/** The offers as the protocol has them. */
export function itemsOf(
  offers: readonly Offer[],
  source: OpenText,
  extent: Extent,
  withSnippets: boolean,
): CompletionItem[] {
  const range = source.range(extent);
  return offers.map(({ name, kind, detail, rank = 5, about, snippet }) => {
    const isSnippet = snippet !== undefined && withSnippets;
    const newText = snippet === undefined ? name : isSnippet ? snippet : withoutPlaces(snippet);
    return {
      label: name,
      kind,
      ...(detail === undefined ? {} : { detail }),
      sortText: `${rank} ${name}`,
      filterText: name,
      insertTextFormat: isSnippet ? InsertTextFormat.Snippet : InsertTextFormat.PlainText,
      textEdit: { range, newText },
      ...(about ? { data: about } : {}),
    };
  });
}

const parameterLine = ({ name, type, about, optional }: Parameter): string =>
  `- \`${name}\` (${type}${optional ? ', optional' : ''}): ${about}`;

const argumentLine = ({ name, about }: ArgumentDefinition): string => `- \`{${name}}\`: ${about}`;

/** Returns the reference's text about a rule. */
export function aboutRule(id: string): string | undefined {
  const rule = VOCABULARY.get(id);
  if (!rule) return undefined;
  const given = rule.parameters.map(parameterLine);
  const argumentLines = rule.arguments.map(argumentLine);
  return [
    `**${rule.id}**: ${rule.about}`,
    ...(given.length > 0 ? [`It is given\n\n${given.join('\n')}`] : []),
    ...(argumentLines.length > 0 ? [`Its messages can say\n\n${argumentLines.join('\n')}`] : []),
  ].join('\n\n');
}

const isAbout = (data: unknown): data is About =>
  typeof data === 'object' && data !== null && 'sort' in data && 'of' in data;

/** The documentation of an item, out of the reference. */
export function documentationOf(data: unknown): MarkupContent | undefined {
  if (!isAbout(data)) return undefined;
  const { sort, of } = data;
  const value = sort === 'rule' ? aboutRule(of) : sort === 'kind' ? aboutKind(of) : of;
  return value === undefined ? undefined : { kind: MarkupKind.Markdown, value };
}

export { CompletionItemKind as Sort };
