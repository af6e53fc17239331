import { argument, boundArguments, type ArgumentDefinition, type Parameter, type RuleDefinition } from './definition.js';

const parameter = (name: string, about: string): Parameter => ({ name, type: 'number', about });
const min = argument('min', 'number', 1, 'the bound below');
const max = argument('max', 'number', 25, 'the bound above');

function bound(id: string, about: string, parameters: Parameter[], names: readonly ArgumentDefinition[]): RuleDefinition {
  return {
    id,
    family: 'bound',
    about,
    appliesTo: 'number',
    parameters,
    arguments: [...names, ...boundArguments],
    bySibling: true,
  };
}

export const BOUNDS: readonly RuleDefinition[] = [
  bound('minimum', 'must be at least', [parameter('min', 'the least number')], [min]),
  bound('maximum', 'must be at most', [parameter('max', 'the greatest number')], [max]),
  bound('exclusiveMinimum', 'must be more than', [parameter('min', 'the number below all')], [min]),
  bound('exclusiveMaximum', 'must be less than', [parameter('max', 'the number above all')], [max]),
  {
    id: 'range',
    family: 'bound',
    about: 'must lie between two numbers, both included',
    appliesTo: 'number',
    parameters: [parameter('min', 'the least number'), parameter('max', 'the greatest number')],
    arguments: [min, max],
  },
  {
    id: 'multipleOf',
    family: 'bound',
    about: 'must be a multiple of a step',
    appliesTo: 'number',
    parameters: [parameter('step', 'the step, more than 0')],
    arguments: [argument('step', 'number', 0.5, 'the step')],
  },
];
