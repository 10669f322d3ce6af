import { asc, eq } from 'drizzle-orm';
import { machineSchema, toolSchema, type Machine, type Tool } from '../core/job/schema';
import { DEFAULT_MACHINE, STARTER_TOOLS, TILTING_MACHINE } from '../core/job/defaults';
import { migrateMachine } from '../core/job/migrate';
import type { Db } from './db/connection';
import { machines, tools } from './db/schema';

/** The shop's cutters, in drawer order. */
export const listTools = (db: Db): Tool[] =>
  db
    .select()
    .from(tools)
    .orderBy(asc(tools.position))
    .all()
    .map((row) => toolSchema.parse(JSON.parse(row.document)));

export function putTool(db: Db, tool: Tool): void {
  const position = db.select({ id: tools.id }).from(tools).all().length;
  const document = JSON.stringify(tool);
  db.insert(tools).values({ id: tool.id, document, position }).onConflictDoUpdate({ target: tools.id, set: { document } }).run();
}

export const deleteTool = (db: Db, id: string): boolean => db.delete(tools).where(eq(tools.id, id)).run().changes > 0;

export const listMachines = (db: Db): Machine[] =>
  db
    .select()
    .from(machines)
    .orderBy(asc(machines.position))
    .all()
    .map((row) => machineSchema.parse(migrateMachine(JSON.parse(row.document))));

export function putMachine(db: Db, machine: Machine): void {
  const position = db.select({ id: machines.id }).from(machines).all().length;
  const document = JSON.stringify(machine);
  db.insert(machines).values({ id: machine.id, document, position }).onConflictDoUpdate({ target: machines.id, set: { document } }).run();
}

export const deleteMachine = (db: Db, id: string): boolean => db.delete(machines).where(eq(machines.id, id)).run().changes > 0;

/** Fills an empty crib and an empty list of machines, once. */
export function seedShop(db: Db): void {
  if (listTools(db).length === 0) STARTER_TOOLS.forEach((tool) => putTool(db, tool));
  if (listMachines(db).length === 0) {
    putMachine(db, DEFAULT_MACHINE);
    putMachine(db, {
      ...DEFAULT_MACHINE,
      id: 'router-rotary',
      name: 'Router, rotary along Y',
      layout: { ...DEFAULT_MACHINE.layout, wrappedAxis: 'X', rotary: { ...DEFAULT_MACHINE.layout.rotary, sense: -1 } },
      feedMode: 'G94',
      lengthDigits: 3,
      angleDigits: 3,
      maxFeedMmPerMin: 6000,
      rapidMmPerMin: 8000,
      accelerationMmPerS2: 600,
      toolChanger: true,
      toolChangeS: 10,
      toolLengths: 'table',
    });
    putMachine(db, TILTING_MACHINE);
  }
}
