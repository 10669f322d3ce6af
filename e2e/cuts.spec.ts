import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { carveJob } from '../tests/support';
import { inspector, openJob, station } from './support';

const WORDS = carveJob('HOBEL', { words: { heightMm: 9 }, tool: { includedDeg: 60, tipMm: 0.1 }, carve: { maxDepthMm: 0.4 } });

test('ways to cut are suggested, kept as trials, compared, and one is cut', async ({ page }) => {
  await openJob(page, WORDS);
  await station(page, 'Cuts').click();
  const panel = inspector(page);
  await panel.getByRole('button', { name: 'Suggest', exact: true }).click();
  const list = page.getByTestId('suggestions').getByRole('listitem');
  await expect.poll(() => list.count(), { timeout: 40_000 }).toBeGreaterThan(1);
  await list.first().getByRole('button', { name: 'As a trial' }).click();
  await panel.getByRole('button', { name: 'Compare' }).click();
  await expect(page.getByTestId('trial-figures')).toContainText('Changes of cutter', { timeout: 30_000 });
  await panel.getByRole('button', { name: 'Cut it so' }).click();
  await expect(panel.getByLabel('Trial')).toHaveValue(/^Before /);
  await panel.getByRole('button', { name: 'Measure the strokes' }).click();
  await expect(panel.locator('.tool-fit .fit').first()).toBeVisible({ timeout: 20_000 });
});

test('a pocket is made from the strokes, takes an end mill before its own, and is cut with both', async ({ page }) => {
  await openJob(page, { ...WORDS, cuts: [] });
  await station(page, 'Cuts').click();
  const panel = inspector(page);
  await panel.getByRole('button', { name: 'Pocket', exact: true }).click();
  const sentence = panel.locator('.sentence');
  await expect(sentence).toContainText('Pocket all lettering with End mill', { timeout: 20_000 });
  await expect(panel.getByRole('status').first()).toContainText('speeds by rule for brass');
  await sentence.getByRole('button', { name: /^Cutter that clears before/ }).click();
  await panel.getByRole('combobox', { name: 'Cutter that clears before' }).selectOption({ label: 'Ball 1' });
  await expect(sentence.locator('.figure').filter({ hasText: 'Ball 1: ' })).toBeVisible({ timeout: 30_000 });
  // Depth refused at its field, nothing lost.
  await sentence.getByRole('button', { name: /^Step-over/ }).click();
  await panel.getByRole('textbox', { name: 'Step-over, per cent of the diameter' }).fill('140');
  await expect(panel.getByText(/between 1 and 100 %/)).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(sentence).toContainText('45 %');
});

test('a carve that spends minutes on its floors is made in a quicker way at a press', async ({ page }) => {
  const slow = carveJob('HO', {
    words: { heightMm: 30 },
    tool: { includedDeg: 60, tipMm: 0.1 },
    carve: { maxDepthMm: 0.8 },
    blank: { diameterMm: 70, lengthMm: 120 },
  });
  await openJob(page, slow);
  await station(page, 'Cuts').click();
  const minutes = async () => Number(/(\d+) min/.exec(await station(page, 'Program').innerText())?.[1] ?? 0);
  await expect(page.getByTestId('better-way')).toBeVisible({ timeout: 60_000 });
  const before = await minutes();
  await page.getByTestId('better-way').click();
  await expect(page.getByTestId('better-way')).toBeHidden({ timeout: 30_000 });
  await expect(inspector(page).getByRole('status').first()).toContainText('as Hobel makes it');
  await expect.poll(minutes, { timeout: 60_000 }).toBeLessThan(before / 2);
});

test('the crib goes out as a table and comes in again; a cutter changed there is offered to the job', async ({ page }) => {
  await page.goto('/crib');
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'CSV' }).click()]);
  const table = readFileSync(await download.path(), 'utf8');
  expect(table.split('\r\n')[0]).toContain('number,name,kind');
  await page.getByLabel('Look for a cutter').fill('ball 2');
  await expect(page.getByRole('button', { name: 'Ball 2', exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Drill 2', exact: true })).toBeHidden();
  const changed =
    'id,number,name,kind,includedDeg,tipMm,cornerMm,diameterMm,fluteLengthMm,flutes\nown-1,71,Own mill,flat,90,1,0,1.2,4,2\n,,,drill';
  await page.getByLabel('File of cutters').setInputFiles({ name: 'own.csv', mimeType: 'text/csv', buffer: Buffer.from(changed) });
  await expect(page.getByRole('status')).toContainText('1 cutter taken in');
  await expect(page.getByRole('status')).toContainText('cutter 2: ');
  await page.getByLabel('Look for a cutter').fill('own mill');
  await expect(page.getByRole('cell', { name: '1.2', exact: true })).toBeVisible();
});
