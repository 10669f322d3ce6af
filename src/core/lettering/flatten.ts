/** Largest distance between a letter's curve and its chords at final size, to either side, mm. See docs/adr/0002. */
export const FLATTEN_TOLERANCE_MM = 0.0014;

/** Drawing commands of one glyph in font units; `values` are absolute coordinates, y up. */
export interface PathCommand {
  type: 'M' | 'L' | 'Q' | 'C' | 'Z';
  values: readonly number[];
}

/** Most chords of one curve: at 5 µm, a quarter of a circle of 20 m. Past it a drawing is damaged or meant to do harm. */
export const MAX_CHORDS = 2000;

/**
 * Steps of a Bezier whose chords run through the middle of what they cut off, so that half of it lies to either side: twice as long a
 * sagitta is allowed, and a curve takes 0.7 times the chords. The ends of the curve stay where they are; the first and the last step are
 * shorter, since they lean on an end that does not move.
 * @param bend Largest second difference of the control points. @param tolerance Largest distance to either side.
 * @returns Parameters of the inner points, the step that a point is moved for, and the largest distance that is left, as a share of the
 * tolerance. Source of the bound √(d(d−1)/8 · M): Wang (from memory).
 */
function listSteps(degree: 2 | 3, bend: number, tolerance: number): { at: number[]; step: number; off: number } {
  const whole = ((degree * (degree - 1)) / 8) * (bend / tolerance);
  if (!(whole > 1)) return { at: [], step: 0, off: whole };
  const needed = Math.ceil(Math.sqrt(whole / 2) + 2 * (1 - END_STEP));
  const n = Number.isFinite(needed) ? Math.min(Math.max(2, needed), MAX_CHORDS) : MAX_CHORDS;
  const step = 1 / (n - 2 * (1 - END_STEP));
  return { at: Array.from({ length: n - 1 }, (_, k) => (END_STEP + k) * step), step, off: (whole * step * step) / 2 };
}

/** First and last step over the others: their sagitta, less half the shift at one end, is then half of the others'. */
const END_STEP = 0.85;

const bend = (ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number =>
  Math.hypot(ax - 2 * bx + cx, ay - 2 * by + cy);

/**
 * Appends the chords of a quadratic Bezier to `out`, without its first point.
 * @returns The largest distance between them, at most `tolerance`.
 */
export function flattenQuadratic(out: number[], p: readonly number[], tolerance: number): number {
  const [x0, y0, x1, y1, x2, y2] = p as [number, number, number, number, number, number];
  const { at, step, off } = listSteps(2, bend(x0, y0, x1, y1, x2, y2), tolerance);
  // A step cuts off P''/8 · step²; its ends are moved by half of that.
  const k = (step * step) / 8;
  const dx = k * (x0 - 2 * x1 + x2),
    dy = k * (y0 - 2 * y1 + y2);
  for (const t of at) {
    const s = 1 - t;
    out.push(s * s * x0 + 2 * s * t * x1 + t * t * x2 - dx, s * s * y0 + 2 * s * t * y1 + t * t * y2 - dy);
  }
  out.push(x2, y2);
  return off * tolerance;
}

/** The same of a cubic Bezier. */
export function flattenCubic(out: number[], p: readonly number[], tolerance: number): number {
  const [x0, y0, x1, y1, x2, y2, x3, y3] = p as [number, number, number, number, number, number, number, number];
  const { at, step, off } = listSteps(3, Math.max(bend(x0, y0, x1, y1, x2, y2), bend(x1, y1, x2, y2, x3, y3)), tolerance);
  const k = (3 * step * step) / 8;
  const [ax, ay, bx, by] = [x0 - 2 * x1 + x2, y0 - 2 * y1 + y2, x1 - 2 * x2 + x3, y1 - 2 * y2 + y3];
  for (const t of at) {
    const s = 1 - t;
    const a = s * s * s;
    const b = 3 * s * s * t;
    const c = 3 * s * t * t;
    const d = t * t * t;
    out.push(a * x0 + b * x1 + c * x2 + d * x3 - k * (s * ax + t * bx), a * y0 + b * y1 + c * y2 + d * y3 - k * (s * ay + t * by));
  }
  out.push(x3, y3);
  return off * tolerance;
}

/**
 * Turns drawing commands into polylines, one array `[x0, y0, …]` per subpath, in the commands' units.
 * Points that repeat their predecessor are dropped; for closed subpaths the first point is not repeated.
 * @param tolerance Largest chord error, in the commands' units; > 0.
 * @param closed Whether subpaths close (outlines) or stay open (strokes).
 * @param onCurve Hears how far the chords of each curve are from it.
 */
export function flattenPath(
  commands: readonly PathCommand[],
  tolerance: number,
  closed: boolean,
  onCurve: (off: number) => void = () => {},
): number[][] {
  const parts: number[][] = [];
  let part: number[] = [];
  const finish = () => {
    if (closed) {
      const n = part.length;
      if (n >= 4 && part[0] === part[n - 2] && part[1] === part[n - 1]) part.length = n - 2;
    }
    if (part.length >= (closed ? 6 : 4)) parts.push(part);
    part = [];
  };
  for (const { type, values } of commands) {
    const n = part.length;
    const x = part[n - 2] ?? 0;
    const y = part[n - 1] ?? 0;
    if (type === 'M') {
      finish();
      part.push(values[0]!, values[1]!);
    } else if (type === 'L') {
      if (values[0] !== x || values[1] !== y) part.push(values[0]!, values[1]!);
    } else if (type === 'Q') onCurve(flattenQuadratic(part, [x, y, ...values], tolerance));
    else if (type === 'C') onCurve(flattenCubic(part, [x, y, ...values], tolerance));
    else if (closed) finish();
    else if (part.length >= 4) part.push(part[0]!, part[1]!);
  }
  finish();
  return parts;
}
