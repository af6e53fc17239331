// Takes away the declarations that no public one leads to.
import { readdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';

/** @param entries the public ones, by their names in the folder without endings */
export function prune(folder, entries) {
  const needed = new Set();
  const visit = (file) => {
    if (needed.has(file)) return;
    needed.add(file);
    const text = readFileSync(path.join(folder, file), 'utf8');
    for (const [, to] of text.matchAll(/(?:from|import)\s*\(?\s*['"](\.[^'"]+)\.js['"]/g))
      visit(path.posix.join(path.posix.dirname(file), `${to}.d.ts`));
  };
  for (const entry of entries) visit(`${entry}.d.ts`);
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    const file = path
      .relative(folder, path.join(entry.parentPath, entry.name))
      .split(path.sep)
      .join('/');
    if (entry.isFile() && !needed.has(file)) rmSync(path.join(folder, file));
  }
}
