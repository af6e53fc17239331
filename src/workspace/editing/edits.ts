import { existsSync } from 'node:fs';
import path from 'node:path';
import { complaint } from '../disk/complaint.js';
import { decodeText } from '../../exchange/decode.js';
import { readBytes } from '../disk/files.js';
import type { WorkspaceFolder } from '../reading/folder.js';
import { writeAll } from './write-all.js';

const BOM = '\uFEFF';

interface Edited {
  /**
   * The file's text as it was read, its byte order mark included; nothing where there was no file.
   */
  readonly before: string | undefined;
  now: string | undefined;
  /** Edits that are applied when somebody asks for the text. */
  waiting: ((text: string) => string)[];
}

function readExact(file: string, named: string): string | undefined {
  if (!existsSync(file)) return undefined;
  const bytes = readBytes(file, named, 'plain');
  const text = decodeText(bytes);
  if (text === undefined) throw complaint('not-utf8', [], { file: named });
  return bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? BOM + text : text;
}

/** Changes to files of a workspace, gathered first, shown or written as one then. */
export class Edits {
  private readonly drafts = new Map<string, Edited>();

  constructor(readonly workspace: WorkspaceFolder) {}

  private draft(file: string): Edited {
    let draft = this.drafts.get(file);
    if (!draft) {
      const whole = path.join(this.workspace.folder, file);
      const before =
        this.workspace.unsaved.get(whole) ?? readExact(whole, this.workspace.shown(file));
      this.drafts.set(file, (draft = { before, now: before, waiting: [] }));
    }
    return draft;
  }

  /**
   * The text of a file as it would be now, without a byte order mark; nothing where there is none.
   */
  text(file: string): string | undefined {
    const { now } = this.settled(this.draft(file));
    return now?.startsWith(BOM) ? now.slice(1) : now;
  }

  private settled(draft: Edited): Edited {
    const { waiting } = draft;
    if (waiting.length === 0) return draft;
    draft.waiting = [];
    const before = draft.now?.startsWith(BOM) ? draft.now.slice(1) : (draft.now ?? '');
    const text = waiting.reduce((now, change) => change(now), before);
    draft.now = draft.before?.startsWith(BOM) ? BOM + text : text;
    return draft;
  }

  /**
   * Changes the text of a file when somebody next asks for it: what comes in parts is done at once.
   */
  defer(file: string, change: (text: string) => string): void {
    this.draft(file).waiting.push(change);
  }

  /** Gives a file another text, or takes it away. */
  put(file: string, text: string | undefined): void {
    const draft = this.settled(this.draft(file));
    draft.now = text !== undefined && draft.before?.startsWith(BOM) ? BOM + text : text;
  }

  /** Changes the text of a file. */
  change(file: string, change: (text: string) => string): void {
    this.put(file, change(this.text(file) ?? ''));
  }

  /**
   * Yields the planned changes: each file's text before and after; nothing where there is no file.
   */
  *changes(): Generator<{
    readonly file: string;
    readonly before: string | undefined;
    readonly now: string | undefined;
  }> {
    for (const [file, draft] of this.drafts) {
      const { before, now } = this.settled(draft);
      if (before !== now) yield { file, before, now };
    }
  }

  /** The files that would be written, in the order in which they were first touched. */
  changed(): string[] {
    return Array.from(this.changes(), ({ file }) => file);
  }

  /** Returns the changes as a unified diff. */
  async diff(): Promise<string> {
    const { unifiedDiff } = await import('./diff.js');
    for (const draft of this.drafts.values()) this.settled(draft);
    return [...this.drafts]
      .map(([file, { before, now }]) => (before === now ? '' : unifiedDiff(file, before, now)))
      .join('');
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
        if (
          readExact(path.join(this.workspace.folder, file), named) !== this.drafts.get(file)?.before
        )
          throw complaint(
            'wrong-content',
            [
              'somebody else changed this file meanwhile; nothing was written, run the command again',
            ],
            {
              file: named,
            },
          );
      }
    });
  }
}
