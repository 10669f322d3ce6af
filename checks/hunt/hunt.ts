/** Plans, judges and spoils drawn jobs, and holds the judge against rays that share no code with it. */
import { runSteps } from '../../src/core/base/steps';
import { getRing, type Rings } from '../../src/core/base/rings';
import type { FindingCode } from '../../src/core/findings/finding';
import { getStages } from '../../src/core/job/cutSchema';
import { parseJob } from '../../src/core/job/parse';
import { createLetterer } from '../../src/core/pipeline/lettering';
import { createPlanner } from '../../src/core/pipeline/plan';
import { createSetup, listToolsByHand } from '../../src/core/pipeline/setup';
import { readProgram, type ProgramReading } from '../../src/core/program/interpreter';
import { DIALECTS } from '../../src/core/program/registry';
import { toPartTexts } from '../../src/core/proof/readBack';
import { proveWhole } from '../../src/core/proof/whole';
import type { DepthField } from '../../src/core/removal/field';
import { proveField } from '../../src/core/removal/proveField';
import { createRandom, domeShapes, getEngines, getLibrary, type Planned } from '../../tests/support';
import { drawJob, type Drawn } from './draw';
import { createRayProbe } from './rays';

/** Findings of the judge. */
export const JUDGED: readonly FindingCode[] = ['too-deep', 'left-standing', 'stands-cut', 'tabs-missing'];
/** More blocks than this take too long to be worth it. */
const MOST_BLOCKS = 60_000;

export interface Outcome {
  drawn: Drawn;
  /**
   * `released` to be cut; `refused` for a reason that was found before the piece; `judged` by the piece alone; `invalid`, `empty`,
   * `large`.
   */
  status: 'released' | 'refused' | 'judged' | 'invalid' | 'empty' | 'large';
  codes: string[];
  text: string[];
  /** Places at which rays say otherwise than the judge released. */
  wrong: string[];
  /** Edits that changed the piece by more than 20 µm, and those of them that were seen. */
  edits: number;
  seen: number;
  missed: string[];
  ms: number;
}

/** Draws a job, plans and judges it. @param places Rays asked. @param edits Random edits tried. */
export async function huntOne(seed: number, places: number, edits: number): Promise<Outcome> {
  const start = performance.now();
  const drawn = drawJob(seed);
  const out: Outcome = { drawn, status: 'invalid', codes: [], text: [], wrong: [], edits: 0, seen: 0, missed: [], ms: 0 };
  const { job } = drawn;
  const parsed = parseJob(JSON.parse(JSON.stringify(job)));
  if (!parsed.ok) return { ...out, codes: parsed.error.problems.map((p) => `${p.path}: ${p.text}`) };
  const shapes = domeShapes();
  const lettering = createLetterer(await getLibrary(), () => '', shapes).compute(job);
  const setup = createSetup(job, shapes);
  const plan = runSteps(createPlanner((await getEngines()).voronoi).plan(setup, lettering));
  if (plan.moves.count === 0) return { ...out, status: 'empty', codes: plan.findings.map((f) => f.code) };
  if (plan.moves.count > MOST_BLOCKS) return { ...out, status: 'large' };
  const { findings, field } = runSteps(proveWhole(setup, lettering, plan));
  const spoiling = findings.filter((f) => f.severity === 'spoils');
  out.codes = [...new Set(spoiling.map((f) => f.code))];
  out.text = spoiling.map((f) => f.text);
  out.status = spoiling.length === 0 ? 'released' : out.codes.every((c) => JUDGED.includes(c as FindingCode)) ? 'judged' : 'refused';
  if (out.status === 'released' && field) {
    const { rules } = DIALECTS[job.machine.dialect];
    const texts = toPartTexts(plan.program);
    const read = (all: readonly string[]): ProgramReading[] => all.map((t) => runSteps(readProgram(t, rules)));
    const hand = listToolsByHand(setup.runs, plan);
    out.wrong = askRays({ setup, lettering }, createRayProbe(setup, read(texts), hand), places, seed);
    const random = createRandom(seed * 97 + 5);
    for (let k = 0; k < edits; k++) {
      const edited = editOnce(texts, random);
      if (!edited) continue;
      const proof = runSteps(proveField(setup, lettering, read(edited.texts), hand, field.truth.cellMm));
      if (!differs(field.removal.field, proof.removal.field)) continue;
      out.edits++;
      if (proof.dangers.some((d) => d.finding.severity === 'spoils')) out.seen++;
      else out.missed.push(edited.what);
    }
  }
  return { ...out, ms: performance.now() - start };
}

/** Cells that differ by more than 20 µm, in so many of them, are another piece. */
const OTHER_MM = 0.02;
const OTHER_MM2 = 0.02;

function differs(a: DepthField, b: DepthField): boolean {
  let cells = 0;
  const keys = new Set([...a.tiles, ...b.tiles].map((t) => t.key));
  const along = a.grid.tilesAlong;
  for (const key of keys) {
    const [p, q] = [a.find(key % along, Math.floor(key / along)), b.find(key % along, Math.floor(key / along))];
    for (let i = 0; i < 1024; i++) if (Math.abs((p?.depth[i] ?? 0) - (q?.depth[i] ?? 0)) > OTHER_MM) cells++;
  }
  return cells * a.grid.cellX * a.grid.cellY > OTHER_MM2;
}

/** Changes one line of a program. */
function editOnce(texts: readonly string[], random: () => number): { texts: string[]; what: string } | null {
  const part = Math.floor(random() * texts.length);
  const lines = texts[part]!.split('\n');
  const cuts = lines.flatMap((l, k) => (k > 12 && /[XYZAB]-?[\d.]/.test(l) && !/G0\b|\(/.test(l) ? [k] : []));
  if (cuts.length === 0) return null;
  const at = cuts[Math.floor(random() * cuts.length)]!;
  const line = lines[at]!;
  const kind = Math.floor(random() * 3);
  const nudge = (letter: string, by: number): string =>
    line.replace(new RegExp(`${letter}(-?[\\d.]+)`), (_, v: string) => `${letter}${(Number(v) + by).toFixed(4)}`);
  const by = (random() < 0.5 ? -1 : 1) * (0.03 + random());
  const edited = kind === 0 ? '' : kind === 1 ? nudge('Z', by) : nudge('X', by);
  if (edited === line) return null;
  const next = [...lines];
  next[at] = edited;
  return {
    texts: texts.map((t, k) => (k === part ? next.join('\n') : t)),
    what: `part ${part + 1} line ${at + 1}: "${line}" as "${edited}"`,
  };
}

/**
 * Places drawn at random, judged by simple statements that need no roof and no reach: beside all lettering nothing is cut; what a
 * pocket holds
 * well inside is as deep as asked; a carve cuts inside and not outside its letters; what stands is whole.
 */
function askRays(
  { setup, lettering }: Pick<Planned, 'setup' | 'lettering'>,
  rayAt: (x: number, y: number) => number,
  places: number,
  seed: number,
): string[] {
  const random = createRandom(seed * 31 + 11);
  const { work, runs } = setup;
  const wrong: string[] = [];
  const metric = new Float64Array(3);
  const own = runs.filter((r) => r.stage === getStages(r.cut).length);
  const said = own.map((run) => {
    const arts = lettering.artworks.filter((a) => run.cut.targets === 'all' || run.cut.targets.includes(a.id));
    const shapes = arts.map((a) => a.regions);
    const tools = [...run.before, run.tool];
    return { run, shapes, wide: Math.max(...tools.map((t) => t.diameterMm / 2)), lines: arts.map((a) => a.chains) };
  });
  const all = said.flatMap((s) => [...s.shapes, ...s.lines]).filter((r) => r.xy.length > 0);
  if (all.length === 0) return [];
  const boxes = all.map((r) => bounds(r));
  for (let k = 0; k < places; k++) {
    const b = boxes[Math.floor(random() * boxes.length)]!;
    const x = b[0] - 0.3 + random() * (b[2] - b[0] + 0.6),
      y = b[1] - 0.3 + random() * (b[3] - b[1] + 0.6);
    if (setup.surface.outsideMm(x, y) > 0) continue;
    work.metricInto(x, y, metric);
    const near = said.map((s) => {
      const at = s.shapes.map((r) => locateOnSurface(r, x, y, metric, true));
      const lines = Math.min(Infinity, ...s.lines.map((r) => locateOnSurface(r, x, y, metric, false).distance));
      return { ...s, inside: at.some((a) => a.inside), distance: Math.min(Infinity, ...at.map((a) => a.distance)), toLine: lines };
    });
    const ray = rayAt(x, y);
    const note = (what: string): void => void wrong.push(`${what} at ${x.toFixed(3)}, ${y.toFixed(3)}: ${ray.toFixed(3)} mm`);
    // Who may cut here, with room to spare for leaning tools.
    const room = (s: (typeof near)[number]): number => 3 * s.wide + 3;
    const fills = (s: (typeof near)[number]): boolean => s.run.cut.kind === 'v-carve' || s.run.cut.kind === 'pocket';
    const mayCut = near.filter((s) =>
      fills(s)
        ? s.inside || s.distance < 0.06
        : s.inside || s.distance < room(s) || s.toLine < room(s) || s.run.cut.kind === 'raised' || s.run.kind.takes(s.run.cut).length === 0,
    );
    if (mayCut.length === 0 && ray > 0.03) note('cut where nothing is asked for');
    for (const s of near) {
      const { cut } = s.run;
      const alone = mayCut.length === 1 && mayCut[0] === s;
      if (cut.kind === 'pocket' && s.inside && alone) {
        if (ray > cut.depthMm + 0.05 && work.alongNormal) note(`${s.run.name}: pocket too deep`);
        const r = s.wide + cut.wallMm + 0.1;
        if (s.distance > r && ray < cut.depthMm - cut.floorMm - 0.1 && work.alongNormal) note(`${s.run.name}: pocket not deep enough`);
      }
      if (cut.kind === 'v-carve' && s.inside && alone) {
        if (s.distance > s.run.tool.tipMm + 0.2 && ray < 0.02) note(`${s.run.name}: carve left out`);
        if (ray > cut.sunkMm + cut.maxDepthMm + 0.08 && work.alongNormal) note(`${s.run.name}: carve too deep`);
      }
    }
  }
  return wrong;
}

function bounds({ xy }: Rings): [number, number, number, number] {
  const b: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < xy.length; i += 2) {
    b[0] = Math.min(b[0], xy[i]!);
    b[1] = Math.min(b[1], xy[i + 1]!);
    b[2] = Math.max(b[2], xy[i]!);
    b[3] = Math.max(b[3], xy[i + 1]!);
  }
  return b;
}

/** Distance to shapes by the metric at a place, and whether it lies inside (non-zero). Brute force. */
function locateOnSurface(rings: Rings, x: number, y: number, m: Float64Array, isClosed: boolean): { inside: boolean; distance: number } {
  let least = Infinity,
    winding = 0;
  for (let k = 0; k + 1 < rings.starts.length; k++) {
    const ring = getRing(rings, k);
    const n = ring.length / 2;
    for (let i = 0; i < n - (isClosed ? 0 : 1); i++) {
      const j = (i + 1) % n;
      const [ax, ay] = [ring[2 * i]!, ring[2 * i + 1]!],
        [ux, uy] = [ring[2 * j]! - ax, ring[2 * j + 1]! - ay];
      const dot = (px: number, py: number, qx: number, qy: number): number =>
        m[0]! * px * qx + m[1]! * (px * qy + py * qx) + m[2]! * py * qy;
      const t = Math.max(0, Math.min(1, dot(x - ax, y - ay, ux, uy) / (dot(ux, uy, ux, uy) || 1)));
      const [dx, dy] = [x - ax - t * ux, y - ay - t * uy];
      least = Math.min(least, Math.sqrt(dot(dx, dy, dx, dy)));
      const left = ux * (y - ay) - uy * (x - ax);
      if (ay <= y && ay + uy > y && left > 0) winding++;
      else if (ay > y && ay + uy <= y && left < 0) winding--;
    }
  }
  return { inside: winding !== 0, distance: least };
}
