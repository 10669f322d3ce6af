/** What blanks are made of. */
export const MATERIALS = ['brass', 'bronze', 'steel', 'aluminium', 'slate', 'maple', 'acrylic'] as const;
export type Material = (typeof MATERIALS)[number];
