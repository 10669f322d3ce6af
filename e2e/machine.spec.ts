import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { saved } from './support';

/** The simulated machine is one for all: these run one after the other. */
test.describe.configure({ mode: 'serial' });

async function open(page: Page, job: string): Promise<void> {
  await page.goto('/');
  await page.getByRole('link', { name: `Open ${job}` }).click();
  await page.waitForURL(/\/jobs\//);
  await page.getByRole('button', { name: /^Program .*lines/ }).waitFor({ timeout: 60_000 });
}

test('a blank is touched on the simulated machine, its run-out is told, and the passes follow it', async ({ page }) => {
  await open(page, 'Tiller sleeve');
  await page.keyboard.press('1');
  await page.getByLabel('Places along').fill('3');
  await page.getByLabel('round', { exact: true }).fill('8');
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Probing program' }).click();
  const text = readFileSync(await (await waiting).path(), 'utf8');
  expect(text.match(/G38\.2|^Z-?[\d.]+ F/gm)!.length).toBeGreaterThan(20);
  await page.getByRole('button', { name: 'Touch it on the simulated machine' }).click();
  const region = page.getByRole('region', { name: 'The blank as measured' });
  await expect(region).toContainText('It runs out by', { timeout: 60_000 });
  await expect(region).toContainText('towards turn 60°');
  await expect(region.getByRole('img', { name: /The rings as measured/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Program .*lines/ })).toBeVisible({ timeout: 60_000 });
  // The program is another: Z goes up and down with the blank.
  await page.keyboard.press('6');
  await expect(page.getByTestId('read-back')).toContainText('µm', { timeout: 60_000 });
  await page.keyboard.press('1');
  await region.getByLabel('Passes follow it').uncheck();
  await region.getByRole('button', { name: 'Forget what was measured' }).click();
  await expect(region).toBeHidden();
});

test('a log with a gap is refused with the place, and nothing is lost', async ({ page }) => {
  await open(page, 'Tiller sleeve');
  await page.keyboard.press('1');
  await page.getByLabel('Places along').fill('1');
  await page.getByLabel('round', { exact: true }).fill('4');
  const log = ['X45 Y0 Z20 A-180', 'X45 Y0 Z20 A-90', 'X45 Y0 Z20 A0'].join('\n');
  await page.getByLabel('Log of the probe').setInputFiles({ name: 'log.txt', mimeType: 'text/plain', buffer: Buffer.from(log) });
  await expect(page.getByRole('alert').filter({ hasText: 'log.txt cannot be taken' })).toContainText(/missing|at no place|lie up to/);
});

test('a touch that stands out of those beside it is asked about, and taken once it is said to be so', async ({ page }) => {
  await open(page, 'Rain gauge No. 7');
  await page.keyboard.press('1');
  const touches = Array.from({ length: 60 }, (_, k) => {
    const z = k === 17 ? 19.8 : 21;
    return `X${3 + 13.5 * (k % 5)} Y0 Z${z} A${30 * Math.floor(k / 5) - 180}`;
  });
  const buffer = Buffer.from(touches.join('\n'));
  await page.getByLabel('Log of the probe').setInputFiles({ name: 'log.txt', mimeType: 'text/plain', buffer });
  const told = page.getByRole('alert').filter({ hasText: 'log.txt cannot be taken' });
  await expect(told).toContainText('3 along, 4 round stands 1.20 mm under the places beside it');
  await page.getByRole('button', { name: 'It really is so: take it as touched' }).click();
  await expect(told).toBeHidden();
  const region = page.getByRole('region', { name: 'The blank as measured' });
  await expect(region).toContainText('1.2');
  // The next test has the blank as it was.
  await region.getByRole('button', { name: 'Forget what was measured' }).click();
  await expect(region).toBeHidden();
  await saved(page);
});

test('a program runs line by line, is held, loses its power, and goes on from the stroke where it was', async ({ page }) => {
  await open(page, 'Rain gauge No. 7');
  await page.keyboard.press('6');
  await page.locator('[data-testid=download]:not([disabled])').waitFor({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Run it on the simulated machine' }).click();
  const runner = page.getByRole('region', { name: 'The simulated machine' });
  const start = runner.getByRole('button', { name: 'Start the simulated machine' });
  await expect(start.or(runner.getByRole('button', { name: 'Home' }))).toBeVisible();
  if (await start.isVisible()) await start.click();
  await runner.getByRole('button', { name: 'Home' }).click({ timeout: 20_000 });
  await runner.getByLabel('So many times as fast').selectOption('20');
  await runner.getByRole('button', { name: 'Run the program' }).click();
  await expect(runner.getByRole('status')).toContainText('It runs', { timeout: 20_000 });
  await expect
    .poll(async () => Number(/line (\d+) of/.exec((await runner.innerText()).replace(/\u2009/g, ''))?.[1] ?? 0))
    .toBeGreaterThan(300);
  await runner.getByRole('button', { name: 'Hold' }).click();
  await expect(runner.getByRole('status')).toContainText('It is held');
  const held = await runner.getByTestId('at-X').innerText();
  await page.waitForTimeout(600);
  expect(await runner.getByTestId('at-X').innerText()).toBe(held);
  await runner.getByRole('button', { name: 'Resume' }).click();
  await expect(runner.getByRole('status')).toContainText('It runs');
  await runner.getByRole('button', { name: 'Cut the power' }).click();
  await expect(runner).toContainText('The power went at line');
  await runner.getByRole('button', { name: 'Power on' }).click();
  await runner.getByRole('button', { name: 'Home' }).click();
  await runner.getByRole('button', { name: 'Begin again at that stroke' }).click({ timeout: 20_000 });
  await expect(runner).toContainText('from line', { timeout: 20_000 });
  await runner.getByLabel('So many times as fast').selectOption('100');
  await expect(runner).toContainText('ended', { timeout: 60_000 });
});

test('a table that tilts is described, drawn and jogged, and its job says what is missing', async ({ page }) => {
  await page.goto('/machines');
  await page.getByRole('button', { name: 'Mill, tilting and turning table', exact: true }).click();
  const picture = page.getByRole('region', { name: 'The machine, to be jogged' });
  await expect(picture).toContainText('the side towards you goes up');
  await picture.getByRole('button', { name: 'Mine tilts the other way' }).click();
  await expect(picture).toContainText('the side away from you goes up');
  await picture.getByRole('button', { name: 'Mine tilts the other way' }).click();
  for (let k = 0; k < 9; k++) await picture.getByLabel('Jog A by −10 °').click();
  // No farther than it tilts.
  await expect(picture.getByRole('img')).toHaveAccessibleName(/A -30$/);
  await open(page, 'Tiller sleeve');
  await page.keyboard.press('1');
  await page.getByLabel('Machine', { exact: true }).selectOption({ label: 'Mill, tilting and turning table' });
  await expect(page.getByText('The blank stands on the table, its datum end down')).toBeVisible();
  await page.keyboard.press('5');
  await expect(page.getByText('Nobody has said where the axes of the table meet')).toBeVisible({ timeout: 60_000 });
  await page.keyboard.press('1');
  await page.getByLabel('Axes meet at Z').fill('-60');
  await expect(page.getByRole('button', { name: /^Program .*lines/ })).toBeVisible({ timeout: 60_000 });
  await page.keyboard.press('5');
  await expect(page.getByText('Nobody has said where the axes of the table meet')).toBeHidden({ timeout: 60_000 });
  await page.keyboard.press('Control+z');
});
