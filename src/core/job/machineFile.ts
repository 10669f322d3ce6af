import { err, ok, type Result } from '../base/result';
import { machineSchema, type Machine } from './machineSchema';
import { migrateMachine } from './migrate';
import { toJsonPath } from './parse';

export interface MachineFileError {
  kind: 'noMachine';
  /** What is wrong, a line each, with the place. */
  lines: string[];
}

/** A machine as a file: JSON, the same as in a job. */
export const toMachineFile = (machine: Machine): string => `${JSON.stringify(machine, null, 2)}\n`;

/** Reads a machine's file of any version. @returns Or what is wrong with it, a line each, with the place. */
export function readMachineFile(text: string): Result<Machine, MachineFileError> {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return err({ kind: 'noMachine', lines: [`not JSON: ${(error as Error).message}`] });
  }
  const parsed = machineSchema.safeParse(migrateMachine(value));
  if (parsed.success) return ok(parsed.data);
  return err({ kind: 'noMachine', lines: parsed.error.issues.map((i) => `${toJsonPath(i.path)}: ${i.message}`) });
}
