import type { Locale } from '../../core/locale/tag.js';
import type { Workspace } from '../reading/workspace.js';

/** A name as part of an address. */
const slugOf = (name: string): string =>
  name.replace(/[^\p{L}\p{N}_.-]+/gu, '-').replace(/^[-.]+|[-.]+$/g, '') || 'form';

/** The folder of a page in a language: the original's stand where problem types lead to. */
export const folderIn = (locale: Locale, original: Locale, folder: string): string =>
  locale === original ? folder : `${locale}/${folder}`;

/** The folders of pages by what they are of: forms have theirs below `forms`. */
export class PageAddresses {
  private readonly forms = new Map<string, string>();
  private readonly original: Locale;

  constructor(workspace: Pick<Workspace, 'config' | 'forms'>) {
    this.original = workspace.config.original;
    const taken = new Set<string>();
    for (const id of workspace.forms.keys()) {
      const slug = slugOf(id);
      let free = slug;
      for (let nth = 2; taken.has(free.toLowerCase()); nth++) free = `${slug}-${nth}`;
      taken.add(free.toLowerCase());
      this.forms.set(id, `forms/${free}/`);
    }
  }

  form(id: string): string {
    return this.forms.get(id) ?? '';
  }

  in(locale: Locale, folder: string): string {
    return folderIn(locale, this.original, folder);
  }
}

/**
 * The folder of a problem's page: where its type leads to, from the folder of the base on. A base
 * that ends with a fragment leads into the first page.
 */
export function problemFolder(problem: string, typeBase: string | undefined): string {
  if (typeBase === undefined) return `${problem}/`;
  const { pathname } = new URL(typeBase + problem, 'https://domain.example/');
  const base = basePath(typeBase);
  const rest = decodeURIComponent(pathname.slice(base.length));
  return rest.endsWith(problem) ? `${rest}/` : `${problem}/`;
}

/** The path of the folder that the pages stand in. */
export function basePath(typeBase: string): string {
  const { pathname } = new URL(typeBase, 'https://domain.example/');
  return pathname.slice(0, pathname.lastIndexOf('/') + 1);
}
