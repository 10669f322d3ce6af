import type { Blank } from '../job/blankSchema';
import type { Measured } from '../job/measured';
import type { Surface } from '../surface/surface';
import { isArc, isTouched, listTouched } from './grid';

/** What a measured blank comes to. Lengths mm. */
export interface MeasuredFigures {
  /** Least and most that the surface lies outside the drawn one, where it was touched. */
  leastMm: number;
  mostMm: number;
  /** Mean of all places that were touched; of a ring its own, however uneven they are. */
  meanMm: number;
  /** Whether only an arc of a round blank was touched: where its axis lies and how thick it is cannot be told apart. */
  arc: boolean;
  /**
   * How far the axis of a round blank lies beside the rotary's, and at which turn it stands out, at the first and the last place along; and
   * where between them it lies farthest beside the straight line through both: an axis that is bowed.
   */
  eccentric: { mm: number; turnDeg: number; endMm: number; endTurnDeg: number; bowMm: number; bowXMm: number } | null;
  /** By how much the radius, or the height, grows from the first place along to the last. */
  taperMm: number;
  /** Tilt across a blank that does not turn, mm over its probed width; its middle over its corners, or over its edge if it has none. */
  across: { tiltMm: number; bowMm: number; cornered: boolean } | null;
  /** Largest distance from what all this explains. */
  restMm: number;
}

const DEG = Math.PI / 180;

/** Measures run-out, size, taper, tilt and bow by least squares over the places of the grid. O(places). */
export function measureFigures(measured: Pick<Measured, 'xMm' | 'turnDeg' | 'mm'>, surface: Surface): MeasuredFigures {
  const { xMm, turnDeg, mm } = measured;
  const all = listTouched(measured, surface);
  const mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length;
  const [nx, ny] = [xMm.length, turnDeg.length];
  const closed = surface.periodMm !== null;
  const arc = closed && isArc(turnDeg);
  const isRing = closed && ny >= 3 && !arc;
  // First harmonic of each ring: the axis is beside the rotary's by its amplitude, and its mean is no mean of uneven places.
  const rings = isRing ? mm.map((row) => fitHarmonic(turnDeg, row)) : null;
  const rows = rings ? rings.map((r) => r.mean) : mm.map(mean);
  const taper = fitLine(xMm, rows);
  const length = nx > 1 ? xMm[nx - 1]! - xMm[0]! : 0;
  const base = {
    leastMm: Math.min(...all),
    mostMm: Math.max(...all),
    meanMm: mean(rings ? rows : all),
    taperMm: taper.slope * length,
    arc,
  };
  if (rings) {
    const along = [
      fitLine(
        xMm,
        rings.map((r) => r.cos),
      ),
      fitLine(
        xMm,
        rings.map((r) => r.sin),
      ),
    ] as const;
    const axisAt = (x: number): [number, number] => [along[0].at(x), along[1].at(x)];
    // What is told of a place is that place's own.
    const { cos: c0, sin: s0 } = rings[0]!,
      { cos: c1, sin: s1 } = rings[nx - 1]!;
    const bow = rings.map(({ cos, sin }, i) => {
      const share = length > 0 ? (xMm[i]! - xMm[0]!) / length : 0;
      return Math.hypot(cos - c0 - share * (c1 - c0), sin - s0 - share * (s1 - s0));
    });
    const bowed = bow.indexOf(Math.max(...bow));
    let rest = 0;
    mm.forEach((row, i) => {
      const [c, s] = axisAt(xMm[i]!);
      row.forEach((v, j) => {
        const t = turnDeg[j]! * DEG;
        rest = Math.max(rest, Math.abs(v - taper.at(xMm[i]!) - c * Math.cos(t) - s * Math.sin(t)));
      });
    });
    const toDeg = (c: number, s: number): number => Math.atan2(s, c) / DEG;
    return {
      ...base,
      eccentric: {
        ...{ mm: Math.hypot(c0, s0), turnDeg: toDeg(c0, s0), endMm: Math.hypot(c1, s1), endTurnDeg: toDeg(c1, s1) },
        ...{ bowMm: bow[bowed]!, bowXMm: xMm[bowed]! },
      },
      across: null,
      restMm: rest,
    };
  }
  const columns = turnDeg.map((_, j) => mean(mm.map((row) => row[j]!)));
  const tilt = fitLine(turnDeg, columns);
  const width = ny > 1 ? turnDeg[ny - 1]! - turnDeg[0]! : 0;
  const middle = (list: readonly number[]): number => list[(list.length - 1) >> 1]! / 2 + list[list.length >> 1]! / 2;
  // Where the blank has no corners, what was touched nearest to where they would be.
  const touched = mm.flatMap((row, i) => row.flatMap((v, j) => (isTouched(surface, xMm[i]!, turnDeg[j]!) ? [{ i, j, v }] : [])));
  const corners = [0, nx - 1].flatMap((i) =>
    [0, ny - 1].map((j) => {
      const away = (t: { i: number; j: number }): number => Math.hypot((t.i - i) / nx, (t.j - j) / ny);
      return touched.reduce((best, t) => (away(t) < away(best) ? t : best));
    }),
  );
  const bow = ny > 2 || nx > 2 ? middle(mm.map((row) => middle(row))) - mean(corners.map((c) => c.v)) : 0;
  const cornered = corners.every(({ i, j }) => (i === 0 || i === nx - 1) && (j === 0 || j === ny - 1));
  const wholeMm = mean(rows);
  let rest = 0;
  mm.forEach((row, i) =>
    row.forEach((v, j) => {
      if (isTouched(surface, xMm[i]!, turnDeg[j]!)) rest = Math.max(rest, Math.abs(v - taper.at(xMm[i]!) - tilt.at(turnDeg[j]!) + wholeMm));
    }),
  );
  return { ...base, eccentric: null, across: closed ? null : { tiltMm: tilt.slope * width, bowMm: bow, cornered }, restMm: rest };
}

/** Straight line through places by least squares; level where there is one place alone. */
function fitLine(xs: readonly number[], vs: readonly number[]): { slope: number; at(x: number): number } {
  const n = xs.length;
  const [mx, mv] = [xs, vs].map((l) => l.reduce((a, b) => a + b, 0) / n) as [number, number];
  let top = 0,
    bottom = 0;
  for (let k = 0; k < n; k++) {
    top += (xs[k]! - mx) * (vs[k]! - mv);
    bottom += (xs[k]! - mx) ** 2;
  }
  const slope = bottom > 0 ? top / bottom : 0;
  return { slope, at: (x) => mv + slope * (x - mx) };
}

/** Mean and first harmonic over turns, by least squares: exact for even spacing, solved for any. */
function fitHarmonic(turnDeg: readonly number[], vs: readonly number[]): { mean: number; cos: number; sin: number } {
  // Normal equations of 1, cos, sin, by Cramer's rule.
  const m = [0, 0, 0, 0, 0, 0],
    r = [0, 0, 0];
  turnDeg.forEach((deg, k) => {
    const [c, s] = [Math.cos(deg * DEG), Math.sin(deg * DEG)];
    [1, c, s, c * c, c * s, s * s].forEach((v, i) => (m[i]! += v));
    [1, c, s].forEach((v, i) => (r[i]! += v * vs[k]!));
  });
  const [n, c, s, cc, cs, ss] = m as [number, number, number, number, number, number];
  const det = (a: number[], b: number[], d: number[]): number =>
    a[0]! * (b[1]! * d[2]! - b[2]! * d[1]!) - a[1]! * (b[0]! * d[2]! - b[2]! * d[0]!) + a[2]! * (b[0]! * d[1]! - b[1]! * d[0]!);
  const rows = [
    [n, c, s],
    [c, cc, cs],
    [s, cs, ss],
  ];
  const whole = det(rows[0]!, rows[1]!, rows[2]!);
  const solve = (k: number): number => {
    const put = rows.map((row, i) => row.map((v, j) => (j === k ? r[i]! : v)));
    return det(put[0]!, put[1]!, put[2]!) / whole;
  };
  return { mean: solve(0), cos: solve(1), sin: solve(2) };
}

/** Less than this is as good as nothing, mm; more than this off its axis is better clamped anew. */
const NOTHING_MM = 0.005;
const CLAMP_ANEW_MM = 0.25;
/** A size that is off by more than this is typed in. */
const SIZE_MM = 0.03;

/** What a measured blank comes to, in words, the most urgent first. @param say Formats a length with its unit. */
export function describeMeasured(figures: MeasuredFigures, blank: Blank, say: (mm: number) => string): { text: string; urgent: boolean }[] {
  const out: { text: string; urgent: boolean }[] = [];
  const tell = (text: string, urgent = false): void => void out.push({ text, urgent });
  const { eccentric, meanMm, taperMm, across, restMm, leastMm, mostMm } = figures;
  const deg = (v: number): string => `${Math.round(v)}°`;
  if (eccentric) {
    const worst = Math.max(eccentric.mm, eccentric.endMm);
    if (worst < NOTHING_MM) tell('It runs true.');
    else {
      const atEnd = eccentric.endMm > eccentric.mm;
      const where = atEnd ? 'at the last place along' : 'at the first place along';
      tell(
        `It runs out by ${say(2 * worst)} ${where}: its axis stands ${say(worst)} beside the rotary’s, towards turn ${deg(atEnd ? eccentric.endTurnDeg : eccentric.turnDeg)}.` +
          (worst > CLAMP_ANEW_MM ? ' Clamp it anew and true it up: letters would be noticeably larger on one side than on the other.' : ''),
        worst > CLAMP_ANEW_MM,
      );
      const skew = Math.abs(eccentric.endMm - eccentric.mm);
      if (skew > Math.max(NOTHING_MM, 0.3 * worst))
        tell(`It wobbles: ${say(eccentric.mm)} at the first place along and ${say(eccentric.endMm)} at the last.`);
    }
    if (eccentric.bowMm > NOTHING_MM)
      tell(
        `Its axis is bowed: ${say(eccentric.bowXMm)} along it lies ${say(eccentric.bowMm)} beside the straight line through its ends.` +
          (eccentric.bowMm > CLAMP_ANEW_MM ? ' Support it, clamp it shorter, or take another.' : ''),
        eccentric.bowMm > CLAMP_ANEW_MM,
      );
    if (Math.abs(meanMm) > SIZE_MM)
      tell(
        blank.kind === 'cylinder'
          ? `Its diameter is ${say(blank.diameterMm + 2 * meanMm)}, not ${say(blank.diameterMm)}: type it at Diameter and measure again.`
          : `It is ${say(Math.abs(2 * meanMm))} ${meanMm > 0 ? 'thicker' : 'thinner'} than drawn.`,
        Math.abs(meanMm) > 10 * SIZE_MM,
      );
    if (Math.abs(taperMm) > NOTHING_MM)
      tell(
        `It tapers: it is ${say(Math.abs(taperMm))} thicker at the ${taperMm > 0 ? 'far' : 'datum'} end than in its middle, and as much thinner at the other.`,
      );
  } else if (figures.arc) {
    if (Math.abs(meanMm) > SIZE_MM)
      tell(
        `Where it was touched it stands ${say(Math.abs(meanMm))} ${meanMm > 0 ? 'out of' : 'inside'} the drawn one: touch it all round to know whether its size or its axis is another.`,
        Math.abs(meanMm) > 10 * SIZE_MM,
      );
    if (Math.abs(taperMm) > NOTHING_MM) tell(`It rises by ${say(Math.abs(taperMm))} towards its ${taperMm > 0 ? 'far' : 'datum'} end.`);
  } else {
    if (Math.abs(meanMm) > SIZE_MM)
      tell(
        `It lies ${say(Math.abs(meanMm))} ${meanMm > 0 ? 'higher' : 'lower'} than zero says: touch Z again.`,
        Math.abs(meanMm) > 10 * SIZE_MM,
      );
    if (Math.abs(taperMm) > NOTHING_MM) tell(`It rises by ${say(Math.abs(taperMm))} towards its ${taperMm > 0 ? 'far' : 'datum'} end.`);
    if (across && Math.abs(across.tiltMm) > NOTHING_MM)
      tell(`It rises by ${say(Math.abs(across.tiltMm))} towards its ${across.tiltMm > 0 ? 'upper' : 'lower'} edge.`);
    if (across && Math.abs(across.bowMm) > NOTHING_MM)
      tell(
        `Its middle stands ${say(Math.abs(across.bowMm))} ${across.bowMm > 0 ? 'higher' : 'lower'} than its ${across.cornered ? 'corners' : 'edge'}${across.bowMm > 0 ? ': a clamped board bows so' : ''}.` +
          (Math.abs(across.bowMm) > CLAMP_ANEW_MM ? ' Slacken the clamps, or hold it down in the middle.' : ''),
        Math.abs(across.bowMm) > CLAMP_ANEW_MM,
      );
  }
  tell(`The surface lies from ${say(leastMm)} to ${say(mostMm)} off the drawn one; besides what is said here it is within ${say(restMm)}.`);
  return out.sort((a, b) => Number(b.urgent) - Number(a.urgent));
}
