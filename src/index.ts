export {
  formatterOf,
  type Arguments,
  type CompileOptions,
  type Format,
} from './core/message/compile.js';
export { readMessage } from './core/message/parse.js';
export { printMessage } from './core/message/print.js';
export { MessageError } from './core/message/syntax-error.js';
export type { Case, Message, MessageNode } from './core/message/tree.js';
export { LocaleError } from './core/locale/tag.js';
export { PathSyntaxError } from './core/path/path.js';
export type { Pack } from './core/pack/pack.js';
export type { Request } from './core/rules/evaluate.js';
export type { Violation } from './core/rules/violation.js';
export type { Warning } from './core/violation/warning.js';
export type { ReaderDeclaration } from './exchange/violations/declared.js';
export { ErrorListError } from './exchange/violations/foreign.js';
export {
  fromJsonSchemaOutput,
  fromSchemaErrors,
  fromZod,
  openPack,
  openWorkspace,
  errorListReader,
  type ForeignOptions,
  type FormRules,
  type OpenOptions,
  type ProblemOptions,
  type ReadOptions,
  type Rendered,
  type Renderer,
  type RenderOptions,
  type BrokenRules,
  type WorkspaceRenderer,
} from './library.js';
export {
  violation,
  type DeclaredRule,
  type FieldPath,
  type FormId,
  type ProblemId,
  type ProblemParams,
  type RuleId,
} from './typed.js';
export { Complaint } from './workspace/disk/complaint.js';
