import Flatbush from 'flatbush';
import { fillRings, unionRings } from '../base/boolean';
import { findClusters } from '../base/clusters';
import { computeBox, concatRings, getRing, packRings, type Rings } from '../base/rings';
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
    const lines = dropUseless(
      drawing.lines.filter((l) => l.layer === name),
      report,
    );
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
  const seen = new Map<string, ImportedLine[]>();
  const out: ImportedLine[] = [];
  for (const line of lines) {
    const xy = dropRepeats(line.xy, line.closed);
    if (xy.length < 4) {
      report.zeroLength++;
      continue;
    }
    const kept = { ...line, xy, closed: line.closed && xy.length >= 6 };
    const key = signatureOf(kept);
    const alike = seen.get(key);
    if (alike?.some((other) => isSameLine(other, kept))) {
      report.duplicates++;
      continue;
    }
    if (alike) alike.push(kept);
    else seen.set(key, [kept]);
    out.push(kept);
  }
  return out;
}

function dropRepeats(xy: readonly number[], closed: boolean): number[] {
  const out: number[] = [];
  for (let i = 0; i < xy.length; i += 2) {
    const n = out.length;
    const x = xy[i]!,
      y = xy[i + 1]!;
    if (n && Math.abs(x - out[n - 2]!) < SAME_MM && Math.abs(y - out[n - 1]!) < SAME_MM) continue;
    out.push(x, y);
  }
  const n = out.length;
  if (closed && n >= 4 && Math.hypot(out[0]! - out[n - 2]!, out[1]! - out[n - 1]!) < SAME_MM) out.length = n - 2;
  return out;
}

/** Points that round to the same micrometre are the same, µm. */
const micrometre = (v: number): number => Math.round(v * 1000);

/** Equal for equal lines, whatever their first point and their sense; lines that differ may share it. */
function signatureOf({ xy, closed }: ImportedLine): string {
  let sum = 0;
  for (let i = 0; i < xy.length; i += 2)
    sum = (sum + Math.imul(micrometre(xy[i]!) | 0, 73856093) + Math.imul(micrometre(xy[i + 1]!) | 0, 19349663)) | 0;
  return `${closed ? 'o' : 'l'}${xy.length}:${sum}`;
}

/** Whether two lines of equal length run through the same points, either way round, a ring from any of them on. */
function isSameLine(a: ImportedLine, b: ImportedLine): boolean {
  const n = a.xy.length / 2;
  if (b.xy.length !== a.xy.length || a.closed !== b.closed) return false;
  const same = (i: number, j: number): boolean =>
    micrometre(a.xy[2 * i]!) === micrometre(b.xy[2 * j]!) && micrometre(a.xy[2 * i + 1]!) === micrometre(b.xy[2 * j + 1]!);
  for (let from = 0; from < (a.closed ? n : 1); from++) {
    for (const step of [1, -1]) {
      const start = a.closed ? from : step === 1 ? 0 : n - 1;
      let k = 0;
      while (k < n && same(k, (((start + step * k) % n) + n) % n)) k++;
      if (k === n) return true;
    }
  }
  return false;
}

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
  const out: number[][] = [];
  // Each shape is clean by now: only those whose boxes meet have to be united.
  for (const cluster of findClusters(filled.map((r) => computeBox(r.xy)))) {
    const all = cluster.length === 1 ? filled[cluster[0]!]! : unionRings(concatRings(cluster.map((i) => filled[i]!)));
    for (let k = 0; k + 1 < all.starts.length; k++) {
      const ring = getRing(all, k);
      const own = new Array<number>(ring.length);
      for (let i = 0; i < ring.length; i++) own[i] = round(ring[i]!);
      out.push(own);
    }
  }
  report.ringsOut += out.length;
  return out;
}
