import { expect, test, type Page } from '@playwright/test';
import { carveJob } from '../tests/support';
import { inspector, openJob, station } from './support';

const WORDS = carveJob('HOBEL', { words: { heightMm: 6 }, tool: { includedDeg: 60, tipMm: 0.1 }, carve: { maxDepthMm: 1 } });

/** Until the piece stands there cut. */
async function cut(page: Page): Promise<void> {
  await expect(page.getByTestId('relief')).toBeVisible({ timeout: 40_000 });
}
/** How many points of the sheet's relief are drawn. */
const drawn = (page: Page): Promise<number> =>
  page.getByTestId('relief').evaluate((node) => {
    const canvas = node as HTMLCanvasElement;
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
    let count = 0;
    for (let i = 3; i < data.length; i += 4) if (data[i]! > 60) count++;
    return count;
  });

test('the piece stands there cut, is played, stepped and scrubbed, and is whole again at its end', async ({ page }) => {
  await openJob(page, WORDS);
  await cut(page);
  const whole = await drawn(page);
  expect(whole).toBeGreaterThan(200);
  const box = (await page.getByTestId('ladder').boundingBox())!;
  await page.mouse.click(box.x + box.width * 0.15, box.y + box.height / 2);
  await expect.poll(() => drawn(page)).toBeLessThan(0.8 * whole);
  const half = await drawn(page);
  expect(half).toBeGreaterThan(0.02 * whole);
  const time = page.getByTestId('play-time');
  const before = await time.textContent();
  await page.getByRole('button', { name: 'Step on' }).click();
  await expect(time).not.toHaveText(before!);
  await page.getByLabel('Speed', { exact: true }).selectOption('256');
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(time).toContainText('0 s left', { timeout: 30_000 });
  await expect.poll(() => drawn(page)).toBeGreaterThan(0.98 * whole);
});

test('a place of the piece tells its depth and its line; a line drawn over a letter cuts it open', async ({ page }) => {
  await openJob(page, WORDS);
  await cut(page);
  await page.getByRole('button', { name: 'Measure' }).click();
  const glass = page.getByTestId('measure-glass');
  const letters = (await page.locator('[data-inscription] ').first().boundingBox())!;
  const y = letters.y + letters.height * 0.5;
  await page.mouse.move(letters.x - 10, y);
  await page.mouse.down();
  await page.mouse.move(letters.x + letters.width / 2, y);
  await page.mouse.move(letters.x + letters.width + 10, y);
  await page.mouse.up();
  await expect(glass).toBeVisible();
  const figures = page.getByTestId('section-figures');
  await expect(figures).toContainText(/drawn [\d.]+, cut [\d.]+ mm of it/);
  const [, drawnMm, cutMm] = /drawn ([\d.]+), cut ([\d.]+)/.exec((await figures.textContent())!)!;
  expect(Number(drawnMm)).toBeGreaterThan(0.5);
  expect(Math.abs(Number(cutMm) - Number(drawnMm))).toBeLessThan(0.25);
  await page.getByTestId('measured').getByRole('button', { name: 'Close' }).click();
  await expect(page.getByTestId('measured')).toHaveCount(0);
});

test('what if: a zero taken too low makes every letter wider, and nothing of the job changes', async ({ page }) => {
  await openJob(page, WORDS);
  await cut(page);
  await station(page, 'Proof').click();
  await expect(page.getByTestId('piece-figures')).toContainText('Taken away');
  const before = await page.getByTestId('piece-figures').textContent();
  await inspector(page).getByText('What if', { exact: true }).click();
  await inspector(page).getByLabel('Zero too high by').fill('-0.1');
  await expect(page.getByTestId('piece-figures')).not.toHaveText(before!, { timeout: 30_000 });
  await expect(inspector(page).getByText(/letters off/)).toBeVisible();
  await expect(page.getByTestId('save-state')).toHaveText('Saved');
  await inspector(page).getByRole('button', { name: 'As planned again' }).click();
  await expect(page.getByTestId('piece-figures')).toHaveText(before!, { timeout: 30_000 });
});

test('a program from elsewhere is run on the blank: its dangers are listed, lead to their line, and the job keeps its own', async ({
  page,
}) => {
  await openJob(page, WORDS);
  await cut(page);
  await station(page, 'Program').click();
  const text = [
    'G21 G90 G17',
    'G0 Z40',
    'G0 X20 Y0 A0',
    'M3 S9000',
    'G1 Z19.6 F100',
    'G3 X24 Y0 I2 J0 F200',
    'G0 X40',
    'O100 CALL',
    'G0 Z40',
    'M2',
  ].join('\n');
  await page.getByLabel('Program from elsewhere').setInputFiles({ name: 'ring.nc', mimeType: 'text/plain', buffer: Buffer.from(text) });
  const foreign = page.getByTestId('foreign');
  await expect(foreign).toContainText('ring.nc', { timeout: 30_000 });
  await expect(foreign).toContainText('Line 8');
  const danger = foreign.locator('[data-code=rapid-cuts]');
  await expect(danger).toBeVisible();
  await danger.getByRole('button', { name: 'Go there' }).click();
  await expect(page.locator('.cm-current-block')).toHaveText('G0 X40');
  await foreign.getByRole('button', { name: 'Back to the job’s own' }).click();
  await expect(foreign).toHaveCount(0);
  await expect(page.getByTestId('program-text')).not.toContainText('O100');
});
