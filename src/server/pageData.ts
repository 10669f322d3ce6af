import { describeFailure } from './answers';
import type { Db } from './db/connection';
import { openShop } from './shop';

/** What a page shows: its data, or in words why the database cannot give them. */
export type PageData<T> = { ok: true; data: T } | { ok: false; failure: string };

/** Reads a page's data from the shop. */
export function readForPage<T>(read: (db: Db) => T): PageData<T> {
  try {
    return { ok: true, data: read(openShop()) };
  } catch (error) {
    return { ok: false, failure: describeFailure(error) };
  }
}
