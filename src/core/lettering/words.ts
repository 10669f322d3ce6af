import type { Variables } from '../job/schema';

/** Wording with its variables resolved for one piece. */
export interface ResolvedWords {
  text: string;
  /** Words in braces that stand for nothing. */
  unknown: string[];
  /** Whether the text depends on the piece, the table or the date. */
  varies: boolean;
}

const BRACED = /\{([^{}\n]{1,60})\}/g;

const formatDate = (iso: string, format: Variables['dateFormat']): string => {
  const [year, month, day] = iso.split('-') as [string, string, string];
  switch (format) {
    case '2026-03-31':
      return iso;
    case '31.03.2026':
      return `${day}.${month}.${year}`;
    case '03/2026':
      return `${month}/${year}`;
    case '2026':
      return year;
  }
};

/** The serial number of a piece, with leading zeros to the width. */
export function formatSerial(variables: Variables, piece: number): string {
  const value = variables.serial.start + (piece - 1) * variables.serial.step;
  return (value < 0 ? '-' : '') + String(Math.abs(value)).padStart(variables.serial.width, '0');
}

/**
 * Puts in what the words in braces stand for: {serial}, {date}, and the columns of the table for the piece's row.
 * @param piece From 1.
 * @param todayIso The day, for a date that is left open; '' if it is not known.
 */
export function resolveWords(text: string, variables: Variables, piece: number, todayIso: string): ResolvedWords {
  const unknown: string[] = [];
  let varies = false;
  const resolved = text.replace(BRACED, (whole, name: string) => {
    varies = true;
    const key = name.trim();
    if (key === 'serial') return formatSerial(variables, piece);
    if (key === 'date') {
      const iso = variables.date || todayIso;
      if (iso) return formatDate(iso, variables.dateFormat);
    }
    const column = variables.columns.indexOf(key);
    const cell = column >= 0 ? variables.rows[piece - 1]?.[column] : undefined;
    if (cell !== undefined) return cell;
    unknown.push(key);
    return whole;
  });
  return { text: resolved, unknown, varies };
}
