import { Ajv, type ErrorObject, type Options } from 'ajv';
import { Ajv2019 } from 'ajv/dist/2019.js';
import { Ajv2020 } from 'ajv/dist/2020.js';
import type { LooseObject } from '../../core/reading.js';
import type { SchemaVersion } from './bundle.js';
import { FORMATS, hasFormat, NUMBER_FORMATS } from './formats.js';
import { judgedKeywords, type Around } from './judged.js';

/** Whether a text matches a regular expression; undefined where that took too long. */
export type Matcher = (regex: string, text: string) => boolean | undefined;

const CLASSES: Record<SchemaVersion, new (options: Options) => Ajv> = {
  'draft-07': Ajv,
  '2019-09': Ajv2019,
  '2020-12': Ajv2020,
};

/** A function as Ajv calls it for a keyword that reports its own errors. */
interface Check {
  (value: unknown, at?: { instancePath: string }): boolean;
  errors?: Partial<ErrorObject>[];
}

/**
 * Ajv for what a schema says of one value. What asks for other schemas or goes through members is
 * judged by `judgedKeywords`: generated code runs each as often as anything leads there, keeps
 * every error of a list of any length, and says of a choice only that none of it fits.
 */
export function newAjv(draft: SchemaVersion, around: Around): Ajv {
  const regExp = Object.assign(
    (source: string) => ({
      test: (text: string) => around.matches(source, text) ?? false,
      toString: () => JSON.stringify(source),
    }),
    { code: 'new RegExp' },
  );
  const ajv = new CLASSES[draft]({
    allErrors: true,
    verbose: true,
    strict: false,
    logger: false,
    validateSchema: false,
    meta: false,
    addUsedSchema: false,
    // What prototypes have is not a member of what was sent.
    ownProperties: true,
    // What is removed as needless takes as long to find as the rest to write, and costs nothing
    // when it runs.
    code: {
      optimize: false,
      regExp: regExp as unknown as NonNullable<Options['code']>['regExp'] & object,
    },
  });
  for (const name of FORMATS)
    ajv.addFormat(name, { type: 'string', validate: (text: string) => hasFormat(name, text) });
  for (const [name, format] of NUMBER_FORMATS) ajv.addFormat(name, format);
  for (const [keyword, judged] of judgedKeywords(around)) {
    const known = ajv.getKeyword(keyword);
    // A draft may not have it.
    if (typeof known !== 'object') continue;
    const { type, schemaType } = known;
    ajv.removeKeyword(keyword);
    ajv.addKeyword({
      keyword,
      type,
      schemaType,
      errors: true,
      compile: (wanted: unknown, parentSchema: LooseObject) => {
        const judge = judged(wanted, parentSchema);
        const check: Check = (value, at) => {
          const faults = judge(value, at?.instancePath ?? '');
          if (faults.length > 0)
            check.errors = faults.map((params) => ({ keyword, params, parentSchema }));
          return faults.length === 0;
        };
        return check;
      },
    });
  }
  return ajv;
}
