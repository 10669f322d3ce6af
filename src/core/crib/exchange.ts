import Papa from 'papaparse';
import { migrateTool } from '../job/migrate';
import { toolSchema, type Tool } from '../job/schema';

/** Columns of a crib as a table, in the order they are written; lengths in mm, angles in degrees. */
const COLUMNS = [
  'id',
  'number',
  'name',
  'kind',
  'includedDeg',
  'tipMm',
  'cornerMm',
  'diameterMm',
  'fluteLengthMm',
  'flutes',
  'made',
  'shankMm',
  'stickOutMm',
  'holderMm',
  'holderLengthMm',
] as const satisfies readonly (keyof Tool)[];
const TEXTS: readonly string[] = ['id', 'name', 'kind', 'made'];

/** What a file of cutters holds: those that can be taken, and what is wrong with the others, by their place. */
export interface CribReading {
  tools: Tool[];
  refused: string[];
}

/** A crib as a table of comma-separated values (RFC 4180), one cutter a row; speeds by material stay in JSON alone. */
export const toCsv = (tools: readonly Tool[]): string =>
  `${Papa.unparse({ fields: [...COLUMNS], data: tools.map((t) => COLUMNS.map((c) => t[c])) }, { newline: '\r\n' })}\r\n`;

/** A crib as JSON, whole. */
export const toJson = (tools: readonly Tool[]): string => `${JSON.stringify(tools, null, 2)}\n`;

/** Reads a crib from a table or from JSON, whichever it is. What a row does not say is as in a plain cutter of its size. */
export function readCrib(text: string): CribReading {
  const rows = /^\s*[[{]/.test(text) ? readJson(text) : readTable(text);
  if (!Array.isArray(rows)) return { tools: [], refused: [rows] };
  const out: CribReading = { tools: [], refused: [] };
  const ids = new Set<string>(),
    numbers = new Set<number>();
  rows.forEach((row, k) => {
    const parsed = toolSchema.safeParse(migrateTool(row));
    const where = `cutter ${k + 1}`;
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      out.refused.push(`${where}: ${issue!.path.join('.') || 'it'} ${issue!.message}`);
    } else if (ids.has(parsed.data.id) || numbers.has(parsed.data.number)) {
      out.refused.push(`${where}: ${ids.has(parsed.data.id) ? `id ${parsed.data.id}` : `T${parsed.data.number}`} stands twice in the file`);
    } else {
      ids.add(parsed.data.id);
      numbers.add(parsed.data.number);
      out.tools.push(parsed.data);
    }
  });
  if (rows.length === 0) out.refused.push('the file holds no cutter: a table wants a row of names first, JSON a list');
  return out;
}

function readJson(text: string): unknown[] | string {
  try {
    const value: unknown = JSON.parse(text);
    return Array.isArray(value) ? value : [value];
  } catch (error) {
    return `the file is no JSON: ${(error as Error).message}`;
  }
}

function readTable(text: string): unknown[] | string {
  const { data, errors } = Papa.parse<Record<string, string>>(text.trim(), { header: true, skipEmptyLines: 'greedy' });
  // A row that lacks cells is judged by itself; quotes that do not close spoil all that follows.
  const broken = errors.find((e) => e.type === 'Quotes');
  if (broken) return `line ${(broken.row ?? 0) + 2}: ${broken.message}`;
  return data.map((row) => {
    const out: Record<string, unknown> = {};
    for (const column of COLUMNS) {
      const value = row[column]?.trim();
      if (value) out[column] = TEXTS.includes(column) ? value : Number(value);
    }
    return out;
  });
}
