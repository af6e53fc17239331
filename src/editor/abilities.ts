import type { InitializeParams } from 'vscode-languageserver/node';
import type { EditAbilities } from './edits.js';

/** What a client can do, as far as it matters here. */
export interface Abilities extends EditAbilities {
  readonly snippets: boolean;
  readonly watches: boolean;
  readonly progress: boolean;
  readonly folders: boolean;
  /** Whether it asks for lenses anew when it is told to. */
  readonly lenses: boolean;
}

/** What a client says of itself. */
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

/** What every client can do. */
export const NOTHING_MORE: Abilities = {
  documentChanges: false,
  resources: false,
  snippets: false,
  watches: false,
  progress: false,
  folders: false,
  lenses: false,
};
