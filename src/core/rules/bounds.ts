import {
  argument,
  boundArguments,
  holds,
  type ArgumentDefinition,
  type Parameter,
  type RuleDefinition,
  type Test,
} from './definition.js';

const parameter = (name: string, about: string): Parameter => ({ name, type: 'number', about });
const min = argument('min', 'number', 1, 'the bound below');
const max = argument('max', 'number', 25, 'the bound above');

/**
 * Compares with the bound declared, or with what the other field holds; one that is not a number
 * bounds nothing.
 */
const against =
  (name: 'min' | 'max', fine: (value: number, bound: number) => boolean): Test =>
  (value, params, { other }) => {
    const limit = params[name] ?? other();
    return typeof limit !== 'number' || holds(fine(Number(value), limit));
  };

/**
 * Binary fractions miss decimal steps by a hair (0.3 / 0.1), so a quotient counts as whole when it
 * nearly is.
 */
const NEARLY_WHOLE = 1e-9;

export const isMultiple = (value: number, step: number): boolean => {
  const quotient = value / step;
  // A quotient beyond all numbers is useless; there the remainder is exact.
  return Number.isFinite(quotient)
    ? Math.abs(quotient - Math.round(quotient)) <= NEARLY_WHOLE
    : value % step === 0;
};

function bound(
  id: string,
  about: string,
  parameters: Parameter[],
  names: readonly ArgumentDefinition[],
  test: Test,
): RuleDefinition {
  return {
    id,
    family: 'bound',
    about,
    appliesTo: 'number',
    parameters,
    arguments: [...names, ...boundArguments],
    bySibling: true,
    test,
  };
}

export const BOUNDS: readonly RuleDefinition[] = [
  bound(
    'minimum',
    'must be at least a number',
    [parameter('min', 'the least number')],
    [min],
    against('min', (value, limit) => value >= limit),
  ),
  bound(
    'maximum',
    'must be at most a number',
    [parameter('max', 'the greatest number')],
    [max],
    against('max', (value, limit) => value <= limit),
  ),
  bound(
    'exclusiveMinimum',
    'must be more than a number',
    [parameter('min', 'the number below all')],
    [min],
    against('min', (value, limit) => value > limit),
  ),
  bound(
    'exclusiveMaximum',
    'must be less than a number',
    [parameter('max', 'the number above all')],
    [max],
    against('max', (value, limit) => value < limit),
  ),
  {
    id: 'range',
    family: 'bound',
    about: 'must lie between two numbers, both included',
    appliesTo: 'number',
    parameters: [parameter('min', 'the least number'), parameter('max', 'the greatest number')],
    arguments: [min, max],
    test: (value, params) =>
      holds(Number(value) >= Number(params.min) && Number(value) <= Number(params.max)),
  },
  {
    id: 'multipleOf',
    family: 'bound',
    about: 'must be a multiple of a step',
    appliesTo: 'number',
    parameters: [parameter('step', 'the step, more than 0')],
    arguments: [argument('step', 'number', 0.5, 'the step')],
    test: (value, { step }) => holds(isMultiple(Number(value), Number(step))),
  },
];
