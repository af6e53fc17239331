// The package has no types of its own.
declare module 'bidi-js' {
  interface Levels {
    readonly levels: Uint8Array;
  }
  interface Bidi {
    getEmbeddingLevels(text: string, base?: 'ltr' | 'rtl'): Levels;
    getReorderedString(text: string, levels: Levels): string;
  }
  export default function bidiFactory(): Bidi;
}
