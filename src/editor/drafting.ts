import { rowsOf, type Row } from '../core/check/subject/context.js';
import type { Finding } from '../core/finding.js';
import type { Locale } from '../core/locale/tag.js';
import type { Address } from '../core/texts/purpose.js';
import { Purposes } from '../core/texts/purpose.js';
import { parsePattern } from '../core/path/path.js';
import { titleOf } from '../core/texts/titles.js';
import { Edits } from '../workspace/editing/edits.js';
import { writeDrafts, type Draft as DraftedText } from '../workspace/editing/fill.js';
import { labelFromName } from '../workspace/editing/labels.js';
import { TextEditor } from '../workspace/editing/texts.js';
import type { Workspace } from '../workspace/reading/workspace.js';

const FROM_STARTER = 'the starter';

/** Returns the starter's text for a key in a language. */
function shipped(workspace: Workspace, locale: Locale, { kind, key }: Address): string | undefined {
  const starter = workspace.catalogFiles.shipped(locale, new Purposes());
  return starter?.texts.find(({ purpose }) => purpose.kind === kind && purpose.key === key)?.text;
}

function rowOf({ form, path, rule }: Finding, workspace: Workspace): Row | undefined {
  const found = form === undefined ? undefined : workspace.forms.get(form)?.form;
  return (
    found &&
    rowsOf([found]).find(
      ({ field, code, use }) => field.path === path && (code === rule || use.rule === rule),
    )
  );
}

/**
 * Drafts the text that a finding reports as missing: from the original, else from the starter;
 * nothing where neither exists.
 */
export function draftFor(finding: Finding, workspace: Workspace): DraftedText | undefined {
  const { kind, locale, path, form } = finding;
  if (locale === undefined) return undefined;
  const { original } = workspace.config;
  const { table } = workspace;
  const fromOriginal = (address: Address): DraftedText | undefined => {
    const entry =
      locale === original ? undefined : (table.at(original, address) ?? titleOf(table, address));
    return entry && { address, text: entry.text, from: original };
  };
  const fromStarter = (address: Address, key = address.key): DraftedText | undefined => {
    const text = shipped(workspace, locale, { ...address, key });
    return text === undefined ? undefined : { address, text, from: FROM_STARTER };
  };
  switch (kind) {
    case 'missing-message':
    case 'behind-original':
    case 'only-starter':
    case 'only-fallback': {
      const row = rowOf(finding, workspace);
      if (!row) return undefined;
      const ladder = workspace.allTexts.messageLadder({
        form: row.form.id,
        path: row.field.pattern,
        keys: row.keys,
      });
      const written = ladder.find(
        (purpose) => purpose.layer === 'written' && table.cell(original, purpose),
      );
      const [key = row.code] = row.keys;
      const general: Address = { kind: 'message', key };
      return (
        (written &&
          fromOriginal({
            kind: 'message',
            form: written.form,
            path: written.path,
            key: written.key,
          })) ??
        fromStarter(general) ??
        fromStarter(general, 'unnamed')
      );
    }
    case 'missing-label': {
      const scopes = [...new Set([undefined, form])];
      const known = scopes.flatMap(
        (of) => fromOriginal({ kind: 'label', form: of, path, key: '' }) ?? [],
      );
      const address: Address = { kind: 'label', path, key: '' };
      return (
        known[0] ?? {
          address,
          text: labelFromName(parsePattern(path ?? ''), locale),
          from: 'its name',
        }
      );
    }
    case 'missing-choice': {
      const value = /^"(.*?)" of /.exec(finding.message)?.[1];
      if (value === undefined) return undefined;
      const address = (of: string | undefined): Address => ({
        kind: 'choice',
        form: of,
        path,
        key: value,
      });
      return (
        fromOriginal(address(undefined)) ??
        fromOriginal(address(form)) ?? {
          address: address(undefined),
          text: value,
          from: 'its name',
        }
      );
    }
    case 'missing-problem': {
      const [, id = '', part = ''] =
        /^The problem "(.*?)" has no (title|detail) /.exec(finding.message) ?? [];
      const address: Address = { kind: 'problem', key: `${id} ${part}` };
      return (
        fromOriginal(address) ??
        fromStarter(address) ?? { address, text: id.replaceAll('-', ' '), from: 'its name' }
      );
    }
    default:
      return undefined;
  }
}

/**
 * Writes drafts of all texts that findings report as missing; several findings may report one text.
 */
export function draftAll(findings: readonly Finding[], workspace: Workspace): Edits {
  const edits = new Edits(workspace);
  const editor = new TextEditor(workspace, edits);
  const seen = new Set<string>();
  for (const finding of findings) {
    const draft = draftFor(finding, workspace);
    const { locale } = finding;
    const id = JSON.stringify([locale, draft?.address]);
    if (!draft || locale === undefined || seen.has(id)) continue;
    seen.add(id);
    writeDrafts(workspace, editor, locale, [draft]);
  }
  return edits;
}
