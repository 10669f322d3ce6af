import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { seedShop } from './crib';
import { fonts } from './db/schema';
import type { Db } from './db/connection';
import { countJobs, createJobRow } from './jobs';
import { keepShape } from './shapes';
import { getResourcesDir } from './resources/engines';
import { readCatalog } from './resources/fonts';
import { readShippedShapes } from './resources/shapes';

/** A demo job's picture for the Shelf, if it has one. */
const readPicture = (file: string): string => (existsSync(file) ? readFileSync(file, 'utf8').trim() : '');

/** Puts the starter crib, the shipped fonts and, on an empty Shelf, the demo jobs into the database. */
export function seed(db: Db, nowMs: number): void {
  seedShop(db);
  for (const entry of readCatalog()) {
    const sha256 = createHash('sha256')
      .update(readFileSync(path.join(getResourcesDir(), entry.file)))
      .digest('hex');
    const { id, family, style, kind, file } = entry;
    db.insert(fonts)
      .values({ id, family, style, kind, sha256, file, addedAt: nowMs })
      .onConflictDoUpdate({ target: fonts.id, set: { family, style, kind, sha256, file } })
      .run();
  }
  if (countJobs(db) > 0) return;
  for (const { name, bytes } of readShippedShapes()) keepShape(db, name, bytes, nowMs);
  const dir = path.join(getResourcesDir(), 'jobs');
  for (const file of readdirSync(dir).filter((f) => f.endsWith('.json'))) {
    const made = createJobRow(
      db,
      JSON.parse(readFileSync(path.join(dir, file), 'utf8')),
      readPicture(path.join(dir, file.replace(/\.json$/, '.svg'))),
      nowMs,
    );
    if (!made.ok) throw new Error(`${file}: ${made.error.problems.map((p) => `${p.path} ${p.text}`).join('; ')}`);
  }
}
