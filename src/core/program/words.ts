/** Significant digits of a feed word: block times then hold to 1e-6. */
const FEED_DIGITS = 7;

/** A number with a decimal point, so that no controller takes it for a count of least increments. */
export function formatWord(value: number, digits: number): string {
  const scale = SCALES[digits];
  const units = scale ? Math.round(Math.abs(value) * scale) : NaN;
  if (!(units <= MOST_UNITS)) return formatLong(value, digits);
  if (units === 0) return '0.';
  const whole = Math.floor(units / scale!);
  let rest = units - whole * scale!,
    places = digits;
  while (places > 0 && rest % 10 === 0) {
    rest /= 10;
    places--;
  }
  const sign = value < 0 ? '-' : '';
  return places === 0 ? `${sign}${whole}.` : `${sign}${whole}.${String(rest).padStart(places, '0')}`;
}

/** Powers of ten by digits, and the largest number of units that is worked with exactly. */
const SCALES = Array.from({ length: 13 }, (_, k) => Number(`1e${k}`));
const MOST_UNITS = 1e14;

function formatLong(value: number, digits: number): string {
  let text = value.toFixed(digits);
  if (text.includes('.')) text = text.replace(/0+$/, '');
  if (Number(text) === 0) text = '0.';
  return text.includes('.') ? text : `${text}.`;
}

export const formatFeed = (value: number): string => {
  const digits = Math.min(12, Math.max(0, FEED_DIGITS - 1 - Math.floor(Math.log10(value))));
  return formatWord(value, digits);
};

/** What plain letters say for those that have no plain form of their own. */
const PLAIN: Record<string, string> = {
  Ä: 'Ae',
  Ö: 'Oe',
  Ü: 'Ue',
  ä: 'ae',
  ö: 'oe',
  ü: 'ue',
  ß: 'ss',
  ẞ: 'SS',
  Æ: 'Ae',
  æ: 'ae',
  Ø: 'O',
  ø: 'o',
  Œ: 'Oe',
  œ: 'oe',
  Å: 'Aa',
  å: 'aa',
  Ð: 'D',
  ð: 'd',
  Þ: 'Th',
  þ: 'th',
  Ł: 'L',
  ł: 'l',
  Đ: 'D',
  đ: 'd',
  ı: 'i',
  '½': ' 1/2',
  '¼': ' 1/4',
  '¾': ' 3/4',
  '⅛': ' 1/8',
  '⅜': ' 3/8',
  '⅝': ' 5/8',
  '⅞': ' 7/8',
  '⅓': ' 1/3',
  '⅔': ' 2/3',
  '×': 'x',
  '°': ' deg',
  µ: 'u',
  μ: 'u',
  '±': '+/-',
  '²': '^2',
  '³': '^3',
  '№': 'No. ',
  '–': '-',
  '—': '-',
  '−': '-',
  '‘': "'",
  '’': "'",
  '“': '"',
  '”': '"',
  '„': '"',
  '…': '...',
  '·': '-',
  '•': '-',
  '\u00a0': ' ',
};

/** A diameter is said where it stands before a number; else the sign is a letter. */
const DIAMETER = /[Øø⌀](?=\s*[\d.])/g;

/** Text in plain ASCII that still reads the same: ½ as 1/2, Größe as Groesse, Ø6 as dia 6. What has no plain form becomes "?". */
export const toPlain = (text: string): string =>
  [...text.normalize('NFC').replace(DIAMETER, 'dia ')]
    .map((ch) => PLAIN[ch] ?? ch.normalize('NFKD').replace(/[\u0300-\u036f]/g, ''))
    .join('')
    .replace(/\s+/g, ' ')
    .replace(/[^\x20-\x7e]+/g, '?')
    .trim();

/** Longest comment, for narrow displays. */
const COMMENT_LENGTH = 100;

/**
 * A comment: no brackets, no control characters, and short. Some controls act on comments that begin with a word of theirs (MSG, LOG,
 * DEBUG, PRINT), so one that came from a person never begins it: `lead` does.
 */
export const toComment = (lead: string, text = ''): string =>
  `(${toPlain(`${lead} ${text}`).replace(/[()]/g, '').slice(0, COMMENT_LENGTH)})`;
