import { isObject, type Loose } from '../reading.js';

/** The layouts that can be recognised. */
export type KnownLayout = 'problem' | 'jsonapi' | 'graphql' | 'fields' | 'list' | 'unknown';

/** The content of an error body of any layout, as far as it can be read. */
export interface BodyReading {
  readonly layout: KnownLayout;
  /** Texts for people, each with the code that it goes with. */
  readonly texts: readonly { readonly text: string; readonly code: string | undefined }[];
  /** The problem's name, where the body has it. */
  readonly problem?: string;
  readonly status?: number;
  /** The number of violations in it; absent where it has none. */
  readonly violations?: number;
}

type BodyText = BodyReading['texts'][number];

const textsOf = (text: Loose, code?: Loose): BodyText[] =>
  typeof text === 'string' && text !== ''
    ? [{ text, code: typeof code === 'string' ? code : undefined }]
    : [];

const list = (value: Loose): readonly Loose[] => (Array.isArray(value) ? value : []);

const lastWord = (type: Loose): string | undefined =>
  typeof type === 'string' && type !== 'about:blank' ? type.split(/[/#]/).at(-1) : undefined;

/** Every text in a value that no layout is known for. */
function textsIn(value: Loose, depth = 0): BodyText[] {
  if (typeof value === 'string') return textsOf(value);
  if (depth > 32 || typeof value !== 'object' || value === null) return [];
  return Object.values(value).flatMap((member) => textsIn(member, depth + 1));
}

function named(problem: string | undefined): { problem?: string } {
  return problem === undefined || problem === '' ? {} : { problem };
}

function readErrors(errors: readonly Loose[]): BodyReading | undefined {
  const [first] = errors;
  if (!isObject(first)) return undefined;
  const objects = errors.filter(isObject);
  if ('message' in first) {
    const extensions = isObject(first.extensions) ? first.extensions : {};
    const texts = objects.flatMap(({ message, extensions: more }) => {
      const { code, detail } = isObject(more) ? more : {};
      return [...textsOf(message, code), ...textsOf(detail, code)];
    });
    const problem =
      typeof extensions.problem === 'string' ? extensions.problem : lastWord(extensions.type);
    const status = typeof extensions.status === 'number' ? { status: extensions.status } : {};
    return {
      layout: 'graphql',
      texts,
      ...named(problem),
      ...status,
      ...('input' in extensions ? { violations: objects.length } : {}),
    };
  }
  if (!('status' in first) && !('source' in first) && !('title' in first)) return undefined;
  const links = isObject(first.links) ? first.links : {};
  const isValidation = 'source' in first;
  const problem = isValidation
    ? 'invalid-fields'
    : typeof first.code === 'string'
      ? first.code
      : undefined;
  return {
    layout: 'jsonapi',
    texts: [
      ...textsOf(first.title, problem),
      ...objects.flatMap(({ detail, code }) => textsOf(detail, code)),
    ],
    ...named(lastWord(links.type) ?? problem),
    ...(typeof first.status === 'string' && /^\d{3}$/.test(first.status)
      ? { status: Number(first.status) }
      : {}),
    ...(isValidation ? { violations: objects.length } : {}),
  };
}

/** Reads an error body, in whichever of the layouts it is. */
export function readBody(value: Loose): BodyReading {
  if (Array.isArray(value)) {
    // The last record may have the number of omitted violations.
    const records = value
      .filter(isObject)
      .filter(({ more }, at) => at === 0 || typeof more !== 'number');
    if (records.length > 0 && records.every((one) => 'text' in one && 'code' in one)) {
      const isProblem = records[0]?.field === null;
      const texts = records.flatMap(({ text, code }) => textsOf(text, code));
      const problem =
        isProblem && typeof records[0]?.code === 'string' ? records[0].code : 'invalid-fields';
      return {
        layout: 'list',
        texts,
        problem,
        ...(isProblem ? {} : { violations: records.length }),
      };
    }
    return { layout: 'unknown', texts: textsIn(value) };
  }
  if (!isObject(value)) return { layout: 'unknown', texts: textsIn(value) };
  const { title, detail, status, errors, fields, parameters, type, code } = value;
  const head = { ...(typeof status === 'number' ? { status } : {}) };
  if (isObject(fields) || (isObject(parameters) && title !== undefined)) {
    const groups = [fields, parameters].filter(isObject).flatMap((group) => Object.values(group));
    const texts = groups.flatMap((one) =>
      Array.isArray(one) ? one.flatMap((text) => textsOf(text)) : textsOf(one),
    );
    const problem = typeof code === 'string' ? code : undefined;
    return {
      layout: 'fields',
      texts: [...textsOf(title, problem), ...textsOf(detail, problem), ...texts],
      ...named(problem),
      ...head,
      violations: texts.length,
    };
  }
  if (
    typeof title === 'string' &&
    typeof status === 'number' &&
    typeof code === 'string' &&
    errors === undefined &&
    type === undefined
  )
    return {
      layout: 'fields',
      texts: [...textsOf(title, code), ...textsOf(detail, code)],
      problem: code,
      ...head,
    };
  if (Array.isArray(errors) && typeof status !== 'number') {
    const read = readErrors(errors);
    if (read) return read;
  }
  if (typeof title === 'string' && typeof status === 'number') {
    const problem = lastWord(type) ?? (Array.isArray(errors) ? 'invalid-fields' : undefined);
    const inner = list(errors).filter(isObject);
    const texts = [...textsOf(title, problem), ...textsOf(detail, problem)];
    for (const one of inner) texts.push(...textsOf(one.detail, one.code));
    return {
      layout: 'problem',
      texts,
      ...named(problem),
      ...head,
      ...(Array.isArray(errors) ? { violations: inner.length } : {}),
    };
  }
  return { layout: 'unknown', texts: textsIn(value) };
}
