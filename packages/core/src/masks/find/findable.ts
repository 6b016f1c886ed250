/** What can be found in a picture by itself. */
export const FINDABLE = ['sky', 'ground', 'water', 'subject'] as const
export type Findable = (typeof FINDABLE)[number]
