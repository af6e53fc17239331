import type { Command } from 'commander';
export interface CommandModule {
  /** Gives the command its arguments, options and action. */
  readonly define: (command: Command) => void;
}

export interface CommandEntry {
  readonly name: string;
  readonly summary: string;
  readonly load: () => Promise<CommandModule>;
}

/** All commands, in the order of the work. Each is loaded only when it runs. */
export const COMMANDS: readonly CommandEntry[] = [
  {
    name: 'init',
    summary: 'start a workspace: around rules that are there, or a small one',
    load: () => import('./commands/init.js'),
  },
  {
    name: 'demo',
    summary: 'show all of it on a copy of the shipped workspace',
    load: () => import('./commands/demo.js'),
  },
  {
    name: 'rules',
    summary: 'list the forms, their fields and rules',
    load: () => import('./commands/rules.js'),
  },
  {
    name: 'derive',
    summary: 'write schemas out of the code that has the rules',
    load: () => import('./commands/derive.js'),
  },
  {
    name: 'show',
    summary: 'show the texts as a table, by locale',
    load: () => import('./commands/show.js'),
  },
  {
    name: 'check',
    summary: 'check that every rule has a good text in every locale',
    load: () => import('./commands/check.js'),
  },
  { name: 'fix', summary: 'mend what is mechanical', load: () => import('./commands/fix.js') },
  {
    name: 'report',
    summary: 'write the state of all texts as one page',
    load: () => import('./commands/report.js'),
  },
  {
    name: 'pages',
    summary: 'write the pages that problem types lead to, for clients of the API',
    load: () => import('./commands/pages.js'),
  },
  { name: 'set', summary: 'set one text', load: () => import('./commands/set.js') },
  { name: 'unset', summary: 'take one text out', load: () => import('./commands/unset.js') },
  {
    name: 'rename',
    summary: 'rename a rule, a field or a form everywhere',
    load: () => import('./commands/rename.js'),
  },
  {
    name: 'move',
    summary: 'move texts into another file',
    load: () => import('./commands/move.js'),
  },
  {
    name: 'fill',
    summary: 'draft what a language lacks',
    load: () => import('./commands/fill.js'),
  },
  {
    name: 'review',
    summary: 'print and mark the state of translations',
    load: () => import('./commands/review.js'),
  },
  {
    name: 'export',
    summary: 'write texts for translators',
    load: () => import('./commands/export.js'),
  },
  {
    name: 'import',
    summary: 'take translations back, or an old catalog over',
    load: () => import('./commands/import.js'),
  },
  {
    name: 'try',
    summary: 'send a payload through the rules of a form',
    load: () => import('./commands/try.js'),
  },
  {
    name: 'render',
    summary: 'turn what a request broke into an error body',
    load: () => import('./commands/render.js'),
  },
  {
    name: 'why',
    summary: 'print which text a rule gets, and from which file',
    load: () => import('./commands/why.js'),
  },
  {
    name: 'serve',
    summary: 'answer over HTTP: a service, and a stand-in backend',
    load: () => import('./commands/serve.js'),
  },
  {
    name: 'contract',
    summary: 'write the schema of the bodies that clients get',
    load: () => import('./commands/contract.js'),
  },
  {
    name: 'audit',
    summary: 'hold recorded responses against the contract',
    load: () => import('./commands/audit.js'),
  },
  {
    name: 'types',
    summary: 'declare forms, fields and rules for the TypeScript compiler',
    load: () => import('./commands/types.js'),
  },
  {
    name: 'diff',
    summary: 'print what changed between revisions',
    load: () => import('./commands/diff.js'),
  },
  {
    name: 'merge',
    summary: 'join what two branches made of a catalog, text by text',
    load: () => import('./commands/merge.js'),
  },
  {
    name: 'pack',
    summary: 'write one file a language with all lookups resolved',
    load: () => import('./commands/pack.js'),
  },
  {
    name: 'lsp',
    summary: 'answer an editor: findings while typing, completion, renaming',
    load: () => import('./commands/lsp.js'),
  },
  {
    name: 'completion',
    summary: 'write what lets a shell complete words',
    load: () => import('./commands/completion.js'),
  },
];
