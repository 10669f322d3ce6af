import type { CutterShape } from './cutterShape';
import type { DepthField, Load } from './field';
import type { SweptSurface } from './kernel';
import type { Piece } from './piece';

/** Takes what a cutter sweeps out of a depth field. The work itself is done in `native/sweep/kernel.cpp`. */
export class Sweeper {
  private notes = false;
  /** Cells that were asked of the field before. */
  private askedBefore: number;

  constructor(
    private readonly field: DepthField,
    surface: SweptSurface,
  ) {
    field.bind(surface);
    this.askedBefore = field.kernel.exports.getAsked();
  }

  /** Cells that were asked since noting began: the measure of work. */
  get cells(): number {
    return this.field.kernel.exports.getAsked() - this.askedBefore;
  }

  /** Goes on with another cutter, from anywhere. */
  use(shape: CutterShape): void {
    this.breakOff();
    this.field.kernel.setShape(shape);
  }

  /** What comes next does not go on from where the last piece ended. */
  breakOff(): void {
    this.field.kernel.exports.breakOff();
  }

  /** Sweeps the cutter along a piece that goes on from the one before. */
  sweep(piece: Piece, motion: number): void {
    const { kernel } = this.field;
    kernel.setPiece(piece);
    kernel.exports.sweep(motion);
  }

  /** From here on what each motion takes is added to a load, and tiles note which motions reached them; until `stopNoting`. */
  startNoting(load: Load): void {
    this.askedBefore = this.field.kernel.exports.getAsked();
    this.field.setLoad(load);
    for (const tile of this.field.tiles) tile.forgetNoted();
    this.setModes(true, null);
  }

  /** @returns The load as it has become. */
  stopNoting(): Load {
    this.setModes(false, null);
    return this.field.takeLoad();
  }

  /** Tiles that would be reached from here on are put into a set instead of being cut; null to cut them again. */
  collect(keys: Set<number> | null): void {
    this.setModes(this.notes, keys);
  }

  private setModes(notes: boolean, keys: Set<number> | null): void {
    this.notes = notes;
    this.field.collected = keys;
    this.field.kernel.exports.setModes(Number(notes), keys ? 1 : 0);
  }
}
