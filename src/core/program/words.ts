/** Significant digits of a feed word: block times then hold to 1e-6. */
const FEED_DIGITS = 7;

/** A number with a decimal point, so that no controller takes it for a count of least increments. */
export function formatWord(value: number, digits: number): string {
  let text = value.toFixed(digits);
  if (text.includes('.')) text = text.replace(/0+$/, '');
  if (Number(text) === 0) text = '0.';
  return text.includes('.') ? text : `${text}.`;
}

export const formatFeed = (value: number): string => {
  const digits = Math.min(12, Math.max(0, FEED_DIGITS - 1 - Math.floor(Math.log10(value))));
  return formatWord(value, digits);
};

/** A comment: no brackets and no control characters, and short for narrow displays. */
export const toComment = (text: string): string =>
  `(${text
    .normalize('NFKD')
    .replace(/[^\x20-\x7e]/g, '')
    .replace(/[()]/g, '')
    .slice(0, 100)})`;
