import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { deflateSync } from 'node:zlib';
import { createInscription, createJob } from '../src/core/job/defaults';
import type { Inscription, Job } from '../src/core/job/schema';
import { inspector, openJob, restingBox, saved, stored } from './support';

const fold = (page: Page, name: string) => inspector(page).locator('summary').filter({ hasText: name }).click();

const openWith = (page: Page, inscriptions: Inscription[], patch: Partial<Job> = {}): Promise<string> =>
  openJob(page, { ...createJob('Lettering test'), inscriptions, ...patch });
const words = (id: string, text: string, xMm = 40, turnDeg = 0): Inscription => ({
  ...createInscription(id, text, 'dejavu-sans-bold', xMm),
  at: { xMm, turnDeg },
});

test('words follow a circle drawn on the sheet, fitted to it, and come off it again', async ({ page }) => {
  const id = await openWith(page, [words('w', 'ROUND AND ROUND')]);
  await fold(page, 'Guides');
  await page.getByRole('button', { name: 'a circle', exact: true }).click();
  const box = await restingBox(page.getByTestId('unrolled'));
  await page.mouse.click(box.x + box.width * 0.55, box.y + box.height * 0.5);
  await page.mouse.click(box.x + box.width * 0.7, box.y + box.height * 0.5);
  await expect(page.getByRole('listbox', { name: 'Guides' }).getByRole('option')).toHaveCount(1);
  await inspector(page)
    .locator('summary')
    .filter({ hasText: /^Guide(?!s)/ })
    .click();
  await page.getByLabel('Follows').selectOption({ label: 'Circle' });
  await inspector(page).locator('summary').filter({ hasText: /^Fit/ }).click();
  await page.getByLabel('Fitted to').selectOption('guide');
  const job = await stored(page, id);
  const guide = job.guides[0]!;
  expect(guide.kind).toBe('arc');
  const text = job.inscriptions[0]!;
  expect(text.kind === 'text' && text.onGuide?.guideId).toBe(guide.id);
  expect(text.kind === 'text' && text.fit.to).toBe('guide');
  // Removing the guide takes the words off it, and one undo brings both back.
  await page.getByRole('button', { name: 'Remove the guide' }).click();
  const off = await stored(page, id);
  expect(off.guides).toHaveLength(0);
  expect(off.inscriptions[0]!.kind === 'text' && off.inscriptions[0]!.onGuide).toBeNull();
  await page.getByRole('button', { name: 'Undo' }).click();
  expect(await stored(page, id)).toEqual(job);
});

test('a scale and a dial are set up by numbers, and undone in one step each', async ({ page }) => {
  const id = await openWith(page, [words('w', 'X', 70)]);
  await page.getByRole('button', { name: /Add something else/ }).click();
  await page.getByRole('button', { name: 'Add a scale or dial' }).click();
  await page.getByLabel('Runs').selectOption('dial');
  await page.getByLabel('to', { exact: true }).fill('360');
  await page.getByLabel('in steps of').fill('30');
  await page.getByLabel('In place of numbers').selectOption('twelve months');
  await page.getByLabel('Every so many steps', { exact: true }).fill('1');
  const job = await stored(page, id);
  const scale = job.inscriptions.find((i) => i.kind === 'series')!;
  expect(scale).toMatchObject({ shape: 'dial', to: 360, step: 30 });
  await page.getByLabel('in steps of').fill('0.00001');
  await expect(inspector(page).locator('[data-code=too-many-marks]')).toContainText('up to 20000');
});

test('several are selected by marquee, lined up, grouped and moved as one; locked ones stay', async ({ page }) => {
  const id = await openWith(page, [words('a', 'ONE', 20, 40), words('b', 'TWO', 40, 0), { ...words('c', 'THREE', 60, -40), locked: true }]);
  const box = await restingBox(page.getByTestId('unrolled'));
  await page.keyboard.down('Shift');
  await page.mouse.move(box.x + 95, box.y + 40);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width - 20, box.y + box.height - 40, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Shift');
  await expect(page.getByText('3 selected')).toBeVisible();
  await page.getByRole('button', { name: 'Middles in line, along' }).click();
  const lined = await stored(page, id);
  expect(lined.inscriptions[0]!.at.xMm).toBeCloseTo(lined.inscriptions[1]!.at.xMm, 1);
  expect(lined.inscriptions[2]!.at.xMm).toBe(60);
  await page.getByRole('button', { name: 'Group', exact: true }).click();
  await page.getByRole('option', { name: /^ONE/ }).click();
  await expect(page.getByText('3 selected')).toBeVisible();
  await page.getByRole('application').press('ArrowRight');
  await page.getByRole('application').press('Shift+ArrowUp');
  const moved = await stored(page, id);
  expect(moved.inscriptions[0]!.at.xMm).toBeCloseTo(lined.inscriptions[0]!.at.xMm + 0.1, 6);
  expect(moved.inscriptions[2]!.at).toEqual(lined.inscriptions[2]!.at);
});

test('artwork comes in from SVG with a report, and the sheet goes out as SVG and DXF', async ({ page }) => {
  const id = await openWith(page, [words('w', 'SHIP', 20)]);
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" width="20mm" height="20mm" viewBox="0 0 20 20"><g id="hull"><path d="M2 12h16l-3 5H5z"/></g><g id="rig"><path fill="none" stroke="#000" d="M10 12V2l6 8"/></g><text>no</text></svg>';
  await page.getByLabel('Artwork file').setInputFiles({ name: 'ship.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) });
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByTestId('import-report')).toContainText('1 outline to carve, 1 line to engrave');
  await expect(dialog).toContainText('pieces of text were left out');
  await dialog.getByLabel('rig').uncheck();
  await expect(dialog.getByTestId('import-report')).toContainText('0 lines to engrave');
  await dialog.getByRole('button', { name: 'Put it on the sheet' }).click();
  const job = await stored(page, id);
  const art = job.inscriptions.find((i) => i.kind === 'artwork')!;
  expect(art.kind === 'artwork' && art.layers.map((l) => [l.name, l.on])).toEqual([
    ['hull', true],
    ['rig', false],
  ]);
  for (const [kind, has] of [
    ['SVG', 'width="80mm"'],
    ['DXF', 'AREAS'],
  ] as const) {
    const waiting = page.waitForEvent('download');
    await page.getByRole('button', { name: /Add something else/ }).click();
    await page.getByRole('button', { name: `Save the sheet as ${kind}` }).click();
    expect(readFileSync(await (await waiting).path(), 'utf8')).toContain(has);
  }
});

test('hostile artwork is refused in words and the page stays alive', async ({ page }) => {
  await openWith(page, [words('w', 'SAFE')]);
  let defs = '<path id="u0" d="M0 0h1v1z"/>';
  for (let k = 1; k <= 6; k++) defs += `<g id="u${k}">${`<use href="#u${k - 1}"/>`.repeat(10)}</g>`;
  for (const [name, text, said] of [
    ['bomb.svg', `<svg><defs>${defs}</defs><use href="#u6"/></svg>`, 'has more than 200000 elements'],
    ['list.dxf', 'milk and eggs', 'cannot be read'],
    ['empty.svg', '<svg width="1mm" height="1mm" viewBox="0 0 1 1"></svg>', 'nothing to engrave'],
  ] as const) {
    await page.getByLabel('Artwork file').setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
    await expect(page.getByRole('dialog').getByRole('alert')).toContainText(said, { timeout: 15_000 });
    await page.getByRole('button', { name: 'Leave it' }).click();
    await expect(page.getByRole('dialog')).toHaveCount(0);
  }
  await page.getByLabel('Words').fill('STILL SAFE');
  await expect(page.getByTestId('ink-size')).toBeVisible();
  await saved(page);
});

test('wording varies by serial and table, with any row shown', async ({ page }) => {
  const id = await openWith(page, [words('w', '{owner} {serial}')]);
  await fold(page, 'Words that vary');
  await page
    .getByLabel('CSV table')
    .setInputFiles({ name: 'owners.csv', mimeType: 'text/csv', buffer: Buffer.from('\ufeffowner;town\nREED;PORT\nMOSS\n') });
  await expect(inspector(page).getByRole('status').filter({ hasText: '2 rows from owners.csv' })).toContainText('shorter than the head');
  await page.getByLabel('Piece shown').fill('2');
  await expect(inspector(page).locator('table.figures').filter({ hasText: 'owner' })).toContainText('MOSS');
  await page.getByLabel('Piece shown').fill('3');
  await expect(inspector(page).locator('[data-code=unknown-word]')).toContainText('{owner}');
  expect((await stored(page, id)).variables.piece).toBe(3);
});

test('upside-down lettering is found and turned by one click', async ({ page }) => {
  const id = await openWith(page, [{ ...words('w', 'OVER'), rotationDeg: 180 }]);
  await inspector(page).locator('[data-code=upside-down]').getByRole('button', { name: 'Turn it by 180°' }).click();
  await expect(inspector(page).locator('[data-code=upside-down]')).toHaveCount(0);
  expect((await stored(page, id)).inscriptions[0]!.rotationDeg).toBe(0);
});

test('a font is put into the type case, used, and taken out with a warning', async ({ page }) => {
  await page.goto('/type-case');
  const font = readFileSync('resources/fonts/ZillaSlab_700Bold.ttf');
  font[font.length - 1]! ^= 1;
  await page.getByLabel('Font file').setInputFiles([
    { name: 'harbour.ttf', mimeType: 'font/ttf', buffer: font },
    { name: 'notes.ttf', mimeType: 'font/ttf', buffer: deflateSync(Buffer.from('not a font')) },
  ]);
  await expect(page.locator('main').getByRole('status')).toContainText('Zilla Slab');
  await expect(page.locator('main').getByRole('alert')).toContainText('notes.ttf is no font');
  const list = (await (await page.request.get('/api/fonts')).json()) as { id: string; own: boolean }[];
  const own = list.find((f) => f.own)!.id;
  await openWith(page, [{ ...createInscription('w', 'OWN', own, 40) }]);
  await expect(inspector(page).locator('[data-code=font-missing]')).toHaveCount(0);
  await page.goto('/type-case');
  await page.getByRole('button', { name: /^Take out/ }).click();
  await expect(page.getByRole('dialog')).toContainText('Lettering test');
  await page.getByRole('button', { name: 'Take it out' }).click();
  await expect(page.getByRole('button', { name: /^Take out/ })).toHaveCount(0);
});
