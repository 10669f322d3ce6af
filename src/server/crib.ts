import { asc, eq } from 'drizzle-orm';
import type { z } from 'zod';
import { toJsonPath } from '../core/job/parse';
import { machineSchema, toolSchema, type Machine, type Tool } from '../core/job/schema';
import { STARTER_TOOLS } from '../core/crib/starterTools';
import { STARTER_MACHINES } from '../core/job/starterMachines';
import { migrateMachine, migrateTool } from '../core/job/migrate';
import type { Db } from './db/connection';
import { machines, tools } from './db/schema';

/** A row that cannot be used: what is wrong with it. It stays in the database, set aside, until somebody removes it. */
export interface DamagedRow {
  id: string;
  what: string;
}

interface Stored {
  id: string;
  document: string;
}

/** Rows by whether they can be read. One that cannot does not keep the others from being used. */
function sortRows<T>(rows: readonly Stored[], read: (value: unknown) => { success: boolean; data?: T; error?: z.ZodError }) {
  const good: T[] = [];
  const damaged: DamagedRow[] = [];
  for (const { id, document } of rows) {
    try {
      const made = read(JSON.parse(document));
      if (made.success) good.push(made.data!);
      else damaged.push({ id, what: `${toJsonPath(made.error!.issues[0]!.path)} ${made.error!.issues[0]!.message}` });
    } catch (error) {
      damaged.push({ id, what: `it is no JSON text (${(error as Error).message})` });
    }
  }
  return { good, damaged };
}

const sortTools = (db: Db) =>
  sortRows<Tool>(db.select().from(tools).orderBy(asc(tools.position)).all(), (v) => toolSchema.safeParse(migrateTool(v)));
const sortMachines = (db: Db) =>
  sortRows<Machine>(db.select().from(machines).orderBy(asc(machines.position)).all(), (v) => machineSchema.safeParse(migrateMachine(v)));

/** The shop's cutters, in drawer order. */
export const listTools = (db: Db): Tool[] => sortTools(db).good;
export const listDamagedTools = (db: Db): DamagedRow[] => sortTools(db).damaged;

export function putTool(db: Db, tool: Tool): void {
  const position = db.select({ id: tools.id }).from(tools).all().length;
  const document = JSON.stringify(tool);
  db.insert(tools).values({ id: tool.id, document, position }).onConflictDoUpdate({ target: tools.id, set: { document } }).run();
}

export const deleteTool = (db: Db, id: string): boolean => db.delete(tools).where(eq(tools.id, id)).run().changes > 0;

export const listMachines = (db: Db): Machine[] => sortMachines(db).good;
export const listDamagedMachines = (db: Db): DamagedRow[] => sortMachines(db).damaged;

export function putMachine(db: Db, machine: Machine): void {
  const position = db.select({ id: machines.id }).from(machines).all().length;
  const document = JSON.stringify(machine);
  db.insert(machines).values({ id: machine.id, document, position }).onConflictDoUpdate({ target: machines.id, set: { document } }).run();
}

export const deleteMachine = (db: Db, id: string): boolean => db.delete(machines).where(eq(machines.id, id)).run().changes > 0;

/** Fills an empty crib and an empty list of machines, once. */
export function seedShop(db: Db): void {
  if (db.select({ id: tools.id }).from(tools).all().length === 0) STARTER_TOOLS.forEach((tool) => putTool(db, tool));
  if (db.select({ id: machines.id }).from(machines).all().length === 0) STARTER_MACHINES.forEach((machine) => putMachine(db, machine));
}
