/**
 * The G94 word under which a block takes a given time: where X, Y or Z moves, F applies to their path alone; where only
 * a rotary moves, F is in degrees/min. Worked out from the rounded words, so that the time holds for the shortest block.
 * @param before, after Axis values in the program's unit and degrees.
 */
export function compensateFeed(before: Float64Array, after: Float64Array, isRotary: readonly boolean[], timeMin: number): number {
  let linear = 0;
  let turn = 0;
  after.forEach((v, k) => {
    const d = v - before[k]!;
    if (isRotary[k]) turn += d * d;
    else linear += d * d;
  });
  return Math.sqrt(linear > 0 ? linear : turn) / timeMin;
}

/** The same for an arc between two places about a centre, by its length. */
export function compensateArcFeed(
  before: ArrayLike<number>,
  after: ArrayLike<number>,
  centre: readonly [number, number],
  timeMin: number,
): number {
  const [ax, ay] = [before[0]! - centre[0], before[1]! - centre[1]];
  const [bx, by] = [after[0]! - centre[0], after[1]! - centre[1]];
  return (Math.hypot(ax, ay) * Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by))) / timeMin;
}
