export const n = (value: number, digits: number): string => value.toFixed(digits);

/** Letters by name, the first twelve. */
export const list = (letters: readonly string[]): string =>
  `${letters
    .slice(0, 12)
    .map((l) => `"${l}"`)
    .join(', ')}${letters.length > 12 ? ` and ${letters.length - 12} more` : ''}`;
