import { complaint } from '../../workspace/disk/complaint.js';

/** The two sides of a pair on the command line. */
export function split(pair: string, by: string, shape: string): readonly [string, string] {
  const at = pair.indexOf(by);
  if (at < 1) throw complaint('wrong-use', [`"${pair}" should be written as ${shape}`]);
  return [pair.slice(0, at).trim(), pair.slice(at + 1).trim()];
}

/** JSON where it is some, else the text itself. */
export function loose(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return text;
  }
}
