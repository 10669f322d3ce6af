/** Screen place of sheet points: x to the right, y up. */
export interface SheetView {
  k: number;
  toX(x: number): number;
  toY(y: number): number;
  fromX(px: number): number;
  fromY(py: number): number;
}
