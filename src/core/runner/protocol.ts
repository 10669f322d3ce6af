import { z } from 'zod';
import { blankSchema } from '../job/blankSchema';
import { machineSchema } from '../job/machineSchema';
import { zeroSchema } from '../job/zero';

/**
 * How the simulated machine is spoken to: lines of text over a loopback connection, one command or one answer a line.
 *
 *     to it                        from it
 *     shape ID BASE64              ok shape            a free shape, packed, before the set-up that names it
 *     setup {json}                 ok setup
 *     line N TEXT                  ok N | no N REASON
 *     hold | resume | stop | home  ok …
 *     reset                        ok reset            clears an alarm
 *     jog X 10 F 600               ok jog | no jog REASON
 *     zero X 0                     ok zero             the word reads so where it stands: another work offset
 *     speed 20                     ok speed            runs so many times as fast as it would
 *     fault NAME on|off            ok fault
 *     power off | power on         ok power
 *     status                       at {json}           and by itself ten times a second
 *                                  touch X1. Y2. Z3.   where a probe tripped
 *                                  alarm REASON
 *
 * Lines are numbered from 1 on without a gap; one that comes too early is refused with the number that is waited for.
 */

/** What is on the machine. */
export const runnerSetupSchema = z.object({
  machine: machineSchema,
  blank: blankSchema,
  zero: zeroSchema,
  /** From the spindle's nose to the tip, mm. */
  gaugeMm: z.number().min(0).max(1000),
});
export type RunnerSetup = z.infer<typeof runnerSetupSchema>;

/** Troubles that can be switched on. */
export const RUNNER_FAULTS = {
  'line-lost': 'a line on its way is lost now and then',
  'slow-answer': 'it answers half a second late',
  'limit-hit': 'a limit switch is hit',
  'probe-misses': 'the probe does not trip',
} as const;
export type RunnerFault = keyof typeof RUNNER_FAULTS;

export type RunnerState = 'off' | 'alarm' | 'idle' | 'run' | 'hold' | 'homing';

/** Where the machine stands and what it does. */
export interface RunnerStatus {
  state: RunnerState;
  /** Line that runs, or ran last; and the line that is waited for. */
  line: number;
  expects: number;
  /** Lines that were taken and wait. */
  queued: number;
  /** Words of the program where it stands, mm and degrees, by letter; and the places of the machine's own axes. */
  words: Record<string, number>;
  own: Record<string, number>;
  /** Share of the line that runs. */
  share: number;
  spindleRpm: number;
  tool: number;
  isHomed: boolean;
  /** Whether the program has come to its end, or waits for a cutter to be put in. */
  ended: boolean;
  waits: string | null;
  alarm: string | null;
  faults: RunnerFault[];
  speed: number;
  touches: number;
}

export const STATUS_HZ = 10;
export const DEFAULT_RUNNER_PORT = 4320;
