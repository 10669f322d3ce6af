import Papa from 'papaparse';
import { err, ok, type Result } from '../base/result';
import type { Measured } from '../job/measured';
import type { Setup } from '../pipeline/setup';
import { AXIS_LETTERS } from '../program/motions';
import { fromTurnDeg } from '../surface/surface';
import { goOnPast } from './goOn';
import { findDoubts } from './doubts';
import { hashBlank, isArc, isTouched, listPlaces, type ProbeGrid } from './grid';

/** What is wrong with what a probe left, each in a line. */
export interface ResultsRefusal {
  kind: 'unreadable';
  lines: string[];
  /** Places that are in the way by what was found there alone, by name: they can be accepted. Empty where more is wrong. */
  doubted: string[];
}

/** What of a log is taken. */
export interface TakenTouches {
  /** How far over and under the drawn surface the probe sought, mm: it cannot have found more. */
  searchMm?: number;
  /** Names of places that are right though they stand out, as a refusal names them. */
  accept?: readonly string[];
}

/** Slack on what a search can have found, and on where it ends without a touch, mm. */
const SEARCH_SLACK_MM = 0.02;

/** A touch lies no farther than this beside the way along which its place is sought, mm: encoders and digits, not another Y zero. */
const BESIDE_MM = 0.1;
/** A touch belongs to a place of the grid if it is no farther from it than this share of the way to the next. */
const NEAR_SHARE = 0.4;
/** A surface farther from the drawn one than this is another blank, or another unit, mm. */
const MOST_OFF_MM = 20;
/** Missing places that are named one by one. */
const MOST_NAMED = 4;

/**
 * Reads where a probe touched a blank: one line a touch, X Y Z A B C as the control's words had them, apart by spaces, commas or
 * semicolons, or under a head that names the columns. Common practice of controls that log probes, no source. Lines that begin with a
 * bracket or a sign for remarks are left out.
 * @param ballMm Diameter of the probe's ball: where the tool leans it touches beside its lowest place.
 * @returns The map; or why not: also where a search ended without a touch, or a touch stands out of those beside it and is not accepted.
 */
export function readProbeResults(
  text: string,
  setup: Setup,
  grid: ProbeGrid,
  ballMm: number,
  { searchMm = Infinity, accept = [] }: TakenTouches = {},
): Result<Measured, ResultsRefusal> {
  const rows = readRows(
    text,
    setup.kinematics.axes.map((a) => a.letter),
  );
  if (!rows.ok) return rows;
  const { job, kinematics, ground, surface } = setup;
  const { xMm, turnDeg } = listPlaces(job.blank, surface, grid);
  const ys = turnDeg.map((deg) => fromTurnDeg(surface, deg));
  const unitMm = job.machine.programUnit === 'in' ? 25.4 : 1;
  const mm: (number | null)[][] = xMm.map(() => ys.map(() => null));
  const lines: string[] = [];
  const tip = new Float64Array(3),
    axis = new Float64Array(3),
    frame = new Float64Array(6);
  let farthestMm = 0;
  for (const { line, words } of rows.value) {
    const values = kinematics.axes.map(({ letter, kind }) => words[letter]! * (kind === 'linear' ? unitMm : 1));
    kinematics.forward(values, tip, axis);
    const at = ground.toSheet(tip[0]!, tip[1]!, tip[2]!);
    const [i, j] = [findNearest(xMm, at.x, null), findNearest(ys, at.y, surface.periodMm)];
    if (i < 0 || j < 0) {
      lines.push(
        `line ${line}: the touch at ${at.x.toFixed(2)} mm along is at no place of a grid of ${grid.along} × ${grid.round}${grid.within ? ' under the lettering as it is now' : ''}`,
      );
      continue;
    }
    ground.frameInto(xMm[i]!, ys[j]!, frame);
    const facing = Math.max(0.2, axis[0]! * frame[3]! + axis[1]! * frame[4]! + axis[2]! * frame[5]!);
    // Along the tool; a ball that leans touches the surface beside its lowest place.
    const off = at.heightMm / facing - (ballMm / 2) * (1 / facing - 1);
    const alongTool = at.heightMm / facing;
    const besideMm = measureBeside(tip, frame, axis);
    farthestMm = Math.max(farthestMm, Math.abs(off));
    const name = nameOf(i, j);
    if (alongTool < SEARCH_SLACK_MM - searchMm)
      lines.push(
        `line ${line}: the search at ${name} ended without a touch, ${searchMm} mm under the drawn surface: touch it again, or seek farther`,
      );
    else if (alongTool > searchMm + SEARCH_SLACK_MM)
      lines.push(
        `line ${line}: the touch at ${name} lies ${off.toFixed(2)} mm over the drawn surface, where a search of ${searchMm} mm had not begun: touch it again`,
      );
    else if (besideMm > BESIDE_MM)
      lines.push(
        `line ${line}: the touch at ${name} was made ${besideMm.toFixed(2)} mm beside the way that its search takes: set the zero of what does not turn anew, or take the log of this job’s own program`,
      );
    if (mm[i]![j] !== null) lines.push(`line ${line}: the place ${name} was touched before`);
    else mm[i]![j] = off;
  }
  if (farthestMm > MOST_OFF_MM) {
    const other = job.machine.programUnit === 'in' ? 'millimetres' : 'inches';
    return refuse([
      `the touches lie up to ${farthestMm.toFixed(0)} mm from the drawn blank: another zero, another blank, or ${other} in the file`,
    ]);
  }
  const missing = mm.flatMap((row, i) =>
    row.flatMap((v, j) => (v === null && isTouched(surface, xMm[i]!, turnDeg[j]!) ? [nameOf(i, j)] : [])),
  );
  if (missing.length > 0)
    lines.push(
      `${missing.length} of ${xMm.length * ys.length} places are missing: ${missing.slice(0, MOST_NAMED).join('; ')}${missing.length > MOST_NAMED ? '; and more' : ''}`,
    );
  if (lines.length > 0) return refuse(lines);
  const found = mm.map((row) => row.map((v) => v ?? NaN));
  const isRing = surface.periodMm !== null && !isArc(turnDeg);
  const doubts = findDoubts(found, isRing, (i, j) => accept.includes(nameOf(i, j)));
  if (doubts.length > 0)
    return refuse(
      doubts.map(
        ({ along, round, byMm }) =>
          `${nameOf(along, round)} stands ${Math.abs(byMm).toFixed(2)} mm ${byMm > 0 ? 'over' : 'under'} the places beside it: dirt, a chip, or a false touch. Touch it again, or accept it if the blank really is so`,
      ),
      doubts.map(({ along, round }) => nameOf(along, round)),
    );
  return ok(createMeasured(setup, grid, found));
}

/** How far a touch lies beside the line through its place along the tool, mm. */
function measureBeside(tip: Float64Array, place: Float64Array, axis: Float64Array): number {
  const off = [0, 1, 2].map((k) => tip[k]! - place[k]!);
  const along = off.reduce((sum, d, k) => sum + d * axis[k]!, 0);
  return Math.hypot(...off.map((d, k) => d - along * axis[k]!));
}

const nameOf = (along: number, round: number): string => `${along + 1} along, ${round + 1} round`;

const refuse = (lines: string[], doubted: string[] = []): { ok: false; error: ResultsRefusal } =>
  err({ kind: 'unreadable', lines, doubted });

/** A map from its entries; it goes on over places beside the blank, which nobody touches (NaN), as it is at the nearest that are on it. */
export function createMeasured({ job, surface }: Setup, grid: ProbeGrid, mm: number[][]): Measured {
  const { xMm, turnDeg } = listPlaces(job.blank, surface, grid);
  const ys = turnDeg.map((deg) => fromTurnDeg(surface, deg));
  const whole = goOnPast(xMm, ys, mm).map((row) => row.map(round6));
  return { xMm, turnDeg, mm: whole, follows: true, blank: hashBlank(job.blank) };
}

const round6 = (v: number): number => Math.round(v * 1e6) / 1e6;

/** The nearest knot, if a place is near enough to it; else −1. */
function findNearest(knots: readonly number[], v: number, period: number | null): number {
  const away = (k: number): number => {
    const d = knots[k]! - v;
    return Math.abs(period === null ? d : d - period * Math.round(d / period));
  };
  let best = 0;
  for (let k = 1; k < knots.length; k++) if (away(k) < away(best)) best = k;
  const spacing = knots.length > 1 ? Math.min(...knots.slice(1).map((k, i) => k - knots[i]!)) : Infinity;
  return away(best) <= NEAR_SHARE * spacing ? best : -1;
}

interface Row {
  /** In the text, from 1. */
  line: number;
  words: Record<string, number>;
}

/** @param letters That each line has to say. */
function readRows(text: string, letters: readonly string[]): Result<Row[], ResultsRefusal> {
  const lines: string[] = [];
  const rows: Row[] = [];
  let columns: string[] = [...AXIS_LETTERS];
  text.split(/\r?\n/).forEach((raw, k) => {
    const own = raw.trim();
    if (own === '' || /^[(;#%]/.test(own)) return;
    const tidy = own
      .replace(/[;\t ]+/g, ',')
      .replace(/,+/g, ',')
      .replace(/^,|,$/g, '');
    const cells = (Papa.parse<string[]>(tidy, { delimiter: ',' }).data[0] ?? []).map((c) => c.trim());
    if (cells.every((c) => /^[XYZABC]$/i.test(c))) {
      columns = cells.map((c) => c.toUpperCase());
      return;
    }
    // Words with their letters say themselves.
    const words: Record<string, number> = {};
    cells.forEach((cell, c) => {
      const named = /^([XYZABC])\s*(.+)$/i.exec(cell);
      const letter = named ? named[1]!.toUpperCase() : columns[c];
      if (letter) words[letter] = Number(named ? named[2] : cell);
    });
    const bad = letters.find((l) => !Number.isFinite(words[l]));
    if (bad !== undefined) lines.push(`line ${k + 1}: there is no number for ${bad}`);
    else rows.push({ line: k + 1, words });
  });
  if (lines.length > 0) return refuse(lines);
  return rows.length > 0 ? ok(rows) : refuse(['there is no touch in it: one line a touch, with X Y Z and what turns']);
}
