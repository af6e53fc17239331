import { fromNotation, fromPointer, type InputPath } from './client-paths.js';
// Reads what broke out of bodies, by the layout of each shape.

export type Loose = unknown;
export type Bag = Readonly<Record<string, unknown>>;

export const isBag = (value: Loose): value is Bag =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
export const textOf = (value: Loose): string => (typeof value === 'string' ? value : '');
export interface Found {
  readonly parameter?: string;
  readonly path: InputPath;
  readonly text: string;
  readonly inline?: string;
  readonly members?: readonly InputPath[];
  readonly code: string;
}

/** Where the members stand of which some have to be given. */
export function membersOf(
  value: Loose,
  read: (text: string) => InputPath,
): { members?: readonly InputPath[] } {
  return Array.isArray(value) ? { members: stringsOf(value).map(read) } : {};
}

export const inlineOf = (value: Loose): { inline?: string } =>
  typeof value === 'string' ? { inline: value } : {};

export const stringsOf = (value: Loose): string[] =>
  Array.isArray(value)
    ? value.filter((one): one is string => typeof one === 'string')
    : typeof value === 'string'
      ? [value]
      : [];

export function fromProblem(errors: readonly Loose[]): Found[] {
  return errors.filter(isBag).map((error) => {
    const { pointer, parameter, header, detail, inline, members, code } = error;
    const name =
      typeof parameter === 'string' ? parameter : typeof header === 'string' ? header : undefined;
    return {
      ...(name === undefined ? {} : { parameter: name }),
      path: fromPointer(textOf(pointer)),
      text: textOf(detail),
      ...inlineOf(inline),
      ...membersOf(members, fromPointer),
      code: textOf(code),
    };
  });
}

export function fromJsonApi(errors: readonly Loose[], prefix: string): Found[] {
  return errors.filter(isBag).map(({ source, detail, title, code, meta }) => {
    const { pointer, parameter, header } = isBag(source) ? source : {};
    // The pointer of what is missing leads to what is around it.
    const { missing, inline, members } = isBag(meta) ? meta : {};
    const inside = (text: string): InputPath =>
      fromPointer(text.startsWith(prefix) ? text.slice(prefix.length) : text);
    const name =
      typeof parameter === 'string' ? parameter : typeof header === 'string' ? header : undefined;
    const text = textOf(missing ?? pointer);
    return {
      ...(name === undefined ? {} : { parameter: name }),
      path: inside(text),
      text: textOf(detail) || textOf(title),
      ...inlineOf(inline),
      ...membersOf(members, inside),
      code: textOf(code),
    };
  });
}

export function fromGraphql(errors: readonly Loose[]): Found[] {
  return errors.filter(isBag).map(({ message, extensions }) => {
    const { input, code, inline, members, in: place } = isBag(extensions) ? extensions : {};
    const pathOf = (value: Loose): InputPath =>
      Array.isArray(value)
        ? value.filter(
            (part): part is string | number => typeof part === 'string' || typeof part === 'number',
          )
        : [];
    const path = pathOf(input);
    return {
      ...(place === undefined ? {} : { parameter: path.join('.') }),
      path,
      text: textOf(message),
      ...inlineOf(inline),
      ...(Array.isArray(members) ? { members: members.map(pathOf) } : {}),
      code: textOf(code),
    };
  });
}

export function fromFields(fields: Loose, inlines: Loose, isParameter: boolean): Found[] {
  const beside = isBag(inlines) ? inlines : {};
  return Object.entries(isBag(fields) ? fields : {}).flatMap(([name, texts]) =>
    stringsOf(texts).map((text, at) => ({
      ...(isParameter ? { parameter: name } : {}),
      path: fromNotation(name),
      text,
      code: '',
      ...inlineOf(stringsOf(beside[name])[at]),
    })),
  );
}

export function fromList(records: readonly Loose[]): Found[] {
  return records.filter(isBag).map(({ field, in: place, text, inline, members, code }) => ({
    ...(typeof place === 'string' ? { parameter: textOf(field) } : {}),
    path: fromNotation(textOf(field)),
    text: textOf(text),
    ...inlineOf(inline),
    ...membersOf(members, fromNotation),
    code: textOf(code),
  }));
}
