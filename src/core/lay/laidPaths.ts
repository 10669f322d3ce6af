import type { Work } from '../machine/stance';

/** What a move is for. `cut` and `plunge` run at feed, the others are rapid. */
export const MOVE = { start: 0, hop: 1, approach: 2, plunge: 3, cut: 4, retract: 5, park: 6 } as const;
export type MoveKind = (typeof MOVE)[keyof typeof MOVE];
export const isFeedMove = (kind: number): boolean => kind === MOVE.plunge || kind === MOVE.cut;

/**
 * The tool's whole way over the blank, a list of moves in order. Move i goes from where i − 1 ended to
 * `sheet[3i..]` = x, y, depth (negative above the surface); between the two all three change linearly.
 * `tip` and `axis` are the same end in the blank frame: tip point, mm, and unit tool axis from tip to spindle.
 */
export interface LaidPaths {
  count: number;
  kind: Uint8Array;
  /** Index of the run among the set-up's runs, and of the level in its cut. */
  run: Uint16Array;
  level: Uint16Array;
  sheet: Float64Array;
  tip: Float64Array;
  axis: Float64Array;
  /** Feed of the tip along the material, mm/min; 0 for rapid. */
  feedMmPerMin: Float64Array;
}

/** Strokes of one level of one run, in running order. */
export interface Pass {
  run: number;
  level: number;
  strokes: Float64Array[];
}

export interface CutMotion {
  feedMmPerMin: number;
  plungeMmPerMin: number;
}

export interface MotionHeights {
  parkHeightMm: number;
  hopHeightMm: number;
  approachGapMm: number;
}

/** Two strokes that meet closer than this are run without lifting, mm. */
const JOIN_MM = 1e-6;

/** Tip and tool axis below a sheet point; depth is measured along the tool. */
export function poseAt(work: Work, x: number, y: number, depth: number, frame: Float64Array, tip: Float64Array, axis: Float64Array): void {
  work.poseInto(x, y, frame);
  for (let k = 0; k < 3; k++) {
    axis[k] = frame[3 + k]!;
    tip[k] = frame[k]! - depth * frame[3 + k]!;
  }
}

/**
 * Links passes into one way: from park to hop height, across, down to the approach gap by rapid, in by plunge feed,
 * along the stroke, and straight up again. The tool never crosses between strokes below hop height.
 * Between runs it goes up to park height, where the tool can be changed.
 * @param motions Feeds by run.
 */
export function layPaths(work: Work, passes: readonly Pass[], motions: readonly CutMotion[], heights: MotionHeights): LaidPaths {
  const kind: number[] = [],
    run: number[] = [],
    level: number[] = [],
    feed: number[] = [],
    sheet: number[] = [];
  const add = (k: MoveKind, pass: Pass, x: number, y: number, depth: number, feedMmPerMin: number) => {
    kind.push(k);
    run.push(pass.run);
    level.push(pass.level);
    sheet.push(x, y, depth);
    feed.push(feedMmPerMin);
  };
  const here = () => sheet.slice(-3) as [number, number, number];
  let currentRun = -1;
  let last: Pass | null = null;
  for (const pass of passes) {
    const { feedMmPerMin, plungeMmPerMin } = motions[pass.run]!;
    for (const points of pass.strokes) {
      const x = points[0]!,
        y = points[1]!,
        depth = points[2]!;
      if (currentRun !== pass.run) {
        if (last) add(MOVE.park, last, here()[0], here()[1], -heights.parkHeightMm, 0);
        add(last ? MOVE.hop : MOVE.start, pass, x, y, -heights.parkHeightMm, 0);
        add(MOVE.approach, pass, x, y, -heights.hopHeightMm, 0);
        add(MOVE.approach, pass, x, y, -heights.approachGapMm, 0);
        add(MOVE.plunge, pass, x, y, depth, plungeMmPerMin);
      } else {
        const [px, py, pd] = here();
        if (Math.hypot(px - x, py - y, pd - depth) > JOIN_MM) {
          add(MOVE.retract, pass, px, py, -heights.hopHeightMm, 0);
          add(MOVE.hop, pass, x, y, -heights.hopHeightMm, 0);
          add(MOVE.approach, pass, x, y, -heights.approachGapMm, 0);
          add(MOVE.plunge, pass, x, y, depth, plungeMmPerMin);
        }
      }
      for (let i = 3; i < points.length; i += 3) add(MOVE.cut, pass, points[i]!, points[i + 1]!, points[i + 2]!, feedMmPerMin);
      currentRun = pass.run;
      last = pass;
    }
  }
  if (last) add(MOVE.park, last, here()[0], here()[1], -heights.parkHeightMm, 0);

  const count = kind.length;
  const tip = new Float64Array(3 * count);
  const axis = new Float64Array(3 * count);
  const frame = new Float64Array(6);
  for (let i = 0; i < count; i++) {
    poseAt(
      work,
      sheet[3 * i]!,
      sheet[3 * i + 1]!,
      sheet[3 * i + 2]!,
      frame,
      tip.subarray(3 * i, 3 * i + 3),
      axis.subarray(3 * i, 3 * i + 3),
    );
  }
  return {
    count,
    kind: Uint8Array.from(kind),
    run: Uint16Array.from(run),
    level: Uint16Array.from(level),
    sheet: Float64Array.from(sheet),
    tip,
    axis,
    feedMmPerMin: Float64Array.from(feed),
  };
}
