// Runs one module in a process of its own and reports its schemas. Bundled by itself; nothing else
// imports it.
import { pathToFileURL } from 'node:url';
import { isObject, type LooseObject } from '../../core/reading.js';
import { withZodRules } from './zod-rules.js';
import type { Exported, ModuleMessage } from './module-message.js';

interface StandardJsonSchema {
  readonly vendor?: unknown;
  readonly jsonSchema: { readonly input: (options: object) => unknown };
}

/** Returns the Standard JSON Schema of a value, which can be a function too. */
function standardOf(value: unknown): StandardJsonSchema | 'plain' | undefined {
  if (
    (typeof value !== 'object' && typeof value !== 'function') ||
    value === null ||
    !('~standard' in value)
  )
    return undefined;
  const standard = value['~standard'];
  if (!isObject(standard)) return undefined;
  const { jsonSchema } = standard;
  return isObject(jsonSchema) && typeof jsonSchema.input === 'function'
    ? (standard as unknown as StandardJsonSchema)
    : 'plain';
}

const firstLine = (error: unknown): string =>
  (error instanceof Error ? error.message || error.name : String(error)).split('\n', 1)[0] ?? '';

function read(name: string, value: unknown): Exported | undefined {
  const standard = standardOf(value);
  if (standard === undefined) return undefined;
  if (standard === 'plain')
    return { name, trouble: 'its library has no Standard JSON Schema; use a version that has it' };
  try {
    const libraryOptions = standard.vendor === 'zod' ? withZodRules() : undefined;
    const options = { target: 'draft-2020-12', ...(libraryOptions ? { libraryOptions } : {}) };
    const schema = standard.jsonSchema.input(options);
    // What is written is JSON; a schema that refers to itself as an object would be none.
    return { name, schema: JSON.parse(JSON.stringify(schema)) as LooseObject };
  } catch (error) {
    return { name, trouble: firstLine(error) };
  }
}

/** The exports by name; a module in CommonJS has its own inside the default one. */
function exportsOf(namespace: LooseObject): [string, unknown][] {
  const { default: whole, ...named } = namespace;
  const members = isObject(whole) && standardOf(whole) === undefined ? Object.entries(whole) : [];
  const all = new Map<string, unknown>([
    ...members,
    ...Object.entries(named),
    ...(whole === undefined ? [] : [['default', whole] as const]),
  ]);
  all.delete('module.exports');
  return [...all].sort(([one], [other]) => (one < other ? -1 : 1));
}

async function describe(file: string): Promise<ModuleMessage> {
  try {
    const namespace = (await import(pathToFileURL(file).href)) as LooseObject;
    return { exports: exportsOf(namespace).flatMap(([name, value]) => read(name, value) ?? []) };
  } catch (error) {
    const code = error instanceof Error && 'code' in error ? String(error.code) : undefined;
    return {
      failed: {
        name: error instanceof Error ? error.name : 'Error',
        code,
        message: firstLine(error),
      },
    };
  }
}

process.once('message', (file) => {
  void describe(String(file)).then((answer) => {
    // A module may have left timers or sockets behind.
    process.send?.(answer, () => process.exit(0));
  });
});
