// Writes the tables of Unicode that a package brings as JSON shorter than they are: as the steps
// from one number to the next.
import { readFileSync } from 'node:fs';

/** What the shorter writing is read with; it stands in front of the package. */
const READERS = `function zwRanges(text){let at=0;return text.split(',').map((part)=>{const[step,more]=part.split('-');const min=at+parseInt(step,36);const max=min+(more?parseInt(more,36):0);at=max;return{min,max}})}
function zwSets(text){const sets={};let at=0;for(const part of text.split(',')){const set=part.split(':').map((step)=>(at+=parseInt(step,36)));at=set[0];for(const one of set)sets[one]=set}return sets}
`;

const base36 = (number) => number.toString(36);

const isRanges = (value) =>
  Array.isArray(value) &&
  value.length > 0 &&
  value.every((one) => Number.isInteger(one?.min) && Number.isInteger(one.max));

/** Lists that each name all that belongs together, by each of them. */
const isSets = (value) =>
  typeof value === 'object' &&
  !Array.isArray(value) &&
  Object.values(value).every((set) => Array.isArray(set) && set.length > 1);

function ranges(value) {
  let at = 0;
  const parts = value.map(({ min, max }) => {
    const part = `${base36(min - at)}${max > min ? `-${base36(max - min)}` : ''}`;
    at = max;
    return part;
  });
  return `zwRanges(${JSON.stringify(parts.join(','))})`;
}

function sets(value) {
  let at = 0;
  const distinct = [...new Map(Object.values(value).map((set) => [set.join(), set])).values()].sort(
    ([one], [other]) => one - other,
  );
  const parts = distinct.map((set) => {
    let last = at;
    const steps = set.map((one) => {
      const step = base36(one - last);
      last = one;
      return step;
    });
    [at] = set;
    return steps.join(':');
  });
  return `zwSets(${JSON.stringify(parts.join(','))})`;
}

/**
 * Sequences of characters that only expressions with the flag \`v\` name, which nothing here
 * analyses.
 */
const isSequences = (value) =>
  Array.isArray(value) && value.length > 20 && value.every((one) => Array.isArray(one));

/** The same table, shorter; the code as it was where it is none, or would not come out the same. */
function shorter(code, json) {
  const value = JSON.parse(json);
  if (isSequences(value)) return '[]';
  const made = isRanges(value) ? ranges(value) : isSets(value) ? sets(value) : undefined;
  if (made === undefined || made.length >= code.length) return code;
  const back = new Function(`${READERS}return ${made}`)();
  return JSON.stringify(back) === JSON.stringify(value) ? made : code;
}

/** Shortens the tables of a package's file. */
export const shortTables = (file) => ({
  name: 'short-tables',
  setup({ onLoad }) {
    onLoad({ filter: file }, ({ path }) => ({
      contents:
        READERS +
        readFileSync(path, 'utf8').replaceAll(
          /JSON\.parse\((['"])([[{][^'\\]*?[\]}])\1\)/g,
          (code, quote, json) => shorter(code, json),
        ),
      loader: 'js',
    }));
  },
});
