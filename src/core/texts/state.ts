/** How far a translation is: XLIFF's states, in the order of the work. */
export const TRANSLATION_STATES = ['initial', 'translated', 'reviewed', 'final'] as const;
export type TranslationState = (typeof TRANSLATION_STATES)[number];
