import { mkdirSync } from 'node:fs';
import path from 'node:path';
import Database from 'better-sqlite3';
import { drizzle, type BetterSQLite3Database } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import * as schema from './schema';

export type Db = BetterSQLite3Database<typeof schema> & { $client: Database.Database };

/** How long a write waits for another process before it is refused, ms. */
const BUSY_TIMEOUT_MS = 3000;

/**
 * Opens the database in a folder, and brings it up to date.
 * Write-ahead log with full synchronising: what a save acknowledged survives the end of the process at any moment.
 * @throws SqliteError if the folder cannot be written, or the file is locked or no database.
 */
export function openDb(dataDir: string, migrationsDir = path.join(process.cwd(), 'drizzle')): Db {
  mkdirSync(dataDir, { recursive: true });
  const client = new Database(path.join(dataDir, 'hobel.sqlite'), { timeout: BUSY_TIMEOUT_MS });
  client.pragma('journal_mode = WAL');
  client.pragma('synchronous = FULL');
  client.pragma('foreign_keys = ON');
  const db = drizzle(client, { schema }) as Db;
  migrate(db, { migrationsFolder: migrationsDir });
  return db;
}

/** Folder of the database; the environment variable HOBEL_DATA moves it. */
export const getDataDir = (): string => process.env.HOBEL_DATA ?? path.join(process.cwd(), 'data');

const holder = globalThis as { hobelDb?: Db };

/** The one connection of this process; kept on the global so that a development reload does not open a second one. */
export function getDb(): Db {
  holder.hobelDb ??= openDb(getDataDir());
  return holder.hobelDb;
}
