/** A value brought to within half a period of 0: in [−period/2, period/2). */
export const wrapTo = (value: number, period: number): number => value - period * Math.floor(value / period + 0.5);

/** An angle in [−π, π). */
export const wrapToTurn = (rad: number): number => wrapTo(rad, 2 * Math.PI);

/** An angle in [−180, 180). */
export const wrapDeg = (deg: number): number => wrapTo(deg, 360);
