import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import type { Job } from '../src/core/job/schema';
import { openJob } from './support';

const run = (...args: string[]): string => spawnSync(process.execPath, ['scripts/hobel.mjs', ...args], { encoding: 'utf8' }).stdout;

// Browser and command line have different engines, which round the last digit of a sine otherwise: no choice may hang on it.
for (const name of ['rain-gauge', 'slate-plate']) {
  test(`page and command line write one text: ${name}`, async ({ page }) => {
    const folder = mkdtempSync(path.join(tmpdir(), 'hobel-text-'));
    const file = path.join(folder, 'job.json');
    // Under a name of its own, so that the demo stays the only one of its name on the Shelf.
    const job = { ...(JSON.parse(run('example', name)) as Job), name: `Text of ${name}` };
    writeFileSync(file, JSON.stringify(job));
    run('plan', file, '--out', folder);
    await openJob(page, job);
    const program = page.getByRole('button', { name: /^Program/ });
    await expect(program).toContainText('lines', { timeout: 60_000 });
    await program.click();
    const waiting = page.waitForEvent('download');
    await page.getByTestId('download').click();
    const saved = await (await waiting).path();
    expect(readFileSync(saved, 'utf8')).toBe(readFileSync(path.join(folder, 'program.nc'), 'utf8'));
  });
}
