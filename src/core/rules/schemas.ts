import { UNNAMED } from './unnamed.js';
import type { RuleDefinition } from './definition.js';

const schemaRule = (id: string, about: string): RuleDefinition => ({
  id,
  family: 'schema',
  about,
  appliesTo: 'any',
  parameters: [{ name: 'schema', type: 'value', about: 'a JSON Schema; not for sheets' }],
  arguments: [],
});

export const SCHEMAS: readonly RuleDefinition[] = [
  schemaRule('anyOf', 'must fit one schema at least'),
  schemaRule('oneOf', 'must fit exactly one schema'),
  schemaRule('not', 'must not fit a schema'),
  schemaRule('false', 'must not be there: the schema is false'),
  {
    ...schemaRule(UNNAMED, 'must be right, whatever a validator found that it gave no name'),
    parameters: [],
  },
];
