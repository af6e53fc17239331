import type { LooseObject } from '../../core/reading.js';

/** One export of a module that is a schema: what it is as JSON Schema, or why it cannot be that. */
export type Exported =
  | { readonly name: string; readonly schema: LooseObject }
  | { readonly name: string; readonly trouble: string };

/** A message from a module's process. */
export type ModuleMessage =
  | { readonly exports: readonly Exported[] }
  | {
      readonly failed: {
        readonly name: string;
        readonly code: string | undefined;
        readonly message: string;
      };
    };
