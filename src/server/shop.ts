import { getDb, type Db } from './db/connection';
import { seed } from './seed';

const state = globalThis as { hobelReady?: Db };

/** The database, migrated and seeded once in this process. What the app's handlers start from. */
export function openShop(): Db {
  if (!state.hobelReady) {
    const db = getDb();
    seed(db, Date.now());
    state.hobelReady = db;
  }
  return state.hobelReady;
}
