import Papa from 'papaparse';
import { err, ok, type Result } from '../base/result';
import { MAX_TABLE_COLUMNS, MAX_TABLE_ROWS } from '../job/variablesSchema';

/** A table read from CSV: its columns, its rows at the same length, and what was mended. */
export interface Table {
  columns: string[];
  rows: string[][];
  notes: string[];
}

export type TableError = { kind: 'empty' } | { kind: 'tooMany'; what: 'rows' | 'columns'; count: number; limit: number };

export function describeTableError(error: TableError, file: string): string {
  return error.kind === 'empty' ? `${file} has no rows` : `${file} has ${error.count} ${error.what}; up to ${error.limit} can be taken`;
}

const DELIMITERS = [';', '\t', ','] as const;

/** The delimiter that parts the first line into most cells; quotes are minded. */
function findDelimiter(text: string): string {
  const first =
    text
      .slice(0, 10_000)
      .split(/\r?\n/)
      .find((l) => l.trim() !== '') ?? '';
  const bare = first.replace(/"[^"]*"/g, '');
  return DELIMITERS.map((d) => ({ d, n: bare.split(d).length })).reduce((best, e) => (e.n > best.n ? e : best)).d;
}

/**
 * Reads a CSV with a head line: commas, semicolons or tabs, quotes, a byte-order mark. Rows that are too short are filled up,
 * longer ones cut, empty ones dropped, and the notes say so.
 */
export function readTable(source: string): Result<Table, TableError> {
  const text = source.replace(/^\ufeff/, '');
  const { data } = Papa.parse<string[]>(text, { delimiter: findDelimiter(text), skipEmptyLines: 'greedy' });
  if (data.length < 2) return err({ kind: 'empty' });
  const head = data[0]!;
  if (head.length > MAX_TABLE_COLUMNS) return err({ kind: 'tooMany', what: 'columns', count: head.length, limit: MAX_TABLE_COLUMNS });
  if (data.length - 1 > MAX_TABLE_ROWS) return err({ kind: 'tooMany', what: 'rows', count: data.length - 1, limit: MAX_TABLE_ROWS });
  const notes: string[] = [];
  const columns: string[] = [];
  head.forEach((name, k) => {
    const wanted =
      name
        .trim()
        .replace(/[{}\n]/g, '')
        .slice(0, 60) || `column ${k + 1}`;
    let own = wanted;
    for (let n = 2; columns.includes(own); n++) own = `${wanted} ${n}`;
    columns.push(own);
  });
  let short = 0,
    long = 0;
  const rows = data.slice(1).map((row) => {
    if (row.length < columns.length) short++;
    if (row.length > columns.length) long++;
    return columns.map((_, k) => (row[k] ?? '').trim().slice(0, 500));
  });
  if (short) notes.push(`${short} rows were shorter than the head and were filled up with nothing`);
  if (long) notes.push(`${long} rows were longer than the head and were cut`);
  return ok({ columns, rows, notes });
}

/** Reads value → share pairs for a tabulated scale from the first two columns; positions are scaled to [0, 1]. */
export function toScaleTable(table: Table): Result<{ value: number; share: number }[], { kind: 'notNumbers'; row: number }> {
  const pairs: { value: number; position: number }[] = [];
  for (const [k, row] of table.rows.entries()) {
    const [value, position] = [row[0] ?? '', row[1] ?? ''].map((cell) => (cell === '' ? NaN : Number(cell.replace(',', '.')))) as [
      number,
      number,
    ];
    if (!Number.isFinite(value) || !Number.isFinite(position)) return err({ kind: 'notNumbers', row: k + 2 });
    pairs.push({ value, position });
  }
  pairs.sort((a, b) => a.value - b.value);
  const low = Math.min(...pairs.map((p) => p.position)),
    high = Math.max(...pairs.map((p) => p.position));
  return ok(pairs.map(({ value, position }) => ({ value, share: high > low ? (position - low) / (high - low) : 0 })));
}
