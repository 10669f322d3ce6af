import { MOVE } from '../lay/laidPaths';
import { getRadiusSlackMm } from './arc';
import { fitArc, lies } from './arcFit';
import type { AxisWords } from './axisWords';
import type { ProgramInput } from './dialect';
import { getLengthDigits, getUnitMm } from './units';
import { formatWord } from './words';

/** An arc is sought over so many blocks. */
const MOST_ARC_BLOCKS = 400;
/** Share of what controls allow by which its ends may differ in radius. */
const SLACK_SHARE = 0.9;
/** One that rises less over its chord is straight, mm. */
const LEAST_RISE_MM = 2e-4;

/** An arc as it is written; the words of its end are yet to be taken. */
export interface WrittenArc {
  /** The last block that stands on it. */
  last: number;
  clockwise: boolean;
  /** I and J, from the place that was written last to the centre. */
  centreWords: readonly [string, string];
  /** Centre as it is read, in the program's unit. */
  centre: readonly [number, number];
  timeMin: number;
}

/**
 * An arc from where the tool stands over as many blocks of a stroke as lie on it within the machine's tolerance, about a centre of as many
 * digits as are written; null where there is none. Only where X and Y alone move.
 */
export function findArc({ moves, laid, kinematics, job }: ProgramInput, i: number, { rounded }: AxisWords): WrittenArc | null {
  const first = moves.move[i]!;
  if (laid.kind[first] !== MOVE.cut || rounded.some(Number.isNaN)) return null;
  const n = kinematics.axes.length;
  const goesOn = (k: number): boolean => {
    const move = moves.move[k]!;
    if (laid.kind[move] !== MOVE.cut || laid.run[move] !== laid.run[first] || laid.feedMmPerMin[move] !== laid.feedMmPerMin[first]) {
      return false;
    }
    for (let a = 2; a < n; a++) if (moves.values[n * k + a] !== moves.values[n * (i - 1) + a]) return false;
    return true;
  };
  let end = i - 1;
  while (end + 1 < moves.count && end - i < MOST_ARC_BLOCKS && goesOn(end + 1)) end++;
  const { arcMm } = job.machine;
  const way = (k: number): readonly [number, number] => [moves.values[n * k]!, moves.values[n * k + 1]!];
  const arc = fitArc(way, i - 1, end, arcMm);
  if (!arc) return null;
  const perMm = 1 / getUnitMm(job.machine);
  const digits = getLengthDigits(job.machine);
  const [x0, y0] = [rounded[0]!, rounded[1]!];
  const centreWords = [formatWord(arc.centre[0] * perMm - x0, digits), formatWord(arc.centre[1] * perMm - y0, digits)] as const;
  const [iUnits, jUnits] = [Number(centreWords[0]), Number(centreWords[1])];
  const centre = [x0 + iUnits, y0 + jUnits] as const;
  const slackMm = arcMm + (0.75 * 10 ** -digits) / perMm;
  const radiusMm = Math.hypot(iUnits, jUnits) / perMm;
  if (!lies(way, i - 1, arc.last, [centre[0] / perMm, centre[1] / perMm], radiusMm, arc.clockwise, slackMm)) return null;
  // Its end as it is read, too, has to be as far from the centre as controls want it; and it has to be bent, or lines will do.
  const [x1, y1] = [0, 1].map((k) => Number(formatWord(way(arc.last)[k]! * perMm, digits))) as [number, number];
  const endRadiusMm = Math.hypot(x1 - centre[0], y1 - centre[1]) / perMm;
  if (Math.abs(endRadiusMm - radiusMm) > SLACK_SHARE * getRadiusSlackMm(1 / perMm)) return null;
  const halfMm = Math.hypot(x1 - x0, y1 - y0) / perMm / 2;
  if (radiusMm - Math.sqrt(Math.max(0, radiusMm * radiusMm - halfMm * halfMm)) < LEAST_RISE_MM) return null;
  let timeMin = 0;
  for (let k = i; k <= arc.last; k++) timeMin += moves.feedTimeMin[k]!;
  return { last: arc.last, clockwise: arc.clockwise, centreWords, centre, timeMin };
}
