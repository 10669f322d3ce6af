import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { readNc } from '../tests/support';
import { restingBox, saved, station } from './support';

const planned = async (page: Page) => {
  await expect(page.getByRole('status').filter({ hasText: 'Stop' })).toHaveCount(0);
  await expect(page.getByRole('button', { name: /^Program/ })).toContainText('lines', { timeout: 30_000 });
};

async function newJob(page: Page, words: string) {
  await page.goto('/');
  await page.getByRole('button', { name: 'New job', exact: true }).click();
  await page.waitForURL(/\/jobs\//);
  await station(page, 'Lettering').click();
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByLabel('Words').fill(words);
}

async function download(page: Page): Promise<string> {
  await station(page, 'Program').click();
  const waiting = page.waitForEvent('download');
  await page.getByTestId('download').click();
  return readFileSync(await (await waiting).path(), 'utf8');
}

/** Extent of the feed moves below the surface: degrees round, mm along, deepest Z. */
function measure(text: string) {
  const { motions, faults } = readNc(text);
  expect(faults).toEqual([]);
  const cutting = motions.filter((m) => !m.rapid);
  const span = (k: number) => {
    const values = cutting.map((m) => m.end[k]!);
    return { min: Math.min(...values), max: Math.max(...values) };
  };
  return { turn: span(3), along: span(0), z: span(2) };
}

test('a new job goes from a cylinder and a word to a program with the extent and depth asked for', async ({ page }) => {
  await newJob(page, 'THE FIELD');
  await station(page, 'Blank').click();
  await page.getByLabel('Diameter').fill('2 in');
  await page.getByLabel('Length').fill('70');
  await expect(page.getByTestId('unrolled-size')).toHaveText('70 × 159.5929 mm');
  await station(page, 'Lettering').click();
  await page.getByLabel('Height').fill('24 pt');
  await page.getByLabel('Turned by').fill('90');
  await page.getByRole('button', { name: 'Centre along' }).click();
  await page.getByRole('button', { name: 'Centre at 0°' }).click();
  await station(page, 'Cuts').click();
  await page.getByRole('button', { name: 'V-carve', exact: true }).click();
  // Hobel's own choice goes by the strokes; here the cutter is chosen.
  await page.getByRole('button', { name: /^Cutter:/ }).click();
  await page.getByRole('combobox', { name: 'Cutter', exact: true }).selectOption({ label: '60° V, 0.1 tip' });
  await page.getByRole('button', { name: /^Depth limit/ }).click();
  await page.getByLabel('Depth limit', { exact: true }).fill('0.45');
  await page.keyboard.press('Enter');
  await planned(page);

  const cut = measure(await download(page));
  await station(page, 'Lettering').click();
  const ink = (await page.getByTestId('ink-size').textContent())!;
  const [, along, around, deg] = /ink ([\d.]+) × ([\d.]+) mm, ([\d.]+)° round/.exec(ink)!.map(Number);
  // The path of a V stays inside the outline, by up to the groove's half-width at the limit: 0.05 + 0.45 tan 30°.
  const inset = 0.05 + 0.45 * Math.tan(Math.PI / 6);
  const insetDeg = (inset / 25.4) * (180 / Math.PI);
  expect(cut.turn.max - cut.turn.min).toBeLessThanOrEqual(deg!);
  expect(cut.turn.max - cut.turn.min).toBeGreaterThan(deg! - 2 * insetDeg - 0.2);
  // Centred by its ink: each end of the path lies inside the ink's end by at most the inset.
  for (const end of [cut.turn.max, -cut.turn.min]) {
    expect(end).toBeLessThan(deg! / 2 + 0.1);
    expect(end).toBeGreaterThan(deg! / 2 - insetDeg - 0.1);
  }
  expect(cut.along.max - cut.along.min).toBeLessThanOrEqual(along!);
  expect(cut.along.max - cut.along.min).toBeGreaterThan(along! - 2 * inset - 0.05);
  expect(cut.z.min).toBeCloseTo(25.4 - 0.45, 4);
  // 24 pt is 8.4667 mm: flat capitals stand that high, along the blank since the words are turned.
  expect(along).toBe(8.47);
  expect(around).toBeGreaterThan(40);
});

test('everything is kept: reload, undo, and late changes of the wording reach the program', async ({ page }) => {
  await newJob(page, 'TERN');
  await page.getByLabel('Turned by').fill('90');
  await station(page, 'Cuts').click();
  await page.getByRole('button', { name: 'V-carve', exact: true }).click();
  await planned(page);
  await expect(page.getByTestId('save-state')).toHaveText('Saved');
  const short = measure(await download(page));

  await page.reload();
  await station(page, 'Lettering').click();
  await expect(page.getByLabel('Words')).toHaveValue('TERN');
  await planned(page);
  await page.getByLabel('Words').fill('TERN AND GULL');
  await planned(page);
  const long = measure(await download(page));
  expect(long.turn.max - long.turn.min).toBeGreaterThan(2 * (short.turn.max - short.turn.min));

  await page.getByRole('button', { name: 'Undo' }).click();
  await station(page, 'Lettering').click();
  await expect(page.getByLabel('Words')).toHaveValue('TERN');
  await planned(page);
  const undone = measure(await download(page));
  expect(undone).toEqual(short);
  await page.getByRole('button', { name: 'Redo' }).click();
  await station(page, 'Lettering').click();
  await expect(page.getByLabel('Words')).toHaveValue('TERN AND GULL');
  await expect(page.getByTestId('save-state')).toHaveText('Saved');
  await page.reload();
  await expect(page.getByLabel('Words')).toHaveValue('TERN AND GULL');
});

test('lettering is moved by dragging and by arrow keys, and one undo takes a drag back', async ({ page }) => {
  await newJob(page, 'EDDY');
  const turn = page.getByLabel('Round, turn');
  await expect(page.getByTestId('frame')).toBeVisible();
  const box = await restingBox(page.getByTestId('frame'));
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  for (let k = 1; k <= 6; k++) await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2 - 12 * k);
  await page.mouse.up();
  const turnedDeg = async () => Number(await turn.inputValue());
  await expect.poll(turnedDeg).toBeGreaterThan(20);
  const dragged = await turnedDeg();
  await page.getByRole('application').press('ArrowUp');
  await expect.poll(turnedDeg).toBeCloseTo(dragged + (0.1 / 20) * (180 / Math.PI), 3);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(turn).toHaveValue('0');
});

test('a keystroke draws the blank once, with the new letters; no frame with the old ones goes before', async ({ page }) => {
  // A frame for nothing holds the page up where there is no graphics card, and the letters come that much later.
  await page.addInitScript(() => {
    const told = ((window as unknown as { drawn: string[] }).drawn = [] as string[]);
    const proto = WebGL2RenderingContext.prototype;
    const { clear, bufferData } = proto;
    proto.clear = function (mask) {
      told.push('frame');
      clear.call(this, mask);
    };
    proto.bufferData = function (this: WebGL2RenderingContext, ...args: Parameters<typeof bufferData>) {
      told.push('geometry');
      bufferData.apply(this, args);
    } as typeof bufferData;
  });
  await newJob(page, 'EDDY');
  await page.getByLabel('Words').press('End');
  const drawn = () => page.evaluate(() => (window as unknown as { drawn: string[] }).drawn);
  // The blank comes after the words, and how late is the machine's affair: it was drawn, and nothing has been for two seconds.
  let before = 0;
  let asks = 0;
  await expect
    .poll(
      async () => {
        const frames = (await drawn()).filter((told) => told === 'frame').length;
        asks = frames > 0 && frames === before ? asks + 1 : 0;
        before = frames;
        return asks;
      },
      { intervals: [200], timeout: 60_000 },
    )
    .toBeGreaterThanOrEqual(10);
  await page.evaluate(() => (window as unknown as { drawn: string[] }).drawn.splice(0));
  await page.keyboard.type('S');
  await expect.poll(drawn).toContain('frame');
  expect((await drawn())[0]).toBe('geometry');
});

test('what would spoil the piece stops the download until it is acknowledged', async ({ page }) => {
  await newJob(page, 'R');
  await page.getByLabel('Mirrored (stamp)').check();
  await station(page, 'Cuts').click();
  await page.getByRole('button', { name: 'V-carve', exact: true }).click();
  await planned(page);
  await station(page, 'Program').click();
  await expect(page.getByTestId('download')).toBeDisabled();
  await expect(page.locator('[data-code=mirrored]')).toContainText('reads backwards');
  await page.getByLabel('I know; cut it so').check();
  await expect(page.getByTestId('download')).toBeEnabled();
});

test('bad figures and texts are refused in words and nothing is lost', async ({ page }) => {
  await newJob(page, 'SHOAL');
  await station(page, 'Blank').click();
  const diameter = page.getByLabel('Diameter');
  for (const [typed, words] of [
    ['0', 'between 0.5 and 2000'],
    ['-5', 'between 0.5 and 2000'],
    ['NaN', 'no unit here'],
    ['1e9', 'between 0.5 and 2000'],
    ['2*', 'cannot be worked out'],
    ['1/0', 'no finite number'],
  ] as const) {
    await diameter.fill(typed);
    await expect(page.getByTestId('inspector').getByRole('alert')).toContainText(words);
  }
  await diameter.blur();
  await expect(diameter).toHaveValue('40');
  await station(page, 'Lettering').click();
  await page.getByLabel('Words').fill('x'.repeat(100_000));
  await expect(page.getByTestId('inspector').getByRole('alert')).toContainText('up to 2000 characters');
  await expect(page.getByLabel('Words')).toHaveValue('SHOAL');
  await page.getByLabel('Words').fill('OK 🐟');
  await expect(page.getByTestId('inspector').locator('[data-code=glyph-missing]')).toContainText('U+1F41F');
});

test('two pages on one job cannot overwrite each other', async ({ page, context }) => {
  await newJob(page, 'ONE');
  await expect(page.getByTestId('save-state')).toHaveText('Saved');
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(other.getByTestId('frame')).toBeVisible({ timeout: 30_000 });
  await other.getByLabel('Words').fill('TWO');
  await expect(other.getByTestId('save-state')).toHaveText('Saved');
  await page.getByLabel('Words').fill('THREE');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('TWO');
  await dialog.getByRole('button', { name: /Take the other/ }).click();
  await expect(page.getByLabel('Words')).toHaveValue('TWO');
  await page.getByLabel('Words').fill('FOUR');
  await expect(page.getByTestId('save-state')).toHaveText('Saved');
});

test("the browser's Back shows the job as it was saved last, not as it was opened", async ({ page }) => {
  await newJob(page, 'OLD');
  await saved(page);
  const url = page.url();
  await page.goto('/');
  await page
    .locator(`a[href="${new URL(url).pathname}"]`)
    .first()
    .click();
  await station(page, 'Lettering').click();
  await page.getByLabel('Words').fill('NEW');
  await saved(page);
  await page.getByRole('link', { name: 'Shelf' }).first().click();
  await page.waitForURL(/\/$/);
  await page.goBack();
  await expect(page.locator('[data-inscription]').first()).toBeVisible();
  await station(page, 'Lettering').click();
  await expect(page.getByLabel('Words')).toHaveValue('NEW');
  await page.getByLabel('Words').fill('NEWER');
  await saved(page);
  await expect(page.getByRole('dialog')).toHaveCount(0);
});

test('a tab closed right after a keystroke does not lose it', async ({ page, context }) => {
  await newJob(page, 'KEPT');
  await saved(page);
  const id = page.url().split('/').pop()!;
  await page.getByLabel('Words').fill('KEPT TOO');
  await page.close();
  await expect
    .poll(async () => JSON.stringify(await (await context.request.get(`/api/jobs/${id}`)).json()), { timeout: 15_000 })
    .toContain('KEPT TOO');
});

test('the ladder drives the tool and the marked block', async ({ page }) => {
  await newJob(page, 'LOG');
  await station(page, 'Cuts').click();
  await page.getByRole('button', { name: 'V-carve', exact: true }).click();
  await planned(page);
  await station(page, 'Program').click();
  const ladder = page.getByTestId('ladder');
  const box = await restingBox(ladder);
  await page.mouse.click(box.x + box.width * 0.4, box.y + box.height / 2);
  const first = await page.locator('.cm-current-block').textContent();
  await page.mouse.click(box.x + box.width * 0.63, box.y + box.height / 2);
  await expect(page.locator('.cm-current-block')).not.toHaveText(first!);
  await expect(page.getByTestId('tool-mark')).toBeVisible();
});

test('the program leaves with a set-up sheet, and a dry run that stays off the blank', async ({ page }) => {
  await newJob(page, 'NORTH');
  await station(page, 'Cuts').click();
  await page.getByRole('button', { name: 'V-carve', exact: true }).click();
  await planned(page);
  await station(page, 'Program').click();
  await expect(page.getByTestId('download')).toBeEnabled({ timeout: 30_000 });
  let waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Set-up sheet for the machine' }).click();
  const sheet = await waiting;
  expect(sheet.suggestedFilename()).toMatch(/-set-up\.pdf$/);
  expect(readFileSync(await sheet.path(), 'latin1').slice(0, 5)).toBe('%PDF-');

  await page.getByRole('button', { name: /^Paper, dry run/ }).click();
  const lift = page.getByLabel('Dry run lifted by');
  await lift.fill('0.1');
  await page.getByRole('button', { name: 'Dry run' }).click();
  await expect(page.getByText(/lift it by .* or more/)).toBeVisible();
  await lift.fill('15');
  waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Dry run' }).click();
  const text = readFileSync(await (await waiting).path(), 'utf8');
  expect(text).toContain('DRY RUN, lifted by 15. mm');
  expect(text).not.toMatch(/M3\b/);
  await expect(page.getByText(/Read back, it stays .* off the blank/)).toBeVisible();
});

test('a program is taken from the stroke on at which the tool stands, and its zero is put where it is touched', async ({ page }) => {
  await newJob(page, 'BOW');
  await station(page, 'Cuts').click();
  await page.getByRole('button', { name: 'V-carve', exact: true }).click();
  await planned(page);
  await station(page, 'Blank').click();
  await expect(page.getByTestId('zero-mark')).toBeVisible();
  await page.getByLabel('X zero at').selectOption('far');
  await expect(page.getByText(/X is zero at the far end/)).toBeVisible();
  await station(page, 'Program').click();
  await expect(page.getByTestId('program-text')).toContainText('zero X at the far end', { timeout: 60_000 });
  await page.getByRole('button', { name: /^Paper, dry run/ }).click();
  const begin = page.getByRole('button', { name: 'From this stroke on' });
  await expect(begin).toBeEnabled({ timeout: 60_000 });
  const waiting = page.waitForEvent('download');
  await begin.click();
  const file = await waiting;
  expect(file.suggestedFilename()).toMatch(/from-line-\d+\.nc$/);
  await expect(page.getByRole('region', { name: 'Begin here' })).toContainText(/it cuts what the whole program cuts from line \d+ on/);
  const text = readFileSync(await file.path(), 'utf8');
  // What left last is kept, and what is other since is said: here the words of X.
  await page.getByTestId('download').click();
  const since = page.getByRole('region', { name: 'Since the last download' });
  await expect(since).toContainText('the program is the same');
  await station(page, 'Blank').click();
  await page.getByLabel('X zero at').selectOption('middle');
  await saved(page);
  await page.reload();
  await station(page, 'Program').click();
  await expect(since).toContainText('the program is another now', { timeout: 60_000 });
  await since.getByRole('button', { name: 'Show the difference' }).click();
  await expect(page.getByTestId('difference')).toContainText('the middle of its length');
  // Up first, then across, then down.
  const motions = text.split('\n').filter((l) => /^(G0|Z|X|A)/.test(l));
  expect(motions[0]).toMatch(/^G0 Z/);
  expect(motions[1]).not.toContain('Z');
  expect(motions[2]).toMatch(/^Z/);
});
