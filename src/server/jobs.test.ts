import { JOB_VERSION } from '../core/job/schema';
import { chmodSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import Database from 'better-sqlite3';
import { beforeEach, describe, expect, it } from 'vitest';
import { carveJob, wordsOf } from '../../tests/support';
import { describeFailure, guarded } from './answers';
import { openDb, type Db } from './db/connection';
import { createJobRow, deleteJob, listJobs, listRevisions, readJob, readRevisionPicture, saveJob, takeBack } from './jobs';
import { deleteMachine, deleteTool, listDamagedMachines, listDamagedTools, listMachines, listTools, putTool } from './crib';
import { seed } from './seed';
import { revisions } from './db/schema';

let dir: string;
let db: Db;
beforeEach(() => {
  dir = mkdtempSync(path.join(tmpdir(), 'hobel-test-'));
  db = openDb(dir);
});
const create = (text = 'ONE') => {
  const made = createJobRow(db, carveJob(text), '', 1);
  if (!made.ok) throw new Error('not created');
  return made.value.id;
};
const wording = (id: string) => {
  const found = readJob(db, id);
  return found.ok ? wordsOf(found.value.job).text : found.error.kind;
};

describe('jobs', () => {
  it('keeps a job to the letter, newest first on the Shelf', () => {
    const first = create('ONE');
    createJobRow(db, carveJob('TWO'), '', 2);
    const found = readJob(db, first);
    expect(found.ok && found.value.job).toEqual(carveJob('ONE'));
    expect(listJobs(db).map((j) => j.updatedAt)).toEqual([2, 1]);
  });

  it('refuses a save over a revision that someone else made, and says what is there', () => {
    const id = create();
    expect(saveJob(db, id, 1, carveJob('TWO'), '', 2).ok).toBe(true);
    const late = saveJob(db, id, 1, carveJob('THREE'), '', 3);
    expect(!late.ok && late.error.kind === 'conflict' && wordsOf(late.error.current.job).text).toBe('TWO');
    expect(wording(id)).toBe('TWO');
  });

  it('refuses what is no job, and leaves the stored one', () => {
    const id = create();
    for (const bad of [null, {}, 'x', carveJob('x'.repeat(5000)), { ...carveJob('x'), version: 99 }])
      expect(saveJob(db, id, 1, bad, '', 2).ok).toBe(false);
    expect(wording(id)).toBe('ONE');
  });

  it('takes an earlier revision back as a new one, and keeps what came between', () => {
    const made = createJobRow(db, carveJob('ONE'), '<svg>1</svg>', 1);
    if (!made.ok) throw new Error('not created');
    const { id } = made.value;
    saveJob(db, id, 1, carveJob('TWO'), '', 2);
    expect(listRevisions(db, id)).toEqual([
      { revision: 2, savedAt: 2, hasPicture: false },
      { revision: 1, savedAt: 1, hasPicture: true },
    ]);
    const taken = takeBack(db, id, 1, 2, 3);
    expect(taken.ok && taken.value.revision).toBe(3);
    expect(wording(id)).toBe('ONE');
    expect(readRevisionPicture(db, id, 3)).toBe('<svg>1</svg>');
    expect(listRevisions(db, id)).toHaveLength(3);
    // On an old page, or of a revision that is gone, nothing happens.
    expect(takeBack(db, id, 1, 2, 4)).toMatchObject({ ok: false, error: { kind: 'conflict' } });
    expect(takeBack(db, id, 77, 3, 4)).toMatchObject({ ok: false, error: { kind: 'notFound' } });
  });

  it('keeps the newest revisions whole and thins the older ones', () => {
    const id = create();
    for (let k = 1; k <= 130; k++) expect(saveJob(db, id, k, carveJob(`W${k}`), '', k).ok).toBe(true);
    const kept = db
      .select()
      .from(revisions)
      .all()
      .map((r) => r.revision);
    expect(kept).toContain(1);
    expect(kept).toContain(131);
    expect(kept).toContain(31);
    expect(kept).toContain(20);
    expect(kept).not.toContain(17);
  });

  it('takes the revisions away with the job', () => {
    const id = create();
    expect(deleteJob(db, id)).toBe(true);
    expect(db.select().from(revisions).all()).toEqual([]);
    expect(wording(id)).toBe('notFound');
    expect(deleteJob(db, id)).toBe(false);
  });

  it('does not open what a newer Hobel stored, and leaves it as it is', () => {
    const id = create();
    db.$client.prepare('update jobs set document = ?').run(JSON.stringify({ ...carveJob('x'), version: JOB_VERSION + 1 }));
    expect(wording(id)).toBe('newerVersion');
    expect(db.$client.prepare('select document from jobs').pluck().get()).toContain(`"version":${JOB_VERSION + 1}`);
  });
});

describe('damaged rows', () => {
  it('are set aside and named, and the others work', () => {
    seed(db, 1);
    const before = [listTools(db).length, listMachines(db).length];
    db.$client.prepare("UPDATE tools SET document = '{' WHERE id = ?").run(listTools(db)[0]!.id);
    db.$client
      .prepare("UPDATE machines SET document = json_set(document, '$.maxFeedMmPerMin', -1) WHERE id = ?")
      .run(listMachines(db)[1]!.id);
    expect([listTools(db).length, listMachines(db).length]).toEqual(before.map((n) => n - 1));
    expect(listDamagedTools(db)[0]!.what).toContain('no JSON');
    expect(listDamagedMachines(db)[0]!.what).toContain('$.maxFeedMmPerMin');
    // Neither does a new start take a damaged crib for an empty one.
    db.$client.exec("UPDATE tools SET document = '{'");
    seed(db, 2);
    expect(listTools(db)).toEqual([]);
    expect(deleteTool(db, listDamagedTools(db)[0]!.id)).toBe(true);
    expect(listDamagedTools(db)).toHaveLength(before[0]! - 1);
  });
});

describe('the database', () => {
  it('writes ahead, syncs fully and minds foreign keys', () => {
    expect(db.$client.pragma('journal_mode', { simple: true })).toBe('wal');
    expect(db.$client.pragma('synchronous', { simple: true })).toBe(2);
    expect(db.$client.pragma('foreign_keys', { simple: true })).toBe(1);
  });

  it('seeds once: what was removed stays removed', () => {
    seed(db, 5);
    expect(listJobs(db).length).toBeGreaterThan(0);
    expect(listMachines(db).length).toBeGreaterThan(1);
    const tools = listTools(db);
    deleteTool(db, tools[0]!.id);
    deleteMachine(db, listMachines(db)[0]!.id);
    putTool(db, { ...tools[1]!, name: 'renamed' });
    seed(db, 6);
    expect(listTools(db)).toHaveLength(tools.length - 1);
    expect(listTools(db)[0]!.name).toBe('renamed');
  });

  it('says that it is locked, and loses nothing', async () => {
    const id = create();
    const other = new Database(path.join(dir, 'hobel.sqlite'));
    other.exec('begin immediate');
    db.$client.pragma('busy_timeout = 50');
    const answer = await guarded(() => {
      saveJob(db, id, 1, carveJob('TWO'), '', 2);
      throw new Error('saved through a lock');
    });
    expect(answer.status).toBe(503);
    expect(await answer.json()).toMatchObject({ error: 'database', text: 'The database is locked by another program' });
    other.exec('rollback');
    expect(wording(id)).toBe('ONE');
    expect(saveJob(db, id, 1, carveJob('TWO'), '', 2).ok).toBe(true);
  });

  it('says that it is read-only', async () => {
    const id = create();
    db.$client.pragma('query_only = on');
    const answer = await guarded(() => {
      saveJob(db, id, 1, carveJob('TWO'), '', 2);
      throw new Error('saved into a read-only database');
    });
    expect(answer.status).toBe(503);
    expect(((await answer.json()) as { text: string }).text).toBe('The database is read-only');
    expect(wording(id)).toBe('ONE');
  });

  it('says that the file is no database, and does not touch it', () => {
    const elsewhere = mkdtempSync(path.join(tmpdir(), 'hobel-test-'));
    writeFileSync(path.join(elsewhere, 'hobel.sqlite'), 'a shopping list '.repeat(100));
    let said = '';
    try {
      openDb(elsewhere);
    } catch (error) {
      said = describeFailure(error);
    }
    expect(said).toContain('no Hobel database');
  });

  it('says that the folder cannot be made', () => {
    const file = path.join(dir, 'a-file');
    writeFileSync(file, '');
    chmodSync(file, 0o444);
    let said = '';
    try {
      openDb(path.join(file, 'data'));
    } catch (error) {
      said = describeFailure(error);
    }
    expect(said).not.toBe('');
    expect(said).toMatch(/data folder/i);
  });
});
