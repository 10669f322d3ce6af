/** Largest distance between a curve and its chords at final size, mm. See docs/adr/0002. */
export const FLATTEN_TOLERANCE_MM = 0.005;

/** Drawing commands of one glyph in font units; `values` are absolute coordinates, y up. */
export interface PathCommand {
  type: 'M' | 'L' | 'Q' | 'C' | 'Z';
  values: readonly number[];
}

/** Most chords of one curve: at 5 µm, a quarter of a circle of 20 m. Past it a drawing is damaged or meant to do harm. */
export const MAX_CHORDS = 2000;

/**
 * Chords needed so that none leaves a Bezier of degree d by more than tol: √(d(d−1)/8 · M/tol), at most `MAX_CHORDS`. Source:
 * Wang's bound on second differences (from memory).
 */
const chordCount = (degree: 2 | 3, secondDifference: number, tolerance: number): number => {
  const needed = Math.ceil(Math.sqrt(((degree * (degree - 1)) / 8) * (secondDifference / tolerance)));
  return needed > 1 ? Math.min(needed, MAX_CHORDS) : 1;
};

const bend = (ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number =>
  Math.hypot(ax - 2 * bx + cx, ay - 2 * by + cy);

/** Appends the chords of a quadratic Bezier to `out`, without its first point. */
export function flattenQuadratic(out: number[], p: readonly number[], tolerance: number): void {
  const [x0, y0, x1, y1, x2, y2] = p as [number, number, number, number, number, number];
  const n = chordCount(2, bend(x0, y0, x1, y1, x2, y2), tolerance);
  for (let i = 1; i < n; i++) {
    const t = i / n;
    const s = 1 - t;
    out.push(s * s * x0 + 2 * s * t * x1 + t * t * x2, s * s * y0 + 2 * s * t * y1 + t * t * y2);
  }
  out.push(x2, y2);
}

/** Appends the chords of a cubic Bezier to `out`, without its first point. */
export function flattenCubic(out: number[], p: readonly number[], tolerance: number): void {
  const [x0, y0, x1, y1, x2, y2, x3, y3] = p as [number, number, number, number, number, number, number, number];
  const n = chordCount(3, Math.max(bend(x0, y0, x1, y1, x2, y2), bend(x1, y1, x2, y2, x3, y3)), tolerance);
  for (let i = 1; i < n; i++) {
    const t = i / n;
    const s = 1 - t;
    const a = s * s * s;
    const b = 3 * s * s * t;
    const c = 3 * s * t * t;
    const d = t * t * t;
    out.push(a * x0 + b * x1 + c * x2 + d * x3, a * y0 + b * y1 + c * y2 + d * y3);
  }
  out.push(x3, y3);
}

/**
 * Turns drawing commands into polylines, one array `[x0, y0, …]` per subpath, in the commands' units.
 * Points that repeat their predecessor are dropped; for closed subpaths the first point is not repeated.
 * @param tolerance Largest chord error, in the commands' units; > 0.
 * @param closed Whether subpaths close (outlines) or stay open (strokes).
 */
export function flattenPath(commands: readonly PathCommand[], tolerance: number, closed: boolean): number[][] {
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
    } else if (type === 'Q') flattenQuadratic(part, [x, y, ...values], tolerance);
    else if (type === 'C') flattenCubic(part, [x, y, ...values], tolerance);
    else if (closed) finish();
    else if (part.length >= 4) part.push(part[0]!, part[1]!);
  }
  finish();
  return parts;
}
