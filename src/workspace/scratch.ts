/** The folder of a workspace for what can be made anew at any time. */
export const SCRATCH = '.zeitwort';
