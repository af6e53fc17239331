// Writes the licences of all packages whose code is in the bundles beside them, as these ask for.
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/** The folder of the package that a file belongs to. */
const packageOf = (file) => /^(.*node_modules\/(?:@[^/]+\/)?[^/]+)\//.exec(file)?.[1];

export function writeLicences(root, metafiles) {
  const folders = new Set(
    metafiles.flatMap(({ inputs }) => Object.keys(inputs).map(packageOf).filter(Boolean)),
  );
  // Most of them have the same words.
  const byText = new Map();
  for (const folder of [...folders].sort()) {
    const { name, version, license } = JSON.parse(
      readFileSync(path.join(root, folder, 'package.json'), 'utf8'),
    );
    const file = readdirSync(path.join(root, folder)).find((one) =>
      /^(?:licen[cs]e|copying)(?:\.|$)/i.test(one),
    );
    const text =
      file && existsSync(path.join(root, folder, file))
        ? readFileSync(path.join(root, folder, file), 'utf8').trim()
        : '';
    byText.set(text, [
      ...(byText.get(text) ?? []),
      `${name} ${version} (${license ?? 'no licence named'})`,
    ]);
  }
  const texts = [...byText].map(([text, names]) => `## ${names.join(', ')}\n\n${text}\n`);
  writeFileSync(
    path.join(root, 'dist', 'LICENCES.md'),
    `# Packages in these bundles\n\n${texts.join('\n')}`,
  );
}
