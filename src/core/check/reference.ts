import { KINDS } from './kinds.js';

/** The reference of all findings, as Markdown, written from the table itself. */
export function findingsReference(): string {
  const sections = KINDS.map(
    ({ kind, severity, quiet, about, remedy, example }) =>
      `## ${kind}\n\n${severity}${quiet ? ', only where asked for' : ''}. ${about}\n\n${remedy}\n\n    ${example.replace(/\n/g, '\n    ')}`,
  );
  return `# Findings

<!-- Written by "npm run generate" from src/core/check; change it there. -->

What \`zeitwort check\` reports. \`demo/broken\` shows them: \`zeitwort check --workspace demo/broken\`.

${sections.join('\n\n')}
`;
}
