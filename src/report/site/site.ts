import { PageAddresses, problemFolder } from '../../workspace/answering/page-addresses.js';
import { complaint } from '../../workspace/disk/complaint.js';
import { SitePages } from './pages.js';
import type { SiteSource } from './source.js';

/** The pages by their files, each written when somebody asks for it. */
export type Site = ReadonlyMap<string, () => string>;

/**
 * The pages for clients of an API: for each problem and each form one in every language, an index,
 * and what changed.
 * @throws {Complaint} where two pages would stand in one file
 */
export function siteOf(source: SiteSource): Site {
  const { workspace, locales, changes } = source;
  const { statuses, body } = workspace.config;
  const addresses = new PageAddresses(source.workspace);
  const site = new Map<string, () => string>();
  for (const locale of locales) {
    let made: SitePages | undefined;
    const pages = (): SitePages => (made ??= new SitePages(source, locale));
    const add = (folder: string, what: string, write: () => string): void => {
      const file = `${addresses.in(locale, folder)}index.html`;
      if (site.has(file))
        throw complaint('wrong-use', [
          `${what} would stand at ${file}, where another page is already; give it another name`,
        ]);
      site.set(file, write);
    };
    add('', 'the index', () => pages().index());
    if (changes) add('changes/', 'the list of changes', () => pages().changes() ?? '');
    for (const index of workspace.forms.values())
      add(addresses.form(index.form.id), `the form "${index.form.id}"`, () => pages().form(index));
    for (const [id, status] of statuses)
      add(problemFolder(id, body.typeBase), `the problem "${id}"`, () =>
        pages().problem(id, status),
      );
  }
  return site;
}
