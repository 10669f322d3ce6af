import { runSteps } from '../base/steps';
import type { Tool } from '../job/toolSchema';
import { createTool } from '../crib/starterTools';
import { createCut } from '../cut/kinds/registry';
import { layPaths } from '../lay/laidPaths';
import { computeAxisMoves } from '../machine/axisMoves';
import { toMachineValues } from '../machine/kinematics';
import { computeTimes, getAxisLimits } from '../machine/time';
import type { Setup } from '../pipeline/setup';
import { toPartText } from '../program/dialect';
import { DIALECTS } from '../program/registry';
import { fromTurnDeg } from '../surface/surface';
import { isTouched, listPlaces, type ProbeGrid } from './grid';

/** How a blank is probed. */
export interface ProbeSettings extends ProbeGrid {
  /** How far over and under the drawn surface it is sought, mm. */
  searchMm: number;
  feedMmPerMin: number;
  /** Diameter of the probe's ball, mm. */
  ballMm: number;
  toolNumber: number;
}

export const PROBE_DEFAULTS: ProbeSettings = {
  along: 5,
  round: 12,
  within: null,
  searchMm: 2,
  feedMmPerMin: 60,
  ballMm: 2,
  toolNumber: 90,
};

/** The probe crosses this much higher than where its search begins, mm. */
const OVER_MM = 3;

/** The probe as a cutter that never turns. */
const toProbe = ({ toolNumber, ballMm }: ProbeSettings): Tool =>
  createTool('probe', toolNumber, `probe, ball ${ballMm} mm`, 'ball', { diameterMm: ballMm, fluteLengthMm: ballMm, stickOutMm: 30 });

export type ProbeRefusal = { kind: 'no-word'; dialect: string; others: string[] } | { kind: 'off-blank' };

/** Why there is no probing program, as a sentence. */
export function describeProbeRefusal(refusal: ProbeRefusal): string {
  if (refusal.kind === 'off-blank') return 'No place of that grid is on the blank.';
  const { dialect, others } = refusal;
  const have = others.length === 0 ? 'No dialect of such controls has.' : `${others.join(' and ')} ${others.length > 1 ? 'have' : 'has'}.`;
  return `${dialect} has no word for a probe (G38.2). ${have}`;
}

/**
 * Writes a program that touches a blank at the places of a grid (G38.2, common practice, no source): to over each at a safe height, down
 * towards it along the tool until the probe trips, and up again. It stops with a fault where it does not trip within the search.
 * @returns The text, the places in the order in which they are touched, and how long it takes where each search runs to its end; or why
 * there is none.
 */
export function writeProbeProgram(
  setup: Setup,
  settings: ProbeSettings,
): { ok: true; text: string; places: [xMm: number, turnDeg: number][]; timeS: number } | { ok: false; error: ProbeRefusal } {
  const { job, kinematics, ground } = setup;
  const dialect = DIALECTS[job.machine.dialect];
  if (!dialect.rules.groups['G38.2']) {
    const others = Object.values(DIALECTS).filter((d) => d.rules.groups['G38.2'] && d.rules.keepsPoint === dialect.rules.keepsPoint);
    return { ok: false, error: { kind: 'no-word', dialect: dialect.name, others: others.map((d) => d.name) } };
  }
  const { xMm, turnDeg } = listPlaces(job.blank, setup.surface, settings);
  // Along one line and back along the next.
  const places = turnDeg
    .flatMap((turn, j) => (j % 2 ? [...xMm].reverse() : xMm).map((x): [number, number] => [x, turn]))
    .filter(([x, turn]) => isTouched(setup.surface, x, turn));
  if (places.length === 0) return { ok: false, error: { kind: 'off-blank' } };
  const { searchMm, feedMmPerMin } = settings;
  const hopHeightMm = searchMm + OVER_MM;
  const heights = { ...job.motion, hopHeightMm, approachGapMm: searchMm, parkHeightMm: Math.max(job.motion.parkHeightMm, hopHeightMm) };
  const strokes = places.map(([x, turn]) => Float64Array.of(x, fromTurnDeg(setup.surface, turn), searchMm));
  const tool = toProbe(settings);
  const own = {
    ...job,
    name: `${job.name}: PROBING ${settings.along} x ${settings.round}`,
    motion: heights,
    machine: { ...job.machine, feedMode: 'G94' as const, coolant: 'none' as const, files: 'one' as const, mostLines: 0 },
  };
  const laid = layPaths(
    ground,
    [{ run: 0, level: 0, strokes }],
    [{ feedMmPerMin, plungeMmPerMin: feedMmPerMin }],
    heights,
    job.machine.maxFeedMmPerMin,
    kinematics,
  );
  const moves = runSteps(computeAxisMoves(laid, ground, kinematics, job.machine.chordToleranceMm, hopHeightMm));
  const runs = [
    { cut: { ...createCut('centre-line', 'probe', 'probe'), name: 'touch the blank, spindle still' }, tool, before: [], spindleRpm: 0 },
  ];
  const program = runSteps(dialect.write({ job: own, kinematics, laid, moves, runs, probes: true }, 'none'));
  const times = computeTimes(
    toMachineValues(kinematics, moves.values),
    moves.feedTimeMin.map((t) => t * 60),
    getAxisLimits(kinematics.axes, 0, Math.abs(ground.topMm)),
  );
  return { ok: true, text: toPartText(program.parts[0]!), places, timeS: times[times.length - 1] ?? 0 };
}
