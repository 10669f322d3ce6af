/*
 * What a program takes away, against two witnesses that share no code with the sweep: rays asked at thousands of places along the way
 * whether they are inside the cutter (elementary geometry), and booleans of solids by a general-purpose library (manifold-3d).
 */
import Module from 'manifold-3d';
import { beforeAll, describe, expect, it } from 'vitest';
import { runSteps } from '../src/core/base/steps';
import { createBlank } from '../src/core/job/defaults';
import type { Blank, Job, TextInscription } from '../src/core/job/schema';
import { readProgram } from '../src/core/program/interpreter';
import { AXIS_COUNT, AXIS_LETTERS } from '../src/core/program/motions';
import { DIALECTS } from '../src/core/program/registry';
import { toPartTexts } from '../src/core/proof/readBack';
import { listToolsByHand } from '../src/core/pipeline/setup';
import { proveField, type FieldProof } from '../src/core/removal/proveField';
import { createPatchSolid, createPlug, toStl } from '../src/core/export/patchSolid';
import { carveBlank } from '../src/core/export/wholeSolid';
import { createSolid } from '../src/core/surface/solid';
import { createProfileNodes } from '../src/core/surface/profileShapes';
import { carveJob, createDomeBlank, domeShapes, planJob, tiltingMachine, type Planned, measureSolid } from '../tests/support';

/** Spacing of the poses that are asked, mm: on the tool's own way a sharp tip is missed by up to half of it. */
const STEP_MM = 0.0016;
const TILTING = tiltingMachine({ minDeg: -100, maxDeg: 100 });
const round = { boreMm: 0, zero: 'axis', seamDeg: 180, clearDatumMm: 0, clearFarMm: 0 } as const;

interface Case {
  name: string;
  blank: Blank;
  words: Partial<TextInscription>;
  lay?: Partial<Job['lay']>;
  tilt?: boolean;
  tipMm?: number;
  maxDepthMm?: number;
}

const cases: Case[] = [
  { name: 'cylinder', blank: { ...createBlank('cylinder'), diameterMm: 24, lengthMm: 60 }, words: {} },
  {
    name: 'inclined plate, tool upright',
    blank: { ...createBlank('plate'), inclineDeg: 25, inclineTowards: 'y' },
    words: { at: { xMm: 40, turnDeg: 0 }, rotationDeg: 30 },
  },
  {
    name: 'cone, tool radial, blunt, floor',
    blank: { kind: 'cone', given: 'diameters', datumDiameterMm: 20, farDiameterMm: 60, lengthMm: 36, ...round },
    words: { at: { xMm: 20, turnDeg: 0 } },
    lay: { kind: 'level' },
    tipMm: 0.2,
    maxDepthMm: 0.4,
  },
  {
    name: 'waist, tool along the normal',
    blank: { kind: 'turned', profile: createProfileNodes('waist', 40, 50), ...round },
    words: { at: { xMm: 16, turnDeg: 0 } },
    lay: { kind: 'level' },
    tilt: true,
  },
  {
    name: 'trough, tool upright, blunt',
    blank: { ...createBlank('arched'), side: 'concave', radiusMm: 60, chordMm: 70, lengthMm: 70, thicknessMm: 8 },
    words: { at: { xMm: 35, turnDeg: 4 }, rotationDeg: 0 },
    lay: { kind: 'drape' },
    tipMm: 0.2,
  },
  {
    name: 'dome as a mesh',
    blank: createDomeBlank(),
    words: { at: { xMm: 3, turnDeg: 5 }, rotationDeg: 0 },
    lay: { kind: 'drape' },
  },
  {
    // The foot of a normal lies far from what is straight below: 8 % of the cells were once left standing here.
    name: 'dome as a mesh, steep side',
    blank: createDomeBlank(),
    words: { at: { xMm: 17, turnDeg: 3 }, rotationDeg: 90 },
    lay: { kind: 'drape' },
  },
  {
    name: 'slender rod, deep and wide',
    blank: { ...createBlank('cylinder'), diameterMm: 9, lengthMm: 60 },
    words: { heightMm: 7 },
  },
];

async function plan({ blank, words, lay, tilt, tipMm = 0, maxDepthMm = 5 }: Case, text = 'HR'): Promise<Planned> {
  const base = carveJob(text, { words: { heightMm: 5, ...words }, tool: { includedDeg: 90, tipMm }, carve: { maxDepthMm } });
  const job: Job = { ...base, blank, lay: { ...base.lay, ...lay }, machine: tilt ? TILTING : base.machine };
  return planJob(job, null, domeShapes());
}

function prove(planned: Planned, cellMm: number | null = null): FieldProof {
  const { setup, lettering, plan: made } = planned;
  const { rules } = DIALECTS[setup.job.machine.dialect];
  const readings = toPartTexts(made.program).map((t) => runSteps(readProgram(t, rules)));
  return runSteps(proveField(setup, lettering, readings, listToolsByHand(setup.runs, made), cellMm));
}

/** Poses of the tool along a program's text, a few µm apart, with the axis; straight from the words through the kinematics. */
function stepAlong({ setup, plan: made }: Planned, stepMm: number): { tips: Float64Array; axes: Float64Array } {
  const { rules } = DIALECTS[setup.job.machine.dialect];
  const { motions } = runSteps(readProgram(toPartTexts(made.program)[0]!, rules));
  const { kinematics } = setup;
  const index = kinematics.axes.map((a) => AXIS_LETTERS.indexOf(a.letter));
  const tips: number[] = [],
    axes: number[] = [];
  const tip = new Float64Array(3),
    axis = new Float64Array(3),
    last = new Float64Array(3);
  for (let i = 4; i < motions.count; i++) {
    const at = (s: number) =>
      Float64Array.from(index, (k) => {
        const a = motions.end[AXIS_COUNT * (i - 1) + k]!,
          b = motions.end[AXIS_COUNT * i + k]!;
        return a + s * (b - a);
      });
    kinematics.forward(at(0), last, axis);
    kinematics.forward(at(1), tip, axis);
    if (motions.rapid[i]) continue;
    const n = Math.max(1, Math.ceil(Math.hypot(tip[0]! - last[0]!, tip[1]! - last[1]!, tip[2]! - last[2]!) / stepMm));
    for (let k = 0; k <= n; k++) {
      kinematics.forward(at(k / n), tip, axis);
      tips.push(...tip);
      axes.push(...axis);
    }
  }
  return { tips: Float64Array.from(tips), axes: Float64Array.from(axes) };
}

/** Numbers that look random and are always the same. */
function createDice(seed: number): () => number {
  let a = seed;
  return () => {
    a = (Math.imul(a, 1664525) + 1013904223) >>> 0;
    return a / 4294967296;
  };
}

describe('depth of random cells against rays asked along the way (elementary, no source)', () => {
  it.each(cases)(
    '$name',
    async (c) => {
      const planned = await plan(c);
      const { removal, truth } = prove(planned);
      const { field } = removal;
      const { tips, axes } = stepAlong(planned, STEP_MM);
      const tan = 1,
        flat = (c.tipMm ?? 0) / 2;
      // Poses by cubes of 1 mm: a groove reaches that far at most here.
      const cubes = new Map<string, number[]>();
      const cubeOf = (x: number, y: number, z: number) => `${Math.floor(x)},${Math.floor(y)},${Math.floor(z)}`;
      for (let i = 0; i < tips.length / 3; i++) {
        const key = cubeOf(tips[3 * i]!, tips[3 * i + 1]!, tips[3 * i + 2]!);
        const list = cubes.get(key);
        if (list) list.push(i);
        else cubes.set(key, [i]);
      }
      const inside = (i: number, px: number, py: number, pz: number): boolean => {
        const dx = px - tips[3 * i]!,
          dy = py - tips[3 * i + 1]!,
          dz = pz - tips[3 * i + 2]!;
        const h = dx * axes[3 * i]! + dy * axes[3 * i + 1]! + dz * axes[3 * i + 2]!;
        return h >= 0 && Math.sqrt(Math.max(0, dx * dx + dy * dy + dz * dz - h * h)) <= flat + h * tan;
      };
      const dice = createDice(5);
      let worst = 0,
        asked = 0,
        deep = 0;
      for (let tries = 0; asked < 2000 && tries < 40_000; tries++) {
        const tile = field.tiles[Math.floor(dice() * field.tiles.length)]!;
        const cell = Math.floor(dice() * 1024);
        const f = Array.from(tile.getFrames().subarray(6 * cell, 6 * cell + 6));
        const depth = tile.depth[cell]!;
        // Cells that are not cut are asked as well, but fewer.
        if (depth === 0 && dice() > 0.15) continue;
        asked++;
        if (depth > 0) deep++;
        const near: number[] = [];
        for (let i = -1; i <= 1; i++)
          for (let j = -1; j <= 1; j++)
            for (let k = -1; k <= 1; k++) near.push(...(cubes.get(cubeOf(f[0]! + i, f[1]! + j, f[2]! + k)) ?? []));
        let best = 0;
        const at = (t: number) => [f[0]! - t * f[3]!, f[1]! - t * f[4]!, f[2]! - t * f[5]!] as const;
        for (const i of near) {
          if (!inside(i, ...at(best + 1e-5))) continue;
          let lo = best,
            hi = best + 2;
          for (let k = 0; k < 24; k++) {
            const mid = (lo + hi) / 2;
            if (inside(i, ...at(mid))) lo = mid;
            else hi = mid;
          }
          best = lo;
        }
        worst = Math.max(worst, Math.abs(best - depth));
      }
      console.info(
        `${c.name}: ${asked} cells of ${(1000 * truth.cellMm).toFixed(0)} µm, ${deep} cut, at most ${(1000 * worst).toFixed(2)} µm off`,
      );
      expect(asked).toBeGreaterThan(1500);
      expect(deep).toBeGreaterThan(800);
      expect(worst).toBeLessThan(0.001);
    },
    120_000,
  );
});

describe('volume against booleans of solids (manifold-3d)', () => {
  let solids: Awaited<ReturnType<typeof Module>>;
  beforeAll(async () => {
    solids = await Module();
    solids.setup();
  });

  it.each(cases.slice(0, 3))(
    '$name',
    async (c) => {
      const planned = await plan(c, 'L');
      const { setup } = planned;
      const { truth } = prove(planned, 0.008);
      const { Manifold } = solids;
      const { tips, axes } = stepAlong(planned, 0.3);
      const flat = (c.tipMm ?? 0) / 2;
      const height = 1.2,
        sectors = 96;
      // A cutter is a frustum whose faces lie through the middle of the round they stand for.
      const spread = Math.sqrt(Math.PI / sectors / (Math.sin(Math.PI / sectors) * Math.cos(Math.PI / sectors)));
      const ring = (i: number): [number, number, number][] => {
        const a = [axes[3 * i]!, axes[3 * i + 1]!, axes[3 * i + 2]!];
        const e = Math.abs(a[0]!) < 0.6 ? [1, 0, 0] : [0, 1, 0];
        const d = e.reduce((s, v, k) => s + v * a[k]!, 0);
        const u = e.map((v, k) => v - d * a[k]!);
        const l = Math.hypot(...u);
        const w = [a[1]! * u[2]! - a[2]! * u[1]!, a[2]! * u[0]! - a[0]! * u[2]!, a[0]! * u[1]! - a[1]! * u[0]!];
        const out: [number, number, number][] = [];
        for (const [h, r] of [
          [0, flat],
          [height, flat + height],
        ] as const) {
          for (let k = 0; k < sectors; k++) {
            const t = (2 * Math.PI * k) / sectors;
            out.push(
              [0, 1, 2].map((j) => tips[3 * i + j]! + h * a[j]! + (r * spread * (Math.cos(t) * u[j]! + Math.sin(t) * w[j]!)) / l) as [
                number,
                number,
                number,
              ],
            );
          }
        }
        return out;
      };
      let hulls: InstanceType<typeof Manifold>[] = [];
      for (let i = 1; i < tips.length / 3; i++) {
        const step = Math.hypot(...[0, 1, 2].map((k) => tips[3 * i + k]! - tips[3 * i - 3 + k]!));
        // A jump between strokes is no way of the cutter.
        if (step > 1.5) continue;
        hulls.push(Manifold.hull([...ring(i - 1), ...ring(i)]));
      }
      // A few at a time: what overlaps a thousandfold takes its time in one.
      while (hulls.length > 1)
        hulls = Array.from({ length: Math.ceil(hulls.length / 8) }, (_, k) => Manifold.union(hulls.slice(8 * k, 8 * k + 8)));
      const swept = hulls[0]!;
      const blank = makeBlank(solids, setup.job.blank);
      const gone = blank.intersect(swept).volume();
      const offPercent = 100 * Math.abs(truth.volumeMm3 / gone - 1);
      console.info(`${c.name}: field ${truth.volumeMm3.toFixed(4)} mm³, solids ${gone.toFixed(4)} mm³, ${offPercent.toFixed(3)} % apart`);
      expect(gone).toBeGreaterThan(0.3);
      expect(offPercent).toBeLessThan(0.5);
    },
    120_000,
  );
});

describe('the patch as a solid (closed: manifold-3d)', () => {
  it.each(cases)('$name', async (c) => {
    const solids = await Module();
    solids.setup();
    const planned = await plan(c, 'R');
    const { removal, truth } = prove(planned, 0.02);
    const solid = createPatchSolid(removal.field, planned.setup.work, 0.02)!;
    const mesh = new solids.Mesh({ numProp: 3, vertProperties: solid.positions, triVerts: solid.triangles });
    const made = new solids.Manifold(mesh);
    expect(made.status()).toBe('NoError');
    expect(made.isEmpty()).toBe(false);
    // Of a sheet from which nothing was cut there is none.
    for (const tile of removal.field.tiles) tile.depth.fill(0);
    expect(createPatchSolid(removal.field, planned.setup.work, 0.02)).toBeNull();
    const stl = toStl(solid);
    expect(new DataView(stl.buffer).getUint32(80, true)).toBe(solid.triangles.length / 3);
    expect(made.volume()).toBeGreaterThan(truth.volumeMm3);
  });
});

/** Volume of a closed solid by the divergence theorem, and whether every edge is met once each way (elementary). */
function weigh({ positions: p, triangles: t }: { positions: ArrayLike<number>; triangles: ArrayLike<number> }): {
  mm3: number;
  closed: boolean;
} {
  const edges = new Map<string, number>();
  // Corners at one place are one.
  const names = new Map<string, number>();
  const name = (k: number): number => {
    const key = [0, 1, 2].map((j) => Math.round(1e5 * p[3 * k + j]!)).join(' ');
    return names.get(key) ?? (names.set(key, names.size), names.size - 1);
  };
  for (let i = 0; i < t.length; i += 3) {
    const ends = [t[i]!, t[i + 1]!, t[i + 2]!].map(name);
    for (let k = 0; k < 3; k++) {
      const [from, to] = [ends[k]!, ends[(k + 1) % 3]!];
      if (from === to) continue;
      edges.set(`${from} ${to}`, (edges.get(`${from} ${to}`) ?? 0) + 1);
    }
  }
  const closed = [...edges].every(([key, n]) => edges.get(key.split(' ').reverse().join(' ')) === n);
  return { mm3: measureSolid({ positions: p, triangles: t }), closed };
}

describe('the whole blank as a solid: closed, and its volume that of the blank less what the field says is gone', () => {
  it.each(cases)('$name', async (c) => {
    const solids = await Module();
    solids.setup();
    const planned = await plan(c, 'R');
    const { setup } = planned;
    const { removal, truth } = prove(planned, 0.02);
    const stock = createSolid(setup.job.blank, 0.01, domeShapes());
    const made = carveBlank(solids, stock, createPlug(removal.field, setup.surface, 0.01));
    const [before, after] = [weigh(stock), weigh(made)];
    expect(before.closed && after.closed).toBe(true);
    const gone = before.mm3 - after.mm3;
    console.info(`${c.name}: ${gone.toFixed(3)} mm³ less, field ${truth.volumeMm3.toFixed(3)} mm³, ${made.triangles.length / 3} faces`);
    // Faces of the stock lie up to 0.01 mm below its true surface, and that much of a shallow groove is air.
    expect(Math.abs(gone / truth.volumeMm3 - 1)).toBeLessThan(0.06);
  });
});

/** The three blanks as solids of the library's own making. */
function makeBlank({ Manifold }: Awaited<ReturnType<typeof Module>>, blank: Blank) {
  const turned = (length: number, r0: number, r1: number) => Manifold.cylinder(length, r0, r1, 1440).rotate([0, 90, 0]);
  if (blank.kind === 'cylinder') return turned(blank.lengthMm, blank.diameterMm / 2, blank.diameterMm / 2);
  if (blank.kind === 'cone') return turned(blank.lengthMm, blank.datumDiameterMm / 2, blank.farDiameterMm / 2);
  if (blank.kind !== 'plate') throw new Error(blank.kind);
  // Inclined about X through the middle of its top; its top passes through the origin there (docs/architecture.md, frames).
  return Manifold.cube([blank.lengthMm, blank.widthMm, blank.thicknessMm])
    .translate([0, -blank.widthMm / 2, -blank.thicknessMm])
    .rotate([blank.inclineDeg, 0, 0]);
}
