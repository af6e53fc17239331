/** The plural categories of CLDR, in the order in which it names them. */
export const PLURAL_CATEGORIES: readonly string[] = ['zero', 'one', 'two', 'few', 'many', 'other'];
