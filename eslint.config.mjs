import tseslint from 'typescript-eslint';

/** The rooms of the house, and which others each may import from. */
const rooms = {
  core: [],
  exchange: ['core'],
  render: ['core', 'exchange'],
  runtime: ['core', 'exchange', 'render'],
  workspace: ['core', 'exchange', 'render'],
  browser: ['core', 'exchange', 'workspace'],
  report: ['core', 'workspace'],
  http: ['core', 'exchange', 'render', 'workspace', 'report'],
  editor: ['core', 'workspace'],
  cli: ['core', 'exchange', 'render', 'workspace', 'report', 'http', 'editor'],
};
const ONE_WAY =
  'Imports run one way: cli → http, editor → report → workspace → render → exchange → core.';

/** Starters are data, which nobody imports. */
const closedTo = (room) => ({
  regex: `^(\\.\\./)+(${[...Object.keys(rooms), 'starter'].filter((one) => one !== room && !rooms[room].includes(one)).join('|')})/`,
  message: ONE_WAY,
});

const outside = {
  regex: '^(node:|fs|path|os|http|https|net|child_process|worker_threads|process|url|module)(/|$)',
  message: 'The core is pure: no file, network, clock, process or console.',
};

/** Which text is used, one file decides. */
const trie = {
  regex: '/trie\\.js$',
  message:
    'Which text is used, core/texts/ladder.ts decides; which field stands at a path, core/rules/form-index.ts.',
};
/** The texts of a pack are decided on already; a path is all that is left to find. */
const MAY_USE_TRIE = [
  'src/core/texts/ladder.ts',
  'src/core/rules/form-index.ts',
  'src/core/pack/texts.ts',
];

/** Objects that are asked by names from outside have no prototype: `keyed({ … })`, a Map, or `Object.fromEntries`. */
const tables = {
  selector:
    "VariableDeclarator[init.type='ObjectExpression'] > Identifier.id > TSTypeAnnotation TSTypeReference[typeName.name='Record'] > TSTypeParameterInstantiation > TSStringKeyword.params:first-child",
  message:
    'What is asked by names from outside has no prototype: write keyed({ … }), or take a Map.',
};

/** `String` and `Number` call what an object out of JSON has as `toString` and `valueOf`, and then they may throw. */
const conversions = {
  selector:
    "CallExpression[callee.name=/^(String|Number)$/], CallExpression[callee.property.name='map'][arguments.0.name=/^(String|Number)$/]",
  message: 'What others wrote may be any object: use wordOf or numberOf of core/text/outer.ts.',
};

/** The core has no clock and no chance. */
const noClock = [
  {
    selector: "NewExpression[callee.name='Date'][arguments.length=0]",
    message: 'The core has no clock: take the time as an argument.',
  },
  {
    selector: "MemberExpression[object.name='Date'][property.name='now']",
    message: 'The core has no clock: take the time as an argument.',
  },
  {
    selector: "MemberExpression[object.name='Math'][property.name='random']",
    message: 'The core is deterministic.',
  },
];

const bans = (room) => [closedTo(room), ...(room === 'core' ? [outside] : [])];
const banned = (patterns) => ({ 'no-restricted-imports': ['error', { patterns }] });

export default tseslint.config(
  { ignores: ['dist/', 'node_modules/', 'coverage/', '**/*.mjs', '**/*.cjs'] },
  ...tseslint.configs.strictTypeChecked.map((config) => ({
    ...config,
    files: ['src/**/*.ts', 'test/**/*.ts'],
  })),
  {
    files: ['src/**/*.ts', 'test/**/*.ts'],
    languageOptions: { parserOptions: { projectService: true } },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { considerDefaultExhaustiveForUnions: true },
      ],
      '@typescript-eslint/no-confusing-void-expression': [
        'error',
        { ignoreVoidReturningFunctions: true },
      ],
      'max-lines': ['error', { max: 400, skipBlankLines: true, skipComments: true }],
      'max-len': [
        'error',
        {
          code: 100,
          ignoreStrings: true,
          ignoreTemplateLiterals: true,
          ignoreRegExpLiterals: true,
          ignoreUrls: true,
          ignorePattern: 'eslint-disable',
        },
      ],
      eqeqeq: 'error',
    },
  },
  // Tables of cases make tests longer.
  {
    files: ['test/**/*.ts'],
    rules: { 'max-lines': ['error', { max: 440, skipBlankLines: true, skipComments: true }] },
  },
  { files: ['src/**/*.ts'], rules: banned([trie]) },
  {
    files: ['src/**/*.ts'],
    ignores: ['src/browser/**'],
    rules: { 'no-restricted-syntax': ['error', tables] },
  },
  {
    files: ['src/exchange/violations/**/*.ts'],
    rules: { 'no-restricted-syntax': ['error', tables, conversions] },
  },
  ...Object.keys(rooms).map((room) => ({
    files: [`src/${room}/**/*.ts`],
    rules: banned([...bans(room), trie]),
  })),
  { files: MAY_USE_TRIE, rules: banned(bans('core')) },
  {
    files: ['src/core/**/*.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...[
          'process',
          'console',
          'fetch',
          'performance',
          'setTimeout',
          'setInterval',
          'setImmediate',
          'Buffer',
          'require',
        ],
      ],
      'no-restricted-syntax': ['error', tables, ...noClock],
    },
  },
  {
    files: ['src/core/violation/**/*.ts'],
    rules: { 'no-restricted-syntax': ['error', tables, conversions, ...noClock] },
  },
);
