import type { CodeChange, Difference, TextChange } from '../../core/diff/diff.js';
import { escapeHtml as esc } from '../../core/text/markup.js';
import type { Locale } from '../../core/locale/tag.js';
import { addressText } from '../../workspace/reading/address.js';

/** The names of changed things, as HTML. */
interface Names {
  readonly problem: string;
  readonly field: string;
}

const sign = (change: CodeChange['change'], inner: string): string =>
  change === 'added'
    ? `<ins>${inner}</ins>`
    : change === 'removed'
      ? `<del>${inner}</del>`
      : `<span>${inner}</span>`;

function codeLine({ form, code, change, detail }: CodeChange, { problem }: Names): string {
  const of = form === undefined ? problem : `<code>${esc(form)}</code>`;
  const status = detail === undefined ? '' : ` <code>${esc(detail)}</code>`;
  return `<li>${of} ${sign(change, `<code>${esc(code)}</code>`)}${status}</li>`;
}

/** Texts that clients read otherwise: drafts are none of theirs. */
function textLine({ what, before, after, wasDraft, isDraft }: TextChange): string {
  const old = wasDraft ? undefined : before?.text;
  const now = isDraft ? undefined : after?.text;
  if (old === now) return '';
  const gone = old === undefined ? '' : `<del>${esc(old)}</del>`;
  const come = now === undefined ? '' : `<ins>${esc(now)}</ins>`;
  return `<div class="change"><code>${esc(addressText(what))}</code>${gone}${come}</div>`;
}

/** Returns the changes for clients of one language, as HTML; empty where there are none. */
export function changesBody(found: Difference, locale: Locale, names: Names): string {
  const fields = found.fields.map(({ form, path, change, to }) => {
    const moved = to === undefined ? '' : ` → <code>${esc(to)}</code>`;
    const shown = `<code>${esc(path)}</code>`;
    const signed =
      change === 'added' || change === 'removed' ? sign(change, shown) : `<span>${shown}</span>`;
    return `<li><code>${esc(form)}</code> ${names.field} ${signed}${moved}</li>`;
  });
  const lines = [...fields, ...found.codes.map((one) => codeLine(one, names))];
  const texts = found.texts.filter((one) => one.locale === locale).map(textLine);
  return `${lines.length > 0 ? `<ul>${lines.join('')}</ul>` : ''}${texts.join('')}`;
}
