import { readFileSync } from 'node:fs';
import { expect, test, type Locator, type Page } from '@playwright/test';
import type { Job } from '../src/core/job/schema';
import { carveJob } from '../tests/support';
import { inspector, openJob, restingBox, station } from './support';

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
  await expect(panel.locator('p[role=status]').first()).toContainText('speeds by rule for brass');
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
  await expect(inspector(page).locator('p[role=status]').first()).toContainText('as Hobel makes it');
  await expect.poll(minutes, { timeout: 60_000 }).toBeLessThan(before / 2);
});

const PLATE = JSON.parse(readFileSync('resources/jobs/berth-plate.json', 'utf8')) as Job;

/** Middle of what is seen of a thing. */
const middleOf = async (thing: Locator): Promise<[number, number]> => {
  const box = await thing.boundingBox();
  // While the passes are planned anew it is not there.
  return box ? [box.x + box.width / 2, box.y + box.height / 2] : [NaN, NaN];
};
/** The same once it has come to rest. */
const restingMiddleOf = async (thing: Locator): Promise<[number, number]> => {
  await restingBox(thing);
  return middleOf(thing);
};
/** @param arrived Waited for before the hand lets go. */
async function drag(page: Page, from: [number, number], to: [number, number], arrived?: () => Promise<void>) {
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move(...to, { steps: 8 });
  await arrived?.();
  await page.mouse.up();
}

test('cuts are dragged into another order, and by the keys back; an undo takes each back', async ({ page }) => {
  await openJob(page, { ...WORDS, cuts: [WORDS.cuts[0]!, { ...WORDS.cuts[0]!, id: 'again', name: 'Again', enabled: false }] });
  await station(page, 'Cuts').click();
  const order = () =>
    inspector(page)
      .locator('.sentence')
      .evaluateAll((all) => all.map((e) => e.getAttribute('data-testid')));
  expect(await order()).toEqual(['cut-carve', 'cut-again']);
  const handles = page.getByRole('button', { name: /^Order of/ });
  // What it is dragged over has been told to who does not see before the hand lets go; so with each key below.
  const told = page.locator('[id^="DndLiveRegion"]');
  const [x, y] = await restingMiddleOf(handles.nth(1));
  await drag(page, await restingMiddleOf(handles.nth(0)), [x, y + 20], () =>
    expect(told).toContainText('carve was moved over droppable area again'),
  );
  await expect.poll(order).toEqual(['cut-again', 'cut-carve']);
  await handles.nth(1).focus();
  await page.keyboard.press('Space');
  await expect(told).toContainText('carve was moved over droppable area carve');
  // The key is heard a moment after that is told; at the top once more does nothing.
  await expect(async () => {
    await page.keyboard.press('ArrowUp');
    await expect(told).toContainText('moved over droppable area again', { timeout: 2000 });
  }).toPass();
  await page.keyboard.press('Space');
  await expect.poll(order).toEqual(['cut-carve', 'cut-again']);
  await page.keyboard.press('Control+z');
  await expect.poll(order).toEqual(['cut-again', 'cut-carve']);
});

test('a tab and the beginning of a way are dragged along the way, and the program follows', async ({ page }) => {
  await openJob(page, PLATE);
  await station(page, 'Cuts').click();
  const ways = page.getByTestId(/^ways-/);
  await expect(ways.locator('rect')).toHaveCount(4, { timeout: 60_000 });
  const [x, y] = await restingMiddleOf(ways.locator('rect').first());
  await drag(page, [x, y], [x + 40, y + 30]);
  await expect(ways.locator('rect')).toHaveCount(4);
  // It stays on the way: only along it has it moved, and the others stand where they were.
  await expect
    .poll(async () => {
      const all = await Promise.all([0, 1, 2, 3].map((k) => middleOf(ways.locator('rect').nth(k))));
      return all.some(([px, py]) => Math.abs(px - x - 40) < 8 && Math.abs(py - y) < 8);
    })
    .toBe(true);
  const start = ways.locator('path').first();
  const [sx, sy] = await restingMiddleOf(start);
  await drag(page, [sx, sy], [sx - 60, sy]);
  await expect.poll(async () => Math.abs((await middleOf(start))[0] - sx + 60)).toBeLessThan(10);
  await expect(page.getByTestId('unreached')).toBeVisible();
});

test('a trial is looked at beside the piece, with a line that is dragged between them', async ({ page }) => {
  const shallow = { id: 't', name: 'Shallow', cuts: [{ ...WORDS.cuts[0]!, maxDepthMm: 0.2 }] };
  await openJob(page, { ...WORDS, trials: [shallow] } as Job);
  await station(page, 'Cuts').click();
  await inspector(page).getByRole('button', { name: 'Beside' }).click();
  const line = page.getByTestId('wipe');
  await expect(line).toBeVisible({ timeout: 60_000 });
  const [x, y] = await restingMiddleOf(line);
  await drag(page, [x, y], [x + 70, y]);
  await expect.poll(async () => (await middleOf(line))[0]).toBeGreaterThan(x + 60);
  // A change of the job has another piece: the trial is no more beside it.
  await page.getByRole('button', { name: 'No more side by side' }).click();
  await expect(line).toBeHidden();
});

test('a machine has some cutters of the crib, by numbers of its own, and a job chooses among them', async ({ page }) => {
  await page.goto('/crib');
  await page.getByLabel('Ball 2 is on the machine').uncheck();
  await page.getByLabel('number of Ball 1 on the machine').fill('44');
  await page.getByLabel(/^Only those that/).check();
  await expect(page.getByRole('button', { name: 'Ball 2', exact: true })).toBeHidden();
  await expect(page.getByRole('button', { name: 'Ball 1', exact: true })).toBeVisible();
  await page.getByLabel('Units').selectOption('in');
  await expect(page.getByRole('columnheader', { name: 'Diameter, in' })).toBeVisible();
  await page.getByLabel(/^Only those that/).uncheck();
  await page.getByLabel('Ball 2 is on the machine').check();
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
