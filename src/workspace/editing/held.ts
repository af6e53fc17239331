import { rmSync } from 'node:fs';

/** The locks that the run at hand holds until it ends, by folder. */
export const held = new Map<string, string>();

/** Lets go of all locks that are held. Every run ends with it, so it asks for nothing else. */
export function releaseLocks(): void {
  for (const [folder, file] of held) {
    held.delete(folder);
    rmSync(file, { force: true });
  }
}
