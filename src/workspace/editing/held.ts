/** The turns (`turn.ts`) that the run at hand keeps until it ends, by folder. */
export const held = new Map<string, { readonly end: () => void }>();

/** Gives up all turns that are kept. Every run ends with it, so it asks for nothing else. */
export function releaseTurns(): void {
  for (const [folder, turn] of held) {
    held.delete(folder);
    turn.end();
  }
}
