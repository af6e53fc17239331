// npm run lint: no file or folder of src/ may import another that leads back to it, types included:
// whoever reads the one would have to read both. Prints every circle and fails where there is one.
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));

/** What each file imports, by names in the project. */
function imports() {
  const files = readdirSync(path.join(root, 'src'), { recursive: true }).flatMap((name) =>
    name.endsWith('.ts') ? [`src/${name.split(path.sep).join('/')}`] : [],
  );
  return new Map(
    files.map((file) => {
      const text = readFileSync(path.join(root, file), 'utf8');
      const named = [...text.matchAll(/(?:from|import)\s*\(?\s*'(\.[^']+)\.js'/g)].map(([, to]) =>
        path.posix.join(path.posix.dirname(file), `${to}.ts`),
      );
      return [file, named];
    }),
  );
}

/** The groups of files that lead to each other (Tarjan's algorithm). */
function circles(graph) {
  const [index, low, stack, found] = [new Map(), new Map(), [], []];
  const visit = (file) => {
    index.set(file, index.size);
    low.set(file, index.get(file));
    stack.push(file);
    for (const to of graph.get(file) ?? []) {
      if (!graph.has(to)) continue;
      if (!index.has(to)) visit(to);
      if (stack.includes(to)) low.set(file, Math.min(low.get(file), low.get(to)));
    }
    if (low.get(file) !== index.get(file)) return;
    const group = stack.splice(stack.indexOf(file));
    if (group.length > 1 || [...graph.get(file)].includes(file)) found.push(group);
  };
  for (const file of graph.keys()) if (!index.has(file)) visit(file);
  return found;
}

/** The same between folders; what stands in src/ itself puts the rooms together. */
function folders(files) {
  const graph = new Map();
  for (const [file, named] of files) {
    const from = path.posix.dirname(file);
    if (from === 'src') continue;
    const to = graph.get(from) ?? new Set();
    graph.set(from, to);
    for (const one of named)
      if (!['src', from].includes(path.posix.dirname(one))) to.add(path.posix.dirname(one));
  }
  return graph;
}

const files = imports();
const found = [...circles(files), ...circles(folders(files))];
for (const group of found)
  console.error(`These import each other in a circle: ${group.join(', ')}`);
if (found.length > 0) process.exitCode = 1;
