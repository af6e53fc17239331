import { Complaint, oneLine, type FileLocation } from '../../core/complaint.js';

export { Complaint, oneLine, type FileLocation };

/** Every reason to stop, with the sentence that is said: what is wrong and what to do. */
const REASONS = {
  'no-workspace': (from: string) =>
    `there is no zeitwort.yaml in ${from} or above it; run "zeitwort init", or name the folder with --workspace`,
  'not-found': (what: string) => `${what} does not exist; check the name`,
  'is-folder': (what: string) => `${what} is a folder; name a file in it`,
  'not-readable': (what: string, why: string) =>
    `${what} cannot be read (${why}); check its permissions`,
  'not-utf8': () => 'this file is not in UTF-8; save it in that encoding',
  empty: (wanted: string) => `this file is empty; it should hold ${wanted}`,
  'broken-json': (problem: string) => `invalid JSON: ${problem}`,
  'broken-yaml': (problem: string) => `invalid YAML: ${problem}`,
  'wrong-content': (problem: string) => problem,
  'wrong-tag': (problem: string) => problem,
  'outside-workspace': (name: string) =>
    `"${name}" is outside of the workspace; name files below zeitwort.yaml`,
  'linked-outside': (name: string) =>
    `${name} is a link that leads out of the workspace; put a copy of the file in its place`,
  'link-elsewhere': (name: string) =>
    `${name} leads to another folder through a link; name the file that is meant`,
  'no-file': (what: string) =>
    `${what} is not a regular file (a pipe or a device, perhaps); put a file in its place`,
  'too-large-file': (what: string, most: string) =>
    `${what} is larger than ${most}; no file of a workspace is`,
  'nothing-matches': (glob: string) => `no file matches "${glob}"; correct it, or add the file`,
  'too-many-files': (glob: string, most: string) =>
    `"${glob}" searches more than ${most} files; name the folder that the files are in`,
  'unknown-form': (id: string, near: string, known: string) =>
    `there is no form "${id}"${near}; the forms are ${known || 'none yet'}`,
  'unknown-path': (path: string, form: string, near: string) =>
    `the form "${form}" has no field at ${path}${near}`,
  'unknown-locale': (tag: string, known: string) =>
    `${tag} is not a locale of this workspace; its locales are ${known}`,
  'not-empty': (file: string) => `${file} exists already; choose another folder`,
  'scratch-refused': (what: string, why: string) =>
    `${what} is not used, because ${why}; remove it, and it is created again`,
  'not-writable': (what: string, why: string) =>
    `${what} cannot be written (${why}); check the folder`,
  'wrong-use': (problem: string) => problem,
} as const;

export type Reason = keyof typeof REASONS;

/** Makes a complaint out of the table. */
export function complaint<R extends Reason>(
  reason: R,
  words: Parameters<(typeof REASONS)[R]>,
  location?: FileLocation,
): Complaint {
  const sentenceOf: (...words: string[]) => string = REASONS[reason];
  return new Complaint(reason, oneLine(sentenceOf(...words)).replace(/\.$/, ''), location);
}
