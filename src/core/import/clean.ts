import Flatbush from 'flatbush';
import { fillRings } from '../base/boolean';
import { concatRings, getRing, packRings, type Rings } from '../base/rings';
import type { ImportedDrawing, ImportedLine } from './drawing';

export interface CleanOptions {
  /** Ends closer than this are joined, and gaps up to it closed, mm; 0 for none. */
  joinMm: number;
  /** Layers taken; null for all. */
  layers: readonly string[] | null;
  /** Take every closed line as an area; else only what the drawing fills (or, if it fills nothing, what is closed). */
  closedAreAreas: boolean;
}

/** What cleaning did, counted. */
export interface CleanReport {
  joined: number;
  closedGaps: number;
  duplicates: number;
  zeroLength: number;
  areas: number;
  strokes: number;
  /** Rings before and after crossings were removed and islands resolved. */
  ringsIn: number;
  ringsOut: number;
}

export interface CleanArtwork {
  layers: { name: string; on: boolean; rings: number[][]; chains: number[][] }[];
  report: CleanReport;
}

const ROUND = 1e4;
const round = (v: number): number => Math.round(v * ROUND) / ROUND;
/** Points closer than this are one, mm. */
const SAME_MM = 1e-4;

/**
 * Cleans a drawing: drops what has no length or stands twice, joins ends, closes small gaps, removes crossings and resolves
 * islands by the fill rule.
 * O(n log n).
 */
export function cleanDrawing(drawing: ImportedDrawing, options: CleanOptions): CleanArtwork {
  const report: CleanReport = { joined: 0, closedGaps: 0, duplicates: 0, zeroLength: 0, areas: 0, strokes: 0, ringsIn: 0, ringsOut: 0 };
  const anyFill = drawing.lines.some((l) => l.fill);
  const layers = drawing.layers.map((name) => {
    const on = options.layers === null || options.layers.includes(name);
    const lines = dropUseless(drawing.lines.filter((l) => l.layer === name), report);
    const joined = joinEnds(lines, options.joinMm, report);
    const isArea = (l: ImportedLine): boolean => l.closed && l.xy.length >= 6 && (options.closedAreAreas || !anyFill || l.fill !== null);
    const rings = fillAreas(joined.filter(isArea), report);
    const chains = joined.filter((l) => !isArea(l)).map((l) => (l.closed ? [...l.xy, l.xy[0]!, l.xy[1]!] : l.xy).map(round));
    if (on) {
      report.areas += rings.length;
      report.strokes += chains.length;
    }
    return { name, on, rings, chains };
  });
  return { layers: layers.filter((l) => l.rings.length || l.chains.length), report };
}

function dropUseless(lines: readonly ImportedLine[], report: CleanReport): ImportedLine[] {
  const seen = new Set<string>();
  const out: ImportedLine[] = [];
  for (const line of lines) {
    const xy = dropRepeats(line.xy, line.closed);
    if (xy.length < 4) {
      report.zeroLength++;
      continue;
    }
    const key = line.closed ? ringKey(xy) : chainKey(xy);
    if (seen.has(key)) {
      report.duplicates++;
      continue;
    }
    seen.add(key);
    out.push({ ...line, xy, closed: line.closed && xy.length >= 6 });
  }
  return out;
}

function dropRepeats(xy: readonly number[], closed: boolean): number[] {
  const out: number[] = [];
  for (let i = 0; i < xy.length; i += 2) {
    const n = out.length;
    if (n && Math.hypot(xy[i]! - out[n - 2]!, xy[i + 1]! - out[n - 1]!) < SAME_MM) continue;
    out.push(xy[i]!, xy[i + 1]!);
  }
  const n = out.length;
  if (closed && n >= 4 && Math.hypot(out[0]! - out[n - 2]!, out[1]! - out[n - 1]!) < SAME_MM) out.length = n - 2;
  return out;
}

const pointKeys = (xy: readonly number[]): string[] => Array.from({ length: xy.length / 2 }, (_, i) => `${Math.round(xy[2 * i]! * 1000)},${Math.round(xy[2 * i + 1]! * 1000)}`);

const chainKey = (xy: readonly number[]): string => {
  const keys = pointKeys(xy);
  const [there, back] = [keys.join(' '), [...keys].reverse().join(' ')];
  return there < back ? there : back;
};

/** The same for a ring whatever its first point and its sense. */
const ringKey = (xy: readonly number[]): string => {
  const keys = pointKeys(xy);
  const low = keys.reduce((best, k, i) => (k < keys[best]! ? i : best), 0);
  const turned = [...keys.slice(low), ...keys.slice(0, low)];
  return `o${chainKeyOf(turned)}`;
};
const chainKeyOf = ([first, ...rest]: string[]): string => {
  const [there, back] = [rest.join(' '), [...rest].reverse().join(' ')];
  return `${first} ${there < back ? there : back}`;
};

/** Joins open lines whose ends meet, nearest first come; a line whose own ends meet is closed. */
function joinEnds(lines: readonly ImportedLine[], joinMm: number, report: CleanReport): ImportedLine[] {
  const open = lines.filter((l) => !l.closed);
  const out = lines.filter((l) => l.closed);
  if (!(joinMm > 0) || open.length === 0) return [...out, ...open];
  const index = new Flatbush(2 * open.length);
  const end = (e: number): [number, number] => {
    const { xy } = open[e >> 1]!;
    return e & 1 ? [xy[xy.length - 2]!, xy[xy.length - 1]!] : [xy[0]!, xy[1]!];
  };
  for (let e = 0; e < 2 * open.length; e++) index.add(...end(e));
  index.finish();
  const used = new Uint8Array(open.length);
  const nextFrom = (x: number, y: number): number => index.neighbors(x, y, 1, joinMm, (e) => !used[e >> 1])[0] ?? -1;
  for (let i = 0; i < open.length; i++) {
    if (used[i]) continue;
    used[i] = 1;
    let xy = [...open[i]!.xy];
    for (let side = 0; side < 2; side++) {
      for (;;) {
        const n = xy.length;
        if (n >= 6 && Math.hypot(xy[0]! - xy[n - 2]!, xy[1]! - xy[n - 1]!) <= joinMm) break;
        const e = nextFrom(xy[n - 2]!, xy[n - 1]!);
        if (e < 0) break;
        used[e >> 1] = 1;
        report.joined++;
        const more = e & 1 ? reversePoints(open[e >> 1]!.xy) : open[e >> 1]!.xy;
        const met = Math.hypot(more[0]! - xy[n - 2]!, more[1]! - xy[n - 1]!) < SAME_MM;
        for (let k = met ? 2 : 0; k < more.length; k++) xy.push(more[k]!);
      }
      xy = reversePoints(xy);
    }
    const n = xy.length;
    const gap = Math.hypot(xy[0]! - xy[n - 2]!, xy[1]! - xy[n - 1]!);
    const closes = n >= 8 && gap <= joinMm;
    if (closes && gap >= SAME_MM) report.closedGaps++;
    out.push({ ...open[i]!, xy: closes ? dropRepeats(xy, true) : xy, closed: closes });
  }
  return out;
}

function reversePoints(xy: readonly number[]): number[] {
  const out: number[] = [];
  for (let i = xy.length - 2; i >= 0; i -= 2) out.push(xy[i]!, xy[i + 1]!);
  return out;
}

/** Areas of a layer: each shape by its own rule, what belongs to no shape together by even-odd, and all of them united. */
function fillAreas(lines: readonly ImportedLine[], report: CleanReport): number[][] {
  report.ringsIn += lines.length;
  const shapes = new Map<string, { rule: 'nonzero' | 'evenodd'; parts: number[][] }>();
  for (const l of lines) {
    const key = l.fill ? String(l.fill.shape) : 'loose';
    const shape = shapes.get(key) ?? { rule: l.fill?.rule ?? 'evenodd', parts: [] };
    shape.parts.push(l.xy);
    shapes.set(key, shape);
  }
  const filled = [...shapes.values()].map((s): Rings => fillRings(packRings(s.parts), s.rule));
  if (filled.length === 0) return [];
  const all = filled.length === 1 ? filled[0]! : fillRings(concatRings(filled), 'nonzero');
  const out: number[][] = [];
  for (let k = 0; k + 1 < all.starts.length; k++) out.push([...getRing(all, k)].map(round));
  report.ringsOut += out.length;
  return out;
}
