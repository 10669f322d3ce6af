import type { Steps } from '../base/steps';
import type { Tool } from '../job/schema';
import type { Lettering } from '../pipeline/lettering';
import type { Setup } from '../pipeline/setup';
import type { ProgramReading } from '../program/interpreter';
import { chooseCellMm, type CellChoice } from './cellSize';
import { findDangers, type Danger } from './dangers';
import { createTrack, Removal, type Track } from './removal';
import { measureTruth, type Truth } from './truth';
import { applyWhatIf, AS_PLANNED, isAsPlanned, type WhatIf } from './whatIf';

/** What a program, read from its text, makes of the blank. */
export interface FieldProof {
  removal: Removal;
  choice: CellChoice;
  truth: Truth;
  dangers: Danger[];
}

export interface ProveOptions {
  whatIf?: WhatIf;
  /** Factor on the cells that are chosen, for a first sketch. */
  coarser?: number;
  /** Which motions cut; all if left out. */
  takes?(track: Track, motion: number): boolean;
}

/**
 * Runs a program on the blank and measures what it leaves.
 * @param cellMm Size of the cells, mm; null to choose it.
 * @throws RangeError if cells of that size would need more than the memory limit.
 */
export function* proveField(
  setup: Setup,
  lettering: Lettering,
  readings: readonly ProgramReading[],
  hand: readonly Tool[],
  cellMm: number | null = null,
  { whatIf = AS_PLANNED, takes, coarser = 1 }: ProveOptions = {},
): Steps<number, FieldProof> {
  const planned = createTrack(setup, readings, hand);
  const track = isAsPlanned(whatIf) ? planned : applyWhatIf(setup, planned, whatIf);
  const choice = chooseCellMm(setup, track);
  if (cellMm !== null && cellMm < choice.finestMm) {
    throw new RangeError(
      `cells of ${cellMm} mm would need more memory than there is for them; the finest that fit are ${choice.finestMm.toFixed(4)} mm`,
    );
  }
  const own = cellMm ?? coarser * choice.cellMm;
  const removal = new Removal(setup, track, own, takes && ((i) => takes(track, i)));
  yield* removal.run();
  return { removal, choice, truth: measureTruth(setup, lettering, removal.field, own), dangers: findDangers(setup, removal) };
}

/** Seconds at feed and at rapid of each run's tool, by the program's own times. */
export function splitTime({ track }: Removal): { cutting: number; air: number; perTool: { tool: string; seconds: number }[] } {
  let cutting = 0,
    air = 0;
  const perTool = track.tools.map((t) => ({ tool: t.name, seconds: 0 }));
  for (let i = 1; i < track.count; i++) {
    const seconds = track.timesS[i]! - track.timesS[i - 1]!;
    if (track.rapid[i]) air += seconds;
    else cutting += seconds;
    if (track.tool[i]! >= 0) perTool[track.tool[i]!]!.seconds += seconds;
  }
  return { cutting, air, perTool: perTool.filter((t) => t.seconds > 0) };
}
