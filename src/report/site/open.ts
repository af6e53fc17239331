import { SHAPES } from '../../core/body/shapes/shapes.js';
import type { Locale } from '../../core/locale/tag.js';
import { parsePath } from '../../core/path/path.js';
import { readReply } from '../../client.js';
import { bodyStyle } from '../../workspace/answering/answering.js';
import { installedWords } from '../../workspace/disk/installed.js';
import { judgeOf } from '../../workspace/judging/rulings.js';
import { OutOfTime } from '../../workspace/judging/watch.js';
import type { Workspace } from '../../workspace/reading/workspace.js';
import { siteOf, type Site } from './site.js';
import type { SiteSource } from './source.js';
import type { SiteWords } from './words.js';

const wordsOf: SiteSource['wordsOf'] = (asked) => {
  const { locale, words } = installedWords(asked, 'site');
  return { locale, words: words as SiteWords };
};

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
          ...(!SHAPES.has(shape.name) ? { shape: shape.template } : {}),
        },
      ),
  });
}
