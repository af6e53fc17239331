export { compileMessage, type Arguments, type CompileOptions, type Format } from './core/message/compile.js';
export { parseMessage } from './core/message/parse.js';
export { printMessage } from './core/message/print.js';
export { MessageSyntaxError } from './core/message/syntax-error.js';
export type { Case, Message, MessageNode } from './core/message/tree.js';
export { LocaleError } from './core/locale/tag.js';
