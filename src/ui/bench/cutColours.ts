const COLOURS = ['#1f6f63', '#5b4a8a', '#a0622d', '#2f5f8f', '#7a7a26', '#8a3f6b'];

/** The colour of a cut on the ladder and beside its sentence. */
export const cutColour = (index: number): string => COLOURS[index % COLOURS.length]!;
