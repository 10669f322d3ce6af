/**
 * A piece of the tool's way in the blank frame, s from 0 to 1: tip(s) = tip + s·move + s(s − 1)·bow, and the axis alike. Short enough
 * that the bow is small.
 */
export interface Piece {
  tip: Float64Array;
  move: Float64Array;
  bow: Float64Array;
  axis: Float64Array;
  axisMove: Float64Array;
  axisBow: Float64Array;
}

export const createPiece = (): Piece => ({
  tip: new Float64Array(3),
  move: new Float64Array(3),
  bow: new Float64Array(3),
  axis: new Float64Array(3),
  axisMove: new Float64Array(3),
  axisBow: new Float64Array(3),
});
