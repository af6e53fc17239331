import { existsSync, readFileSync } from 'node:fs';
import { truncations } from '../../core/locale/chain.js';
import { PARENTS } from '../../core/locale/parents.js';
import type { Locale } from '../../core/locale/tag.js';
import { parsePath } from '../../core/path/path.js';
import { readReply } from '../../client.js';
import { bodyStyle } from '../../workspace/answering/answering.js';
import { installedFile } from '../../workspace/disk/installed.js';
import { judgeOf } from '../../workspace/judging/rulings.js';
import { OutOfTime } from '../../workspace/judging/watch.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { siteOf, type Site } from './site.js';
import type { SiteSource } from './source.js';
import type { SiteWords } from './words.js';

/** In the language itself, a wider one, or English. */
function wordsOf(asked: Locale): ReturnType<SiteSource['wordsOf']> {
  const fileOf = (tag: string): string => installedFile(`words/site/${tag}.json`);
  const own = [asked, ...truncations(asked, PARENTS)].find((tag) => existsSync(fileOf(tag)));
  const locale = own ?? ('en' as Locale);
  return { locale, words: JSON.parse(readFileSync(fileOf(locale), 'utf8')) as SiteWords };
}

/** The pages for clients of a workspace's API. */
export function openSite(
  workspace: Workspace,
  more: Pick<SiteSource, 'title' | 'changes'> & { readonly locales?: readonly Locale[] } = {},
): Site {
  const { config } = workspace;
  const judge = judgeOf(workspace);
  const { shape, options } = bodyStyle(workspace);
  return siteOf({
    workspace,
    locales: config.locales,
    ...more,
    wordsOf,
    broken: (form, body) => {
      try {
        const { violations } = judge.judge(form, { body, query: {}, path: {}, header: {} });
        return violations
          .filter(({ in: part = 'body' }) => part === 'body')
          .map(({ path }) => parsePath(path));
      } catch (error) {
        // What cannot be judged in time is not an example of what is right.
        if (error instanceof OutOfTime) return [[]];
        throw error;
      }
    },
    read: (status, mediaType, text) =>
      readReply(
        { status, mediaType, text },
        {
          prefix: options.prefix,
          ...('template' in shape && shape.template !== undefined ? { shape: shape.template } : {}),
        },
      ),
  });
}
