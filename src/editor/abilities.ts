import type { InitializeParams } from 'vscode-languageserver/node';
import type { EditAbilities } from './edits.js';

/** The abilities of a client that this server uses. */
export interface Abilities extends EditAbilities {
  readonly snippets: boolean;
  readonly watches: boolean;
  readonly progress: boolean;
  readonly folders: boolean;
  /** Whether the client requests lenses again on a refresh. */
  readonly lenses: boolean;
}

/** Reads the abilities from the client's `initialize` request. */
export function abilitiesOf({
  capabilities: { textDocument, workspace, window },
}: InitializeParams): Abilities {
  const edits = workspace?.workspaceEdit;
  return {
    documentChanges: edits?.documentChanges ?? false,
    resources: edits?.resourceOperations?.includes('create') ?? false,
    snippets: textDocument?.completion?.completionItem?.snippetSupport ?? false,
    watches: workspace?.didChangeWatchedFiles?.dynamicRegistration ?? false,
    progress: window?.workDoneProgress ?? false,
    folders: workspace?.workspaceFolders ?? false,
    lenses: workspace?.codeLens?.refreshSupport ?? false,
  };
}

/** The abilities that every client has. */
export const NOTHING_MORE: Abilities = {
  documentChanges: false,
  resources: false,
  snippets: false,
  watches: false,
  progress: false,
  folders: false,
  lenses: false,
};
