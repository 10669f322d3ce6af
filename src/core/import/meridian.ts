import { wrapToTurn } from '../base/angle';
import { err, ok, type Result } from '../base/result';
import type { MeridianNode } from '../surface/meridian';
import { MAX_PROFILE_NODES } from '../job/blankSchema';
import type { ImportedDrawing } from './drawing';

export type MeridianImportError = { kind: 'noLine' } | { kind: 'belowAxis'; mm: number } | { kind: 'tooShort' };

/** A meridian taken from a drawing, in true places, and what was done to it. */
export interface ImportedMeridian {
  nodes: MeridianNode[];
  notes: string[];
}

/** Corners sharper than this stay corners, degrees. */
const CORNER_DEG = 12;
/** Most by which a kept place may leave the drawn line, mm. */
const FIT_MM = 0.01;

/**
 * Takes the longest line of a drawing as a meridian: x along the axis, y the radius. The drawing's axis is its x axis; where all
 * of the line lies below, it is turned over. Arcs stay arcs, other curves become splines through few places, corners stay corners.
 */
export function toMeridian(drawing: ImportedDrawing): Result<ImportedMeridian, MeridianImportError> {
  const lines = drawing.lines.map((l) => l.xy).filter((xy) => xy.length >= 4);
  if (lines.length === 0) return err({ kind: 'noLine' });
  const joined = joinLines(lines);
  const length = (xy: readonly number[]) =>
    xy.reduce((s, _, i) => (i >= 2 && i % 2 === 0 ? s + Math.hypot(xy[i]! - xy[i - 2]!, xy[i + 1]! - xy[i - 1]!) : s), 0);
  let xy = joined.reduce((best, l) => (length(l) > length(best) ? l : best));
  const notes: string[] = joined.length > 1 ? [`of ${joined.length} lines the longest was taken`] : [];
  if (length(xy) < 0.5) return err({ kind: 'tooShort' });
  const ys = xy.filter((_, i) => i % 2 === 1);
  if (Math.max(...ys) <= 1e-9) {
    xy = xy.map((v, i) => (i % 2 ? -v : v));
    notes.push('it lay below the axis and was turned over');
  } else if (Math.min(...ys) < -0.01) return err({ kind: 'belowAxis', mm: -Math.min(...ys) });
  xy = xy.map((v, i) => (i % 2 ? Math.max(0, v) : v));
  // From the datum end on, as the table shows it.
  if (xy[0]! > xy[xy.length - 2]!)
    xy = Array.from({ length: xy.length / 2 }, (_, m) => xy.slice(xy.length - 2 * m - 2, xy.length - 2 * m)).flat();
  // The datum end is where the blank frame has its zero.
  const x0 = Math.min(...xy.filter((_, i) => i % 2 === 0));
  if (Math.abs(x0) > 1e-9) notes.push(`moved by ${(-x0).toFixed(3)} mm, so that it begins at the datum end`);
  xy = xy.map((v, i) => (i % 2 ? v : v - x0));
  return ok({ nodes: fitNodes(xy), notes });
}

/** Strings lines together where their ends meet. */
function joinLines(lines: readonly number[][]): number[][] {
  const rest = lines.map((l) => [...l]);
  const near = (ax: number, ay: number, bx: number, by: number) => Math.hypot(ax - bx, ay - by) < 1e-3;
  for (let changed = true; changed;) {
    changed = false;
    outer: for (let i = 0; i < rest.length; i++) {
      for (let k = i + 1; k < rest.length; k++) {
        const a = rest[i]!,
          b = rest[k]!;
        const flip = (l: number[]) =>
          Array.from({ length: l.length / 2 }, (_, m) => l.slice(l.length - 2 * m - 2, l.length - 2 * m)).flat();
        const [ae, be] = [a.length - 2, b.length - 2];
        const made = near(a[ae]!, a[ae + 1]!, b[0]!, b[1]!)
          ? [...a, ...b.slice(2)]
          : near(a[ae]!, a[ae + 1]!, b[be]!, b[be + 1]!)
            ? [...a, ...flip(b).slice(2)]
            : near(a[0]!, a[1]!, b[be]!, b[be + 1]!)
              ? [...b, ...a.slice(2)]
              : near(a[0]!, a[1]!, b[0]!, b[1]!)
                ? [...flip(b), ...a.slice(2)]
                : null;
        if (!made) continue;
        rest[i] = made;
        rest.splice(k, 1);
        changed = true;
        break outer;
      }
    }
  }
  return rest;
}

/** Vertices of a flattened arc lie on its circle to this, mm, and there are at least so many of them. */
const ON_ARC_MM = 2e-6;
const MIN_ARC_POINTS = 5;
/** A sweep near a whole turn has no chord to speak of, degrees. */
const MAX_ARC_DEG = 300;

/**
 * The longest arc that a flattened line follows from a vertex on: its last vertex and its bulge, positive outward as in
 * `MeridianNode`: where it turns clockwise. Vertices of a flattened arc lie on its circle to the last digits; those of other curves do not.
 */
function findArc(xy: readonly number[], from: number, to: number): { end: number; bulge: number } | null {
  if (to - from + 1 < MIN_ARC_POINTS) return null;
  const circle = fitCircle(xy, from, from + 2, from + 4);
  if (!circle) return null;
  const [cx, cy, r] = circle;
  const angle = (i: number): number => Math.atan2(xy[2 * i + 1]! - cy, xy[2 * i]! - cx);
  const turned = (i: number): number => {
    const d = angle(i + 1) - angle(i);
    return wrapToTurn(d);
  };
  const step = turned(from);
  let sweep = 0,
    end = from;
  while (end < to) {
    const next = end + 1,
      d = turned(end);
    const on = Math.abs(Math.hypot(xy[2 * next]! - cx, xy[2 * next + 1]! - cy) - r) <= ON_ARC_MM * Math.max(1, r / 50);
    // A straight stretch that happens to end on the circle would be one long chord.
    if (
      !on ||
      Math.sign(d) !== Math.sign(step) ||
      Math.abs(d) > 1.5 * Math.abs(step) + 1e-9 ||
      Math.abs(sweep + d) > (MAX_ARC_DEG * Math.PI) / 180
    )
      break;
    sweep += d;
    end = next;
  }
  return end - from + 1 >= MIN_ARC_POINTS ? { end, bulge: -Math.tan(sweep / 4) } : null;
}

/** Centre and radius of the circle through three vertices; null if they lie on a line, or all but do. */
function fitCircle(xy: readonly number[], i: number, j: number, k: number): [number, number, number] | null {
  const ax = xy[2 * i]!,
    ay = xy[2 * i + 1]!;
  const bx = xy[2 * j]! - ax,
    by = xy[2 * j + 1]! - ay,
    cx = xy[2 * k]! - ax,
    cy = xy[2 * k + 1]! - ay;
  const d = 2 * (bx * cy - by * cx);
  if (!(Math.abs(d) > 1e-9 * (Math.hypot(bx, by) + Math.hypot(cx, cy)) ** 2)) return null;
  const u = (cy * (bx * bx + by * by) - by * (cx * cx + cy * cy)) / d,
    v = (bx * (cx * cx + cy * cy) - cx * (bx * bx + by * by)) / d;
  return [ax + u, ay + v, Math.hypot(u, v)];
}

/** Parts a polyline at its corners and arcs; straight stretches keep their ends, other bent ones places close enough for a spline. */
function fitNodes(xy: readonly number[]): MeridianNode[] {
  const n = xy.length / 2;
  const turn = (i: number): number => {
    const a = Math.atan2(xy[2 * i + 1]! - xy[2 * i - 1]!, xy[2 * i]! - xy[2 * i - 2]!),
      b = Math.atan2(xy[2 * i + 3]! - xy[2 * i + 1]!, xy[2 * i + 2]! - xy[2 * i]!);
    return Math.abs(wrapToTurn(b - a));
  };
  const corners = [0];
  for (let i = 1; i + 1 < n; i++) if (turn(i) > (CORNER_DEG * Math.PI) / 180) corners.push(i);
  corners.push(n - 1);
  const nodes: MeridianNode[] = [];
  const put = (i: number, join: MeridianNode['join']) => nodes.push({ xMm: xy[2 * i]!, diameterMm: 2 * xy[2 * i + 1]!, join, bulge: 0 });
  /** What lies between two vertices and is no arc. */
  const putStretch = (from: number, to: number): void => {
    put(from, 'corner');
    // Every how many points a spline needs one: halved until it would not leave the polyline by more than the fit.
    const bent = Math.max(...Array.from({ length: Math.max(0, to - from - 1) }, (_, k) => offLine(xy, from, to, from + 1 + k)), 0) > FIT_MM;
    if (!bent) return;
    const share = Math.max(1, Math.floor(MAX_PROFILE_NODES / corners.length) - 1);
    const count = Math.min(to - from, share, Math.max(6, Math.min(40, to - from)));
    for (let k = 1; k < count; k++) put(from + Math.round((k * (to - from)) / count), 'smooth');
  };
  for (let c = 0; c + 1 < corners.length; c++) {
    const to = corners[c + 1]!;
    let from = corners[c]!;
    for (let i = from; i < to;) {
      const arc = findArc(xy, i, to);
      if (!arc) {
        i++;
        continue;
      }
      if (i > from) putStretch(from, i);
      nodes.push({ xMm: xy[2 * i]!, diameterMm: 2 * xy[2 * i + 1]!, join: 'corner', bulge: arc.bulge });
      from = i = arc.end;
    }
    if (from < to) putStretch(from, to);
  }
  put(n - 1, 'corner');
  return nodes;
}

function offLine(xy: readonly number[], a: number, b: number, i: number): number {
  const dx = xy[2 * b]! - xy[2 * a]!,
    dy = xy[2 * b + 1]! - xy[2 * a + 1]!;
  const l = Math.hypot(dx, dy) || 1;
  return Math.abs(((xy[2 * i]! - xy[2 * a]!) * dy - (xy[2 * i + 1]! - xy[2 * a + 1]!) * dx) / l);
}

export function describeMeridianImport(error: MeridianImportError, fileName: string): string {
  switch (error.kind) {
    case 'noLine':
      return `${fileName} holds no line to turn. Draw half of the profile above the x axis.`;
    case 'tooShort':
      return `${fileName} holds no line longer than 0.5 mm. Check its units.`;
    case 'belowAxis':
      return `The longest line of ${fileName} crosses the x axis, by ${error.mm.toFixed(2)} mm. Draw only the half above it: y is the radius.`;
  }
}
