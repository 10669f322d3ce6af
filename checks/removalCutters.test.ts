/*
 * What cutters of every form take away on every kind of blank, by programs drawn at random (plunges, slants, moves of all axes at once),
 * against rays asked at places a few µm apart along the way whether they are inside the cutter. Elementary geometry, no source; shares no
 * code with the sweep: forms are written out anew here, as width at a height over the tip.
 */
import { describe, expect, it } from 'vitest';
import { runSteps } from '../src/core/base/steps';
import { createTool } from '../src/core/crib/starterTools';
import { createBlank } from '../src/core/job/defaults';
import type { Blank, Job, TextInscription, Tool } from '../src/core/job/schema';
import { readProgram, type ProgramReading } from '../src/core/program/interpreter';
import { AXIS_COUNT, AXIS_LETTERS } from '../src/core/program/motions';
import { DIALECTS } from '../src/core/program/registry';
import { proveField } from '../src/core/removal/proveField';
import { createProfileNodes } from '../src/core/surface/profileShapes';
import { carveJob, createDomeBlank, createRandom, domeShapes, planJob, textOf, tiltingMachine, type Planned } from '../tests/support';

/** How far beside a cell the rays are asked as well, mm: a wall through the cell may stand on either side of it. */
const BESIDE_MM = 0.0004;
/** Of the poses that are asked, mm: a tip that is sharp is missed by up to half of it. */
const STEP_MM = 0.0016;
const CELL_MM = 0.04;
/** Cells asked per cutter and blank; 2,000 of each with three other seeds were within 1 µm as well. */
const CELLS = 500;
const round = { boreMm: 0, zero: 'axis', seamDeg: 180, clearDatumMm: 0, clearFarMm: 0 } as const;

interface Cutter {
  tool: Tool;
  /** Half-width at a height over the tip, mm. */
  width(h: number): number;
}

const ballWidth = (r: number, h: number): number => (h < r ? Math.sqrt(Math.max(0, 2 * r * h - h * h)) : r);
const roundedCone = (r: number, halfDeg: number, most: number) => {
  const a = (halfDeg * Math.PI) / 180;
  const join = r * (1 - Math.sin(a));
  return (h: number) => (h < join ? ballWidth(r, h) : Math.min(most, r * Math.cos(a) + (h - join) * Math.tan(a)));
};
const tall = { fluteLengthMm: 4, stickOutMm: 20 };
const CUTTERS: Record<string, Cutter> = {
  flat: { tool: createTool('t', 1, 'flat', 'flat', { diameterMm: 1, tipMm: 1, ...tall }), width: () => 0.5 },
  ball: { tool: createTool('t', 1, 'ball', 'ball', { diameterMm: 1, tipMm: 1, ...tall }), width: (h) => ballWidth(0.5, h) },
  'bull nose': {
    tool: createTool('t', 1, 'bull', 'bull', { diameterMm: 1.2, tipMm: 1.2, cornerMm: 0.25, ...tall }),
    width: (h) => 0.35 + ballWidth(0.25, h),
  },
  drill: {
    tool: createTool('t', 1, 'drill', 'drill', { diameterMm: 1, includedDeg: 118, ...tall }),
    width: (h) => Math.min(0.5, h * Math.tan((59 * Math.PI) / 180)),
  },
  'tapered ball': {
    tool: createTool('t', 1, 'taper', 'taper-ball', { diameterMm: 1.4, tipMm: 0.4, includedDeg: 20, ...tall }),
    width: roundedCone(0.2, 10, 0.7),
  },
  'V with a flat': {
    tool: createTool('t', 1, 'v', 'v', { diameterMm: 3, tipMm: 0.2, includedDeg: 60, ...tall }),
    width: (h) => Math.min(1.5, 0.1 + h * Math.tan(Math.PI / 6)),
  },
};

interface Place {
  blank: Blank;
  at: TextInscription['at'];
  lay?: Partial<Job['lay']>;
  tilt?: boolean;
}

const PLACES: Record<string, Place> = {
  plate: { blank: createBlank('plate'), at: { xMm: 40, turnDeg: 0 } },
  'plate, inclined': { blank: { ...createBlank('plate'), inclineDeg: 25, inclineTowards: 'y' }, at: { xMm: 40, turnDeg: 0 } },
  cylinder: { blank: { ...createBlank('cylinder'), diameterMm: 24, lengthMm: 60 }, at: { xMm: 30, turnDeg: 140 } },
  'cone, tool radial': {
    blank: { kind: 'cone', given: 'diameters', datumDiameterMm: 20, farDiameterMm: 60, lengthMm: 36, ...round },
    at: { xMm: 20, turnDeg: 0 },
    lay: { kind: 'level' },
  },
  'waist, tool along the normal': {
    blank: { kind: 'turned', profile: createProfileNodes('waist', 40, 50), ...round },
    at: { xMm: 16, turnDeg: 0 },
    lay: { kind: 'level' },
    tilt: true,
  },
  'trough, off its middle': {
    blank: { ...createBlank('arched'), side: 'concave', radiusMm: 60, chordMm: 70, lengthMm: 70, thicknessMm: 8 },
    at: { xMm: 35, turnDeg: 12 },
    lay: { kind: 'drape' },
  },
  'arch, proud, off its middle': {
    blank: { ...createBlank('arched'), side: 'convex', radiusMm: 40, chordMm: 50, lengthMm: 70, thicknessMm: 8 },
    at: { xMm: 35, turnDeg: 18 },
    lay: { kind: 'drape' },
  },
  'dome as a mesh': { blank: createDomeBlank(), at: { xMm: 9, turnDeg: 20 }, lay: { kind: 'drape' } },
};

async function setUp({ blank, at, lay, tilt }: Place, { tool }: Cutter): Promise<Planned> {
  const base = carveJob('I', { words: { at, heightMm: 3, rotationDeg: 0 }, tool: { tipMm: 0.2 } });
  const machine = tilt ? tiltingMachine({ minDeg: -100, maxDeg: 100 }) : base.machine;
  const job: Job = { ...base, blank, lay: { ...base.lay, ...lay }, machine };
  const planned = await planJob(job, null, domeShapes());
  return { ...planned, setup: { ...planned.setup, job: { ...planned.setup.job, tools: [tool] } } };
}

/** A program of moves drawn at random about the words' place, behind the head of the planned one. */
function draw(planned: Planned, { at }: Place, random: () => number): ProgramReading {
  const { setup, work } = planned;
  const { kinematics } = setup;
  const lines = textOf(planned.plan).split('\n');
  const head = lines.slice(0, lines.findIndex((l) => /^S\d/.test(l)) + 2);
  const frame = new Float64Array(6),
    tip = new Float64Array(3);
  let near: Float64Array = new Float64Array(kinematics.axes.length);
  const words = (x: number, y: number, depth: number): string => {
    work.poseInto(x, y, frame);
    for (let k = 0; k < 3; k++) tip[k] = frame[k]! - depth * frame[3 + k]!;
    const out = new Float64Array(near.length);
    kinematics.inverse(tip, frame.slice(3), near, out);
    near = out;
    return kinematics.axes.map((a, k) => `${a.letter}${out[k]!.toFixed(4)}`).join(' ');
  };
  const y0 = (at.turnDeg * Math.PI) / 180;
  let x = at.xMm,
    y = y0 * setup.surface.mmPerRad;
  const middle = [x, y] as const;
  // All at feed: rapids are swept as they run on other controls as well.
  const out = [`G94 G1 ${words(x, y, -6)} F300`, `G1 ${words(x, y, 0.3)}`];
  for (let i = 0; i < 14; i++) {
    const turn = random();
    // A plunge or a way up along the tool, a lift to another place, or a slant.
    if (turn < 0.2) out.push(`G1 ${words(x, y, 0.5 * random() - 0.1)}`);
    else {
      const [fx, fy] = [x, y];
      x = middle[0] + 3 * (random() - 0.5);
      y = middle[1] + 3 * (random() - 0.5);
      if (turn < 0.3) out.push(`G1 ${words(fx, fy, -6)}`, `G1 ${words(x, y, -6)}`);
      out.push(`G1 ${words(x, y, 0.05 + 0.45 * random())}`);
    }
  }
  out.push(`G1 ${words(x, y, -6)}`, 'M5', 'M2', '%');
  return runSteps(readProgram([...head, ...out].join('\n'), DIALECTS[setup.job.machine.dialect].rules));
}

interface Poses {
  tips: number[];
  axes: number[];
}

/** Poses of the tool along the moves, straight from the words through the kinematics. */
function stepAlong({ setup: { kinematics } }: Planned, { motions }: ProgramReading, stepMm: number): Poses {
  const index = kinematics.axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
  const tips: number[] = [],
    axes: number[] = [];
  const [tip, axis, last] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
  for (let i = 1; i < motions.count; i++) {
    const at = (s: number) =>
      Float64Array.from(index, (k) => {
        const [a, b] = [motions.end[AXIS_COUNT * (i - 1) + k]!, motions.end[AXIS_COUNT * i + k]!];
        return a + s * (b - a);
      });
    kinematics.forward(at(0), last, axis);
    kinematics.forward(at(1), tip, axis);
    const n = Math.max(1, Math.ceil(Math.hypot(...[0, 1, 2].map((k) => tip[k]! - last[k]!)) / stepMm));
    for (let k = 0; k <= n; k++) {
      kinematics.forward(at(k / n), tip, axis);
      tips.push(...tip);
      axes.push(...axis);
    }
  }
  return { tips, axes };
}

/** How deep a ray is free from the surface on: as long as a pose holds its end, it goes on to where it leaves that pose. */
function createAsker({ tips, axes }: Poses, width: Cutter['width']) {
  const [tip, axis] = [Float64Array.from(tips), Float64Array.from(axes)];
  const count = tip.length / 3;
  const near = new Int32Array(count);
  const isInside = (i: number, x: number, y: number, z: number): boolean => {
    const dx = x - tip[i]!,
      dy = y - tip[i + 1]!,
      dz = z - tip[i + 2]!;
    const h = dx * axis[i]! + dy * axis[i + 1]! + dz * axis[i + 2]!;
    if (h < 0) return false;
    const w = width(h);
    return dx * dx + dy * dy + dz * dz - h * h <= w * w;
  };
  return ([px, py, pz]: readonly number[], [nx, ny, nz]: readonly number[]): number => {
    // Poses whose tips are near: no ray is followed for more than 1 mm, and no cutter here is wider there.
    let n = 0;
    for (let i = 0; i < 3 * count; i += 3) {
      const dx = px! - tip[i]!,
        dy = py! - tip[i + 1]!,
        dz = pz! - tip[i + 2]!;
      if (dx * dx + dy * dy + dz * dz < 2) near[n++] = i;
    }
    const holds = (i: number, t: number) => isInside(i, px! - t * nx!, py! - t * ny!, pz! - t * nz!);
    let depth = 0;
    for (;;) {
      const start = depth;
      for (let k = 0; k < n; k++) {
        const i = near[k]!;
        if (!holds(i, depth + 3e-5)) continue;
        let lo = depth,
          hi = depth + 1;
        for (let j = 0; j < 22; j++) {
          const mid = (lo + hi) / 2;
          if (holds(i, mid)) lo = mid;
          else hi = mid;
        }
        depth = lo;
      }
      if (depth === start) return depth;
    }
  };
}

describe('cutters of every form on every kind of blank against rays asked along the way', () => {
  const cases = Object.keys(CUTTERS).flatMap((c) => Object.keys(PLACES).map((p) => [c, p] as const));
  it.each(cases)('%s, %s', async (c, p) => {
    const [cutter, place] = [CUTTERS[c]!, PLACES[p]!];
    const planned = await setUp(place, cutter);
    const random = createRandom(1 + cases.findIndex((k) => k[0] === c && k[1] === p));
    const reading = draw(planned, place, random);
    const { removal } = runSteps(proveField(planned.setup, planned.lettering, [reading], [cutter.tool], CELL_MM));
    const ask = createAsker(stepAlong(planned, reading, STEP_MM), cutter.width);
    let worst = 0,
      asked = 0,
      deep = 0;
    for (let tries = 0; asked < CELLS && tries < 30 * CELLS; tries++) {
      const tile = removal.field.tiles[Math.floor(random() * removal.field.tiles.length)]!;
      const cell = Math.floor(random() * 1024);
      const depth = tile.depth[cell]!;
      // Cells that are not cut are asked as well, but fewer.
      if (depth === 0 && random() > 0.15) continue;
      const f = Array.from(tile.getFrames().subarray(6 * cell, 6 * cell + 6));
      const normal = f.slice(3);
      asked++;
      if (depth > 0) deep++;
      let off = Math.abs(ask(f.slice(0, 3), normal) - depth);
      if (off > 0.0005) {
        // Beside a wall: what rays close by say, on all sides.
        const e = Math.abs(normal[0]!) < 0.6 ? [1, 0, 0] : [0, 1, 0];
        const dot = e.reduce((s, v, k) => s + v * normal[k]!, 0);
        const u = e.map((v, k) => v - dot * normal[k]!);
        const l = Math.hypot(...u);
        const w = [0, 1, 2].map((k) => (normal[(k + 1) % 3]! * u[(k + 2) % 3]! - normal[(k + 2) % 3]! * u[(k + 1) % 3]!) / l);
        const close = Array.from({ length: 8 }, (_, k) => {
          const t = (k * Math.PI) / 4;
          return ask(
            [0, 1, 2].map((j) => f[j]! + BESIDE_MM * ((Math.cos(t) * u[j]!) / l + Math.sin(t) * w[j]!)),
            normal,
          );
        });
        off = Math.max(0, depth - Math.max(...close, depth - off), Math.min(...close, depth + off) - depth);
        if (depth >= Math.min(...close) - 1e-9 && depth <= Math.max(...close) + 1e-9) off = 0;
      }
      worst = Math.max(worst, off);
    }
    console.info(`${c}, ${p}: ${asked} cells, ${deep} cut, at most ${(1000 * worst).toFixed(2)} µm off`);
    expect(asked).toBe(CELLS);
    expect(deep).toBeGreaterThan(CELLS / 2);
    expect(worst).toBeLessThan(0.001);
  });
});
