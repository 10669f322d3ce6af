import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { carveJob } from '../tests/support';
import { inspector, openJob, restingBox, station } from './support';

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
  const box = await restingBox(page.getByTestId('ladder'));
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
  const letters = await restingBox(page.locator('[data-inscription] ').first());
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
  // The page judges the piece as the command line does.
  await expect(page.getByTestId('verdict')).toContainText('nothing too deep and nothing left', { timeout: 30_000 });
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

test('the piece is taken away: the whole blank as a solid, and pictures of both views up to 4,000 pixels wide', async ({ page }) => {
  await openJob(page, WORDS);
  await cut(page);
  await station(page, 'Proof').click();
  await inspector(page).getByText('Take it away', { exact: true }).click();
  const take = async (name: string): Promise<Buffer> => {
    const [file] = await Promise.all([
      page.waitForEvent('download', { timeout: 40_000 }),
      inspector(page).getByRole('button', { name, exact: true }).click(),
    ]);
    return readFileSync(await file.path());
  };
  await expect(inspector(page).getByLabel('Solid of')).toHaveValue('whole');
  const whole = await take('Solid, STL');
  expect(whole.subarray(0, 14).toString()).toBe('engraved blank');
  expect(whole.length).toBe(84 + 50 * whole.readUInt32LE(80));
  await inspector(page).getByLabel('Solid of').selectOption('patch');
  const patch = await take('Solid, STL');
  expect(patch.subarray(0, 14).toString()).toBe('engraved patch');
  await inspector(page).getByLabel('Width of pictures').selectOption('4000');
  for (const name of ['Picture of the blank', 'of the sheet']) {
    const png = await take(name);
    // Width in the header of a PNG.
    expect(png.readUInt32BE(16), name).toBe(4000);
  }
});

test('without the blank only what is cut stands there, coloured by depth, with a key', async ({ page }) => {
  await openJob(page, WORDS);
  await cut(page);
  await page.locator('#look-menu').click();
  await page.locator('#look-blank').click();
  await page.locator('#look-depth').click();
  await expect(page.getByTestId('depth-key')).toContainText('deep');
  await page.keyboard.press('Escape');
});

test('what if a tip is worn wide: the letters that vanish are named', async ({ page }) => {
  await openJob(page, WORDS);
  await cut(page);
  await station(page, 'Proof').click();
  await expect(page.getByTestId('piece-figures')).toContainText('Sharp corners');
  await inspector(page).getByText('What if', { exact: true }).click();
  await inspector(page).getByLabel('V tips worn to').fill('1.9');
  await expect(page.getByTestId('lost-letters')).toContainText('vanish', { timeout: 30_000 });
  await inspector(page).getByRole('button', { name: 'As planned again' }).click();
  await expect(page.getByTestId('lost-letters')).toHaveCount(0, { timeout: 30_000 });
});

test('a long program from elsewhere is shown some thousand lines at a time; one that ships is full of faults, and they are found', async ({
  page,
}) => {
  // The tube that the shipped program is made for.
  await openJob(page, { ...WORDS, blank: { ...WORDS.blank, diameterMm: 42, lengthMm: 60, boreMm: 34 } } as typeof WORDS);
  await cut(page);
  await station(page, 'Program').click();
  const lines = Array.from({ length: 6000 }, (_, k) => `G1 X${(20 + (k % 200) / 20).toFixed(3)} A${(k / 40).toFixed(3)} F600`);
  const text = ['G21 G90 G94', 'G0 Z40', 'M3 S9000', 'G0 X20 Y0 A0', 'G1 Z19.9 F100', ...lines, 'G0 Z40', 'M5', 'M2'].join('\n');
  await page.getByLabel('Program from elsewhere').setInputFiles({ name: 'long.nc', mimeType: 'text/plain', buffer: Buffer.from(text) });
  const program = inspector(page);
  await expect(page.getByTestId('foreign')).toContainText('long.nc', { timeout: 30_000 });
  await expect(program.getByText(/^Lines from 4.?001$/)).toBeVisible();
  await program.getByRole('button', { name: 'Before', exact: true }).click();
  await expect(program.getByText(/^Lines from 2.?001$/)).toBeVisible();
  await page.getByTestId('foreign').getByRole('button', { name: 'Back to the job’s own' }).click();
  await program.getByRole('button', { name: 'See one that is full of faults' }).click();
  for (const code of ['rapid-cuts', 'cuts-still', 'dives-fast', 'asks-too-fast', 'winds-up']) {
    await expect(page.getByTestId('foreign').locator(`[data-code=${code}]`)).toBeVisible({ timeout: 30_000 });
  }
  await expect(page.getByTestId('foreign').getByTestId('verdict')).toContainText('Not as the job means it');
});
