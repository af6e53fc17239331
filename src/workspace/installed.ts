import path from 'node:path';
import { fileURLToPath } from 'node:url';

// All bundled parts lie side by side in dist/, so whichever of them this ends up in, its folder is the same.
const dist = path.dirname(fileURLToPath(import.meta.url));

/** The file of a starter catalog that ships with the program. */
export function starterFile(locale: string): string {
  return path.join(dist, 'starter', `${locale}.json`);
}

/** The file of the program, or of the library, that runs. */
export const programFile = (): string => fileURLToPath(import.meta.url);

/** The folder of the workspaces that ship with the program. */
export const demoFolder = path.join(path.dirname(dist), 'demo');

/** A script for browsers that ships with the program. */
export const browserFile = (name: string): string => path.join(dist, name);
