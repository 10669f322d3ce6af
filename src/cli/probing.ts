import { mkdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { Box } from '../core/base/rings';
import type { Setup } from '../core/pipeline/setup';
import { describeMeasured, measureFigures } from '../core/probe/describe';
import { MAX_GRID, type ProbeGrid } from '../core/probe/grid';
import { describeProbeRefusal, PROBE_DEFAULTS, writeProbeProgram } from '../core/probe/probeProgram';
import { readProbeResults } from '../core/probe/results';
import { proveProbeProgram } from '../core/proof/probing';
import { complain, EXIT_INVALID } from './posting';

export interface ProbeOptions {
  grid: string;
  out: string;
  touches?: string;
  ball: string;
  search: string;
  underLettering?: boolean;
  acceptTouch?: string[];
}

function refuse(why: string): void {
  complain(why);
  process.exitCode = EXIT_INVALID;
}

function readGrid(text: string): Pick<ProbeGrid, 'along' | 'round'> | null {
  const found = /^(\d+)[x×](\d+)$/.exec(text);
  const [along, round] = found ? [Number(found[1]), Number(found[2])] : [0, 0];
  return along >= 1 && along <= MAX_GRID.along && round >= 1 && round <= MAX_GRID.round ? { along, round } : null;
}

/**
 * Writes the probing program of a blank, or takes the log that such a program left into the job and says what it means.
 * @param within Part of the sheet that is touched; null for all of the blank.
 */
export async function probeBlank(setup: Setup, within: Box | null, options: ProbeOptions): Promise<void> {
  const counts = readGrid(options.grid);
  if (!counts) return refuse(`--grid ${options.grid}: give places along and round as 5x12, up to ${MAX_GRID.along}x${MAX_GRID.round}`);
  const grid = { ...counts, within };
  const [ballMm, searchMm] = [Number(options.ball), Number(options.search)];
  if (!(ballMm > 0 && ballMm <= 20)) return refuse(`--ball ${options.ball}: give a diameter in mm, more than 0 and at most 20`);
  if (!(searchMm > 0 && searchMm <= 50)) return refuse(`--search ${options.search}: give a way in mm, more than 0 and at most 50`);
  await mkdir(path.dirname(path.resolve(options.out)), { recursive: true });
  if (options.touches !== undefined) {
    const read = readProbeResults(await readFile(options.touches, 'utf8'), setup, grid, ballMm, {
      searchMm,
      accept: options.acceptTouch,
    });
    if (!read.ok) {
      for (const line of read.error.lines) complain(`${options.touches}: ${line}`);
      process.exitCode = EXIT_INVALID;
      return;
    }
    const figures = measureFigures(read.value, setup.surface);
    for (const { text } of describeMeasured(figures, setup.job.blank, (mm) => `${mm.toFixed(3)} mm`)) complain(text);
    await writeFile(options.out, `${JSON.stringify({ ...setup.job, measured: read.value }, null, 2)}\n`);
    return;
  }
  const made = writeProbeProgram(setup, { ...PROBE_DEFAULTS, ...grid, ballMm, searchMm });
  if (!made.ok) return refuse(describeProbeRefusal(made.error));
  const { faults, touches, beyond } = proveProbeProgram(setup, made.text, made.places, { searchMm });
  if (faults[0]) return refuse(`the probing program does not read back: ${faults[0]}`);
  if (beyond[0]) return refuse(`the probing program is more than the machine can do: ${beyond[0].text}`);
  await writeFile(options.out, made.text);
  complain(`${touches} places in ${Math.round(made.timeS)} s at the most, read back without a fault`);
}
