import type { Job } from '../job/schema';
import type { ConductFault } from '../proof/conduct';
import type { EdgeProof, LeftOut } from '../proof/edge';
import { getTitle } from '../job/title';
import type { Setup } from '../pipeline/setup';
import type { Program } from '../program/dialect';
import type { ProgramFault } from '../program/interpreter';
import { DIALECTS } from '../program/registry';
import type { Tool } from '../job/toolSchema';
import { getWordLimits, getZeroHeightMm } from '../machine/limits';
import { measureOwnAxes } from '../proof/axisSpan';
import type { ProgramPlace, ReadBack } from '../proof/readBack';
import { toTurnDeg, type Surface } from '../surface/surface';
import { makeFinding, type Finding, type Where } from './finding';

/** The tip may leave the plan by this, or by the program's last digits if that is more, µm; and by the machine's chord tolerance. */
export const TIP_TOLERANCE_UM = 1;
/** More than this outside the lettering is no rounding: it would be seen, µm. */
const OUTSIDE_LIMIT_UM = 10;
/** More than this left inside is more than a blunt tip leaves in the corners of letters, µm. */
const LEFT_LIMIT_UM = 100;
/** Faults of one kind reported one by one; more would bury the rest. */
const MAX_LISTED = 3;

const inProgram = ({ line }: ProgramPlace): Where => ({ station: 'program', line: line + 1 });

/** Findings from reading the program back. */
export function findReadBackFaults(job: Pick<Job, 'machine' | 'cuts'>, back: ReadBack): Finding[] {
  const { machine } = job;
  const out: Finding[] = [];
  const limitUm = Math.max(TIP_TOLERANCE_UM, back.lastDigitUm) + 1000 * (machine.chordToleranceMm + (back.arcs > 0 ? machine.arcMm : 0));
  if (!(back.maxTipUm <= limitUm)) out.push(makeFinding('deviation', inProgram(back.worst), { um: back.maxTipUm, limitUm }));
  if (back.mirrored) out.push(makeFinding('mirrored-program', { station: 'blank' }, {}));
  out.push(...findLongLines(back.faults));
  const hasOwn = Object.values(machine.ownBlocks).some((text) => text);
  for (const fault of isSaidOfJob(job) ? [] : back.faults.filter((f) => !f.tooLong).slice(0, MAX_LISTED)) {
    out.push(makeFinding('program-fault', inProgram(fault), { what: `line ${fault.line + 1}, ${fault.text}`, hasOwn }));
  }
  if (back.rapidInWork) out.push(makeFinding('rapid-in-work', { station: 'cuts', line: back.rapidInWork.line + 1 }, {}));
  return out;
}

/** Lines of more characters than the machine takes, all in one finding. */
export function findLongLines(faults: readonly (ProgramFault & ProgramPlace)[]): Finding[] {
  const long = faults.flatMap((f) => (f.tooLong ? [{ ...f, ...f.tooLong }] : []));
  if (!long[0]) return [];
  const { line, limit } = long[0];
  const characters = long.reduce((most, f) => Math.max(most, f.characters), 0);
  return [makeFinding('line-too-long', inProgram(long[0]), { line: line + 1, lines: long.length, characters, limit })];
}

/** Files of more lines than the machine takes. */
export function findLengthFaults({ machine }: Pick<Job, 'machine'>, { parts }: Pick<Program, 'parts'>): Finding[] {
  const limit = machine.mostLines;
  const lines = Math.max(0, ...parts.map((p) => p.lines.length));
  return limit > 0 && lines > limit ? [makeFinding('file-too-long', { station: 'program' }, { lines, limit })] : [];
}

/** Axes that go farther than the machine can: wherever its zero is, and, where that is known, from where it is. */
export function findTravelFaults(setup: Pick<Setup, 'job' | 'kinematics' | 'runs'>, { readings }: Pick<ReadBack, 'readings'>): Finding[] {
  const { machine } = setup.job;
  const spans = measureOwnAxes(setup.kinematics, readings);
  const limits = getWordLimits(setup.job, setup.kinematics);
  const where = { station: 'program' } as const;
  const out: Finding[] = [];
  for (const { letter, kind, from, to, fromLine, toLine } of spans) {
    const unit = kind === 'rotary' ? '°' : 'mm';
    const travelMm = letter === 'X' || letter === 'Y' || letter === 'Z' ? machine.travelMm[letter] : 0;
    const [least, most] = limits[letter]!;
    if (travelMm > 0 && to - from > travelMm) out.push(makeFinding('travel-short', where, { letter, from, to, travelMm }));
    else if (from < least - LIMIT_SLACK)
      out.push(makeFinding('travel-left', { ...where, line: fromLine + 1 }, { letter, to: from, limit: least, unit }));
    else if (to > most + LIMIT_SLACK)
      out.push(makeFinding('travel-left', { ...where, line: toLine + 1 }, { letter, to, limit: most, unit }));
  }
  const { noseMm } = machine.standsAt;
  const top = spans.find((s) => s.letter === 'Z')!.to + getZeroHeightMm(setup.job);
  const gauge = (t: Tool): number => t.stickOutMm + t.holderLengthMm;
  const longest = setup.runs.map((r) => r.tool).reduce<Tool | null>((best, t) => (best && gauge(best) >= gauge(t) ? best : t), null);
  if (noseMm > 0 && longest && top + gauge(longest) > noseMm)
    out.push(makeFinding('nose-too-low', where, { mm: top + gauge(longest) - noseMm, tool: longest.name }));
  return out;
}

/** Slack for the last digits of words. */
const LIMIT_SLACK = 0.01;

/** Whether a control cannot do what its job asks for: that is said of the job, and what comes of it is no fault of the program. */
const isSaidOfJob = (job: Pick<Job, 'machine' | 'cuts'>): boolean => DIALECTS[job.machine.dialect].cannot(job).length > 0;

/** Findings from how the program behaves: tools, spindle, changes, heights, end. The first few of each kind. */
export function findConduct(job: Pick<Job, 'machine' | 'cuts'>, faults: readonly ConductFault[]): Finding[] {
  const listed = new Map<string, number>();
  const isSaid = isSaidOfJob(job);
  return faults.flatMap((fault) => {
    if (isSaid && (fault.kind === 'wrong-tool' || fault.kind === 'wrong-length')) return [];
    const count = (listed.get(fault.kind) ?? 0) + 1;
    listed.set(fault.kind, count);
    return count > MAX_LISTED ? [] : [wordConduct(fault)];
  });
}

function wordConduct(fault: ConductFault): Finding {
  const where = inProgram(fault);
  switch (fault.kind) {
    case 'wrong-tool': {
      const { name, tool } = fault.run;
      return makeFinding('wrong-tool', where, { name, needs: `T${tool.number}, ${tool.name}`, found: fault.found });
    }
    case 'wrong-length': {
      const { name, tool } = fault.run;
      return makeFinding('wrong-length', where, { name, needs: tool.number, found: fault.found });
    }
    case 'spindle-wrong':
      return makeFinding('spindle-wrong', where, { name: fault.run.name, rpm: fault.rpm, wantedRpm: Math.round(fault.run.spindleRpm) });
    case 'change-unsafe':
      return makeFinding('change-unsafe', where, { what: fault.what });
    case 'too-low':
      return makeFinding('too-low', where, fault);
    case 'rapid-touches':
      return makeFinding('rapid-in-work', where, {});
    case 'corners-wrong':
      return makeFinding('corners-wrong', where, { foundMm: fault.foundMm, wantedMm: fault.wantedMm });
    case 'end-unsafe':
      return makeFinding('end-unsafe', where, { what: fault.what });
  }
}

/** Findings from the proof of the edge: what is cut against what was drawn. */
export function findEdgeFaults(edge: EdgeProof | null, surface: Pick<Surface, 'mmPerRad'>): Finding[] {
  if (!edge) return [];
  const at = ([x, y]: [number, number]): Where => ({ station: 'cuts', xMm: x, turnDeg: toTurnDeg(surface, y) });
  const out: Finding[] = [];
  if (!(edge.maxOutsideUm <= OUTSIDE_LIMIT_UM)) out.push(makeFinding('edge-outside', at(edge.outsideAt), { um: edge.maxOutsideUm }));
  if (!(edge.maxUncutUm <= LEFT_LIMIT_UM)) out.push(makeFinding('edge-left', at(edge.uncutAt), { um: edge.maxUncutUm }));
  return out;
}

/** Findings on lettering that is not cut, or not as it is drawn: each inscription with its letters and how much of each is. */
export function findLeftOut({ job, runs }: Pick<Setup, 'job' | 'runs'>, leftOut: readonly LeftOut[]): Finding[] {
  return leftOut.map(({ run, inscription, letters, share }) => {
    const name = getTitle(job.inscriptions.find((i) => i.id === inscription)!);
    const cut = runs.find((r) => r.id === run)!.name;
    const data = { name, cut, letters, percent: 100 * share, whole: share <= 0 };
    return makeFinding('left-out', { station: 'cuts', id: run, name: cut }, data);
  });
}
