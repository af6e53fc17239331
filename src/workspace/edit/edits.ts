import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { complaint } from '../complaint.js';
import { decodeText, readingFailed } from '../files.js';
import type { WorkspaceFolder } from '../folder.js';
import { writeAll } from './journal.js';

const BOM = '\uFEFF';

interface Draft {
  /** The file's text as it was read, its byte order mark included; nothing where there was no file. */
  readonly before: string | undefined;
  now: string | undefined;
}

function readExact(file: string, named: string): string | undefined {
  if (!existsSync(file)) return undefined;
  try {
    const bytes = readFileSync(file);
    const text = decodeText(bytes);
    if (text === undefined) throw complaint('not-utf8', [], { file: named });
    return bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? BOM + text : text;
  } catch (error) {
    throw error instanceof Error && error.name === 'Complaint' ? error : readingFailed(named, error);
  }
}

/** Changes to files of a workspace, gathered first, shown or written as one then. */
export class Edits {
  private readonly drafts = new Map<string, Draft>();

  constructor(readonly workspace: WorkspaceFolder) {}

  private draft(file: string): Draft {
    let draft = this.drafts.get(file);
    if (!draft) {
      const before = readExact(path.join(this.workspace.folder, file), this.workspace.shown(file));
      this.drafts.set(file, (draft = { before, now: before }));
    }
    return draft;
  }

  /** The text of a file as it would be now, without a byte order mark; nothing where there is none. */
  text(file: string): string | undefined {
    const { now } = this.draft(file);
    return now?.startsWith(BOM) ? now.slice(1) : now;
  }

  /** Gives a file another text, or takes it away. */
  put(file: string, text: string | undefined): void {
    const draft = this.draft(file);
    draft.now = text !== undefined && draft.before?.startsWith(BOM) ? BOM + text : text;
  }

  /** Changes the text of a file. */
  change(file: string, change: (text: string) => string): void {
    this.put(file, change(this.text(file) ?? ''));
  }

  /** The files that would be written, in the order in which they were first touched. */
  changed(): string[] {
    return [...this.drafts].flatMap(([file, { before, now }]) => (before === now ? [] : [file]));
  }

  /** What would change, as a unified diff. */
  async diff(): Promise<string> {
    const { unifiedDiff } = await import('./diff.js');
    return [...this.drafts].map(([file, { before, now }]) => (before === now ? '' : unifiedDiff(file, before, now))).join('');
  }

  /**
   * Writes all changes, or none.
   * @throws {Complaint} when a file is no longer as it was read, or cannot be written
   */
  commit(): void {
    const files = this.changed();
    if (files.length === 0) return;
    const writes = files.map((file) => ({ file, text: this.drafts.get(file)?.now }));
    writeAll(this.workspace.folder, writes, () => {
      for (const file of files) {
        const named = this.workspace.shown(file);
        if (readExact(path.join(this.workspace.folder, file), named) !== this.drafts.get(file)?.before)
          throw complaint(
            'wrong-content',
            ['somebody else changed this file meanwhile; nothing was written, run the command again'],
            {
              file: named,
            },
          );
      }
    });
  }
}
