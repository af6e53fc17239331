import type { Family, Parameter, RuleDefinition } from './definition.js';
import { EXTERNAL, FIELD_ARGUMENTS, VOCABULARY } from './vocabulary.js';

const FAMILIES: Readonly<Record<Family, string>> = {
  presence: 'Presence',
  kind: 'Type and format',
  size: 'Size',
  bound: 'Bounds of numbers',
  text: 'Texts',
  choice: 'Choices and entries',
  relation: 'Other fields, dates, tables',
  schema: 'Whole schemas',
};

const cell = (text: string): string => text.replaceAll('|', '\\|');

function parameterText({ name, type, about, unit, optional, on }: Parameter): string {
  const kind = unit === undefined ? type : `${type}, ${unit}`;
  return `\`${name}\`${optional ? ' (may be left out)' : ''}: ${on === false ? 'false' : about} (${kind})`;
}

function argumentText({ name, kind, sample }: RuleDefinition['arguments'][number]): string {
  const shown = Array.isArray(sample) ? sample.join(', ') : String(sample);
  return `\`${name}\` (${kind}, such as ${shown})`;
}

function ruleRow({
  id,
  about,
  appliesTo,
  parameters,
  arguments: args,
  bySibling,
  test,
}: RuleDefinition): string {
  const parts = [
    ...parameters.map(parameterText),
    ...(bySibling && parameters[0]?.type !== 'field' ? ['or `field`: another field'] : []),
  ];
  return `| \`${id}\` | ${about}${test ? '' : ' (in schemas only)'} | ${appliesTo} | ${cell(parts.join('; '))} | ${cell(args.map(argumentText).join('; ') || '–')} |`;
}

/** The reference of all rules, as Markdown, written from the vocabulary itself. */
export function rulesReference(): string {
  const sections = Object.entries(FAMILIES).map(([family, title]) => {
    const rules = [...VOCABULARY.values()].filter((rule) => rule.family === family);
    return [
      `## ${title}`,
      '',
      '| rule | the value | looks at | parameters | what messages can say |',
      '| --- | --- | --- | --- | --- |',
      ...rules.map(ruleRow),
    ].join('\n');
  });
  const common = FIELD_ARGUMENTS.map(
    ({ name, kind, about }) => `| \`${name}\` | ${kind} | ${cell(about)} |`,
  );
  return `# Rules

<!-- Written by "npm run generate" from the vocabulary in src/core/rules; change it there. -->

A rule in a sheet is its first parameter (\`maxLength: 120\`), an object of parameters, or a list of such objects. Every use may have \`as\` (a message key and code of its own) and \`onlyIf\` (conditions). Rules that only the backend checks stand under \`${EXTERNAL}\`.

${sections.join('\n\n')}

## What every message about a field can say

| argument | kind | says |
| --- | --- | --- |
${common.join('\n')}

Besides these: \`label_<inflection>\` and \`counterpart_<inflection>\` for inflections, \`<array>_number\` and \`<map>_key\` for each array and map on the path, and the parameters of external rules.
`;
}
