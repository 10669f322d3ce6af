import type { Steps } from '../base/steps';
import type { Tool } from '../job/schema';
import type { Lettering } from '../pipeline/lettering';
import type { Setup } from '../pipeline/setup';
import type { ProgramReading } from '../program/interpreter';
import { chooseCellMm, type CellChoice } from './cellSize';
import { judgeField, type Verdict } from '../intent/verdict';
import { findDangers, findTruthDangers, findVerdictDangers, type Danger } from './dangers';
import { createTrack, Removal, type Track } from './removal';
import { measureTruth, nothingMeasured, type Truth } from './truth';
import { applyWhatIf, AS_PLANNED, isAsPlanned, type WhatIf } from './whatIf';

/** What a program, read from its text, makes of the blank. */
export interface FieldProof {
  removal: Removal;
  choice: CellChoice;
  /** Nothing is measured of a sketch, and no dangers are looked for. */
  truth: Truth;
  dangers: Danger[];
  /** The piece held against what the job means; null of a sketch, of a part of a program, and of what if. */
  verdict: Verdict | null;
  /** In cells clearly coarser than those chosen: a first picture. */
  sketch: boolean;
}

export interface ProveOptions {
  whatIf?: WhatIf;
  /** Factor on the cells that are chosen, for a first sketch: of that nothing is measured, if its cells are really coarser. */
  coarser?: number;
  /** A removal on the same blank and machine to go on from, where the programs are much the same; it must not be used again. */
  after?: Removal | null;
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
  { whatIf = AS_PLANNED, takes, coarser = 1, after = null }: ProveOptions = {},
): Steps<number, FieldProof> {
  const planned = createTrack(setup, readings, hand);
  const track = isAsPlanned(whatIf) ? planned : applyWhatIf(setup, planned, whatIf);
  const choice = chooseCellMm(setup, track);
  if (cellMm !== null && cellMm < choice.finestMm) {
    throw new RangeError(
      `cells of ${cellMm} mm would need more memory than there is for them; the finest that fit are ${choice.finestMm.toFixed(4)} mm`,
    );
  }
  const near = after?.isNear(track) ? after : null;
  const own = cellMm ?? (near && suits(near.cellMm, choice) ? near.cellMm : coarser * choice.cellMm);
  const goesOn = near?.cellMm === own;
  const removal = new Removal(setup, track, own, takes && ((i) => takes(track, i)), goesOn ? near.field : undefined);
  if (goesOn) yield* removal.runAfter(near);
  else yield* removal.run();
  if (coarser > 1 && own > SKETCH_FROM * choice.cellMm) {
    return { removal, choice, truth: nothingMeasured(removal.field, own), dangers: [], verdict: null, sketch: true };
  }
  const truth = measureTruth(setup, lettering, removal.field, own);
  const verdict = isAsPlanned(whatIf) && !takes ? yield* judgeField(setup, lettering, removal.field) : null;
  const judged = verdict ? findVerdictDangers(setup, removal, verdict) : [];
  const dangers = [...findDangers(setup, removal), ...judged, ...findTruthDangers(setup, removal, truth)];
  return { removal, choice, truth, dangers, verdict, sketch: false };
}

/** Cells this much coarser than those chosen make a sketch. */
const SKETCH_FROM = 1.5;

/** Whether cells are fine enough for a choice, and not much finer than it asks. */
const suits = (cellMm: number, choice: CellChoice): boolean =>
  cellMm >= choice.finestMm && cellMm <= 1.001 * choice.cellMm && cellMm > 0.6 * choice.cellMm;

/** Time that a cut takes with its tool, feed and rapid, s. `cut` is null where the program is not the job's own. */
export interface CutTime {
  cut: string | null;
  tool: string;
  seconds: number;
}

/**
 * Seconds at feed and at rapid, and of each cut, by the program's own times.
 * @param cutAt Name of the cut that a line of a part belongs to; undefined for lines between two: those count to the one before.
 */
export function splitTime(
  { track }: Pick<Removal, 'track'>,
  cutAt: (part: number, line: number) => string | undefined = () => undefined,
): { cutting: number; air: number; perCut: CutTime[] } {
  let cutting = 0,
    air = 0;
  const perCut = new Map<string, CutTime>();
  let cut: string | null = null;
  for (let i = 1; i < track.count; i++) {
    const seconds = track.timesS[i]! - track.timesS[i - 1]!;
    if (track.rapid[i]) air += seconds;
    else cutting += seconds;
    cut = cutAt(track.part[i]!, track.line[i]!) ?? cut;
    if (track.tool[i]! < 0) continue;
    const tool = track.tools[track.tool[i]!]!.name;
    const key = JSON.stringify([cut, tool]);
    const sum = perCut.get(key) ?? { cut, tool, seconds: 0 };
    sum.seconds += seconds;
    perCut.set(key, sum);
  }
  return { cutting, air, perCut: [...perCut.values()].filter((t) => t.seconds > 0) };
}
