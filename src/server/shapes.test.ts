import { getRotary } from '../core/machine/layouts/edit';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createDomeBlank, getDomeMesh } from '../../tests/support';
import type { BlankOf, Job } from '../core/job/schema';
import { createJob } from '../core/job/defaults';
import { parseJob } from '../core/job/parse';
import { packShape, unpackShape } from '../core/shape/readShape';
import { writeStl } from '../core/shape/stl';
import { openDb, type Db } from './db/connection';
import { listMachines } from './crib';
import { listJobs } from './jobs';
import { loadFileShapes } from './resources/shapes';
import { seed } from './seed';
import { describeShapeRefusal, keepShape, readShapeBytes } from './shapes';

let db: Db;
beforeAll(() => {
  db = openDb(path.join(mkdtempSync(path.join(tmpdir(), 'hobel-shapes-')), 'hobel.sqlite'));
});
afterAll(() => db.$client.close());

describe('keepShape', () => {
  const packed = packShape(getDomeMesh());
  it('keeps a shape under the hash of its bytes, once', () => {
    const one = keepShape(db, 'dome.stl', packed, 1),
      two = keepShape(db, 'again.stl', packed, 2);
    if (!one.ok || !two.ok) throw new Error('refused');
    expect(one.value.id).toMatch(/^[0-9a-f]{64}$/);
    expect(two.value.id).toBe(one.value.id);
    expect(unpackShape(new Uint8Array(readShapeBytes(db, one.value.id)!))!.report).toEqual(getDomeMesh().report);
    expect(readShapeBytes(db, 'f'.repeat(64))).toBeNull();
  });
  it('refuses what is no shape, and one that does not hang together', () => {
    const broken = (change: (m: ReturnType<typeof unpackShape> & object) => void) => {
      const mesh = unpackShape(packed)!;
      change(mesh);
      const made = keepShape(db, 'x', packShape(mesh), 1);
      return made.ok ? 'kept' : describeShapeRefusal(made.error);
    };
    const nothing = keepShape(db, 'x', new Uint8Array(50), 1);
    expect(nothing.ok ? '' : describeShapeRefusal(nothing.error)).toMatch(/no shape/);
    expect(broken((m) => (m.triangles[5] = 1e9))).toMatch(/vertex that is not there/);
    expect(broken((m) => (m.neighbours[5] = 1e8))).toMatch(/neighbour/);
    expect(broken((m) => (m.positions[5] = NaN))).toMatch(/no number/);
  });
});

describe('the demo', () => {
  it('is seeded whole: every job fits the schema, its shape is there, and so is a machine for it', () => {
    seed(db, 5);
    const rows = db.$client.prepare('select document from jobs').all() as { document: string }[];
    expect(listJobs(db).length).toBe(rows.length);
    expect(rows.length).toBeGreaterThanOrEqual(5);
    for (const { document } of rows) {
      const parsed = parseJob(JSON.parse(document));
      expect(parsed.ok).toBe(true);
      if (parsed.ok && parsed.value.blank.kind === 'free' && 'id' in parsed.value.blank.shape)
        expect(readShapeBytes(db, parsed.value.blank.shape.id)).not.toBeNull();
    }
    expect(listMachines(db).some((m) => m.layout.kind === 'rotary-tilting-head')).toBe(true);
  });
  it('reads machines of older houses: flat lists of axes, and before that no tilt', () => {
    const now = listMachines(db)[0]!;
    const { layout, dialect, ...rest } = now;
    const own = getRotary(layout)!;
    const { letter, sense, maxDegPerMin, accelerationDegPerS2 } = own;
    const flat = { ...rest, rotaryLetter: letter, wrappedAxis: layout.wrappedAxis, sense, maxTurnDegPerMin: maxDegPerMin };
    const old = { ...flat, turnAccelerationDegPerS2: accelerationDegPerS2 };
    expect(dialect).toBe('rs274');
    for (const document of [old, { ...old, tilt: null }]) {
      db.$client.prepare('update machines set document = ? where id = ?').run(JSON.stringify(document), now.id);
      // Of a chuck it said nothing.
      const rotary = { ...own, chuckMm: 0, tailstockMm: 0 };
      expect(listMachines(db)[0]).toEqual({ ...now, layout: { ...layout, rotary } });
    }
  });
});

describe('loadFileShapes', () => {
  it('finds a shape that ships by its hash, as the demo names it, and no other', async () => {
    const demo = JSON.parse(readFileSync('resources/jobs/compass-cover.json', 'utf8')) as Job;
    const shapes = await loadFileShapes(demo, '.', () => undefined);
    const { shape } = demo.blank as BlankOf<'free'>;
    expect(shapes.find(shape)!.triangles.length / 3).toBe(42480);
    const id = '0'.repeat(64);
    expect(
      (await loadFileShapes({ ...demo, blank: { ...demo.blank, shape: { id } } as Job['blank'] }, '.', () => undefined)).find({ id }),
    ).toBeNull();
  });
  const dir = mkdtempSync(path.join(tmpdir(), 'hobel-file-'));
  const jobWith = (file: string) => ({ ...createJob('x'), blank: { ...createDomeBlank(), shape: { file } } });
  it('reads the shape beside a job, and says why where it cannot', async () => {
    const mesh = getDomeMesh();
    writeFileSync(path.join(dir, 'dome.stl'), writeStl(mesh.positions, mesh.triangles, 'dome'));
    writeFileSync(path.join(dir, 'bad.stl'), 'nothing');
    const told: string[] = [];
    const shapes = await loadFileShapes(jobWith('dome.stl'), dir, (t) => told.push(t));
    expect(shapes.find({ file: 'dome.stl' })!.report.openEdges).toBe(0);
    expect(shapes.find({ file: 'other.stl' })).toBeNull();
    expect(told).toEqual([]);
    await loadFileShapes(jobWith('bad.stl'), dir, (t) => told.push(t));
    await loadFileShapes(jobWith('gone.stl'), dir, (t) => told.push(t));
    expect(told[0]).toMatch(/^bad\.stl cannot be read/);
    expect(told[1]).toMatch(/^gone\.stl: /);
    expect((await loadFileShapes(createJob('x'), dir, () => undefined)).find({ file: 'dome.stl' })).toBeNull();
  });
});
