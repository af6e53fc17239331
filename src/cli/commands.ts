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
    summary: 'start a workspace: around existing rules, or a small example',
    load: () => import('./commands/init.js'),
  },
  {
    name: 'demo',
    summary: 'run an example on a copy of the shipped workspace',
    load: () => import('./commands/demo.js'),
  },
  {
    name: 'rules',
    summary: 'list the forms, their fields and rules',
    load: () => import('./commands/rules.js'),
  },
  {
    name: 'derive',
    summary: 'write JSON Schemas from schemas in code',
    load: () => import('./commands/derive.js'),
  },
  {
    name: 'show',
    summary: 'print the texts as a table, by locale',
    load: () => import('./commands/show.js'),
  },
  {
    name: 'check',
    summary: 'check that every rule has a good text in every locale',
    load: () => import('./commands/check.js'),
  },
  {
    name: 'fix',
    summary: 'correct mistakes that need no new wording',
    load: () => import('./commands/fix.js'),
  },
  {
    name: 'report',
    summary: 'write an HTML page with the state of all texts',
    load: () => import('./commands/report.js'),
  },
  {
    name: 'pages',
    summary: 'write the pages that problem types point to, for people who write clients',
    load: () => import('./commands/pages.js'),
  },
  { name: 'set', summary: 'set one text', load: () => import('./commands/set.js') },
  { name: 'unset', summary: 'remove one text', load: () => import('./commands/unset.js') },
  {
    name: 'rename',
    summary: 'rename a rule, a field or a form everywhere',
    load: () => import('./commands/rename.js'),
  },
  {
    name: 'move',
    summary: 'move texts to another file',
    load: () => import('./commands/move.js'),
  },
  {
    name: 'fill',
    summary: 'draft the texts that a language lacks',
    load: () => import('./commands/fill.js'),
  },
  {
    name: 'review',
    summary: 'print or set the state of translations',
    load: () => import('./commands/review.js'),
  },
  {
    name: 'export',
    summary: 'write texts for translators',
    load: () => import('./commands/export.js'),
  },
  {
    name: 'import',
    summary: 'import translations, or an old catalog',
    load: () => import('./commands/import.js'),
  },
  {
    name: 'try',
    summary: 'validate a payload by the rules of a form',
    load: () => import('./commands/try.js'),
  },
  {
    name: 'render',
    summary: 'turn violations into an error body',
    load: () => import('./commands/render.js'),
  },
  {
    name: 'why',
    summary: 'print the text of a rule, and the file that it comes from',
    load: () => import('./commands/why.js'),
  },
  {
    name: 'serve',
    summary: 'start an HTTP service that renders errors and stands in for the backend',
    load: () => import('./commands/serve.js'),
  },
  {
    name: 'contract',
    summary: 'write the schema of the bodies that clients get',
    load: () => import('./commands/contract.js'),
  },
  {
    name: 'audit',
    summary: 'check recorded responses against the contract',
    load: () => import('./commands/audit.js'),
  },
  {
    name: 'types',
    summary: 'write TypeScript types of forms, fields and rules',
    load: () => import('./commands/types.js'),
  },
  {
    name: 'diff',
    summary: 'print what changed between revisions',
    load: () => import('./commands/diff.js'),
  },
  {
    name: 'merge',
    summary: 'merge the changes of two branches to a catalog, text by text',
    load: () => import('./commands/merge.js'),
  },
  {
    name: 'pack',
    summary: 'write one file for each language, with all lookups resolved',
    load: () => import('./commands/pack.js'),
  },
  {
    name: 'lsp',
    summary: 'run a language server for editors: findings, completion, renaming',
    load: () => import('./commands/lsp.js'),
  },
  {
    name: 'completion',
    summary: 'print a completion script for a shell',
    load: () => import('./commands/completion.js'),
  },
];
