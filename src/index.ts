export { compileMessage, type Arguments, type CompileOptions, type Format } from './core/message/compile.js';
export { parseMessage } from './core/message/parse.js';
export { printMessage } from './core/message/print.js';
export { MessageSyntaxError } from './core/message/syntax-error.js';
export type { Case, Message, MessageNode } from './core/message/tree.js';
export { LocaleError } from './core/locale/tag.js';
export type { Violation } from './core/violation/violation.js';
export { openWorkspace, type Rendered, type Renderer, type RenderOptions, type Report } from './library.js';
export { Complaint } from './workspace/complaint.js';
