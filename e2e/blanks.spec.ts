import { createCut } from '../src/core/cut/kinds/registry';
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { createInscription, createJob } from '../src/core/job/defaults';
import type { Job } from '../src/core/job/schema';
import { writeStl } from '../src/core/shape/stl';
import { stepCylinder, stepNothing } from '../tests/stepFile';
import { getDomeMesh } from '../tests/support';
import { inspector, openJob, restingBox, station, stored } from './support';

const figure = (page: Page, name: string) => inspector(page).locator('tr').filter({ hasText: name }).locator('td').last();

const open = (page: Page, patch: Partial<Job> = {}, text = 'HOOD'): Promise<string> =>
  openJob(page, {
    ...createJob('Blank test'),
    inscriptions: [{ ...createInscription('w', text, 'dejavu-sans-bold', 40), rotationDeg: 90 }],
    cuts: [createCut('v-carve', 'c', 'v60')],
    ...patch,
  });
const planned = (page: Page) => expect(station(page, 'Program')).toContainText('lines', { timeout: 30_000 });

test('a cone is made by diameter and half-angle, says its figures, and refuses to come to a point before its end', async ({ page }) => {
  const id = await open(page);
  await page.keyboard.press('1');
  await page.getByRole('radio', { name: 'cone' }).click();
  await page.getByLabel('Measured are').selectOption('half-angle');
  await page.getByLabel('Diameter, datum end').fill('200');
  await page.getByLabel('Length along the axis').fill('75');
  await page.getByLabel('Widens towards').selectOption('datum');
  await page.getByLabel('Half-angle to the axis').fill('29');
  await page.keyboard.press('Enter');
  // The worked example of a frustum's flat pattern: checks/cone.test.ts.
  await expect(figure(page, 'Slant length')).toHaveText('85.7516 mm');
  await expect(figure(page, 'Apex to datum rim')).toHaveText('206.2665 mm');
  await expect(figure(page, 'Sector, laid flat')).toHaveText('174.5315°');
  await page.getByLabel('Half-angle to the axis').fill('60');
  await expect(page.getByRole('alert').filter({ hasText: 'come to a point at 57.74 mm' })).toBeVisible();
  await page.keyboard.press('Escape');
  const job = await stored(page, id);
  expect(job.blank.kind === 'cone' && job.blank.farDiameterMm).toBeCloseTo(116.8536, 3);
  expect(job.inscriptions).toHaveLength(1);
  await planned(page);
  await page.keyboard.press('4');
  await expect(inspector(page)).toContainText('leans by up to 29.0°');
});

test('a turned profile is taken from a shape, a table, a drag and a drawing; a bad one is refused and nothing is lost', async ({
  page,
}) => {
  const id = await open(page);
  await page.keyboard.press('1');
  await page.getByRole('radio', { name: 'turned profile' }).click();
  await page.getByRole('button', { name: 'Waist' }).click();
  await expect(page.getByLabel('Diameter of place 2')).toBeVisible();
  await page.getByLabel('Diameter of place 2').fill('20');
  await page.keyboard.press('Enter');
  await expect(station(page, 'Blank')).toContainText('turned, Ø to 40 × 80 mm');
  await page.getByLabel('Diameter of place 2').fill('-3');
  await expect(inspector(page).getByRole('alert')).toContainText('between 0 and 2000');
  await page.keyboard.press('Escape');
  // A place of the sketch under the hand.
  const place = await restingBox(page.getByRole('img', { name: 'Profile: drag its places' }).locator('circle').nth(1));
  await page.mouse.move(place.x + place.width / 2, place.y + place.height / 2);
  await page.mouse.down();
  await page.mouse.move(place.x + place.width / 2, place.y - 12, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByLabel('Diameter of place 2')).not.toHaveValue('20');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Diameter of place 2')).toHaveValue('20');
  const dxf = [
    '0',
    'SECTION',
    '2',
    'HEADER',
    '9',
    '$INSUNITS',
    '70',
    '4',
    '0',
    'ENDSEC',
    '0',
    'SECTION',
    '2',
    'ENTITIES',
    '0',
    'LINE',
    '8',
    '0',
    '10',
    '0',
    '20',
    '15',
    '11',
    '50',
    '21',
    '25',
    '0',
    'ENDSEC',
    '0',
    'EOF',
  ].join('\n');
  await page.getByLabel('Profile from a drawing').setInputFiles({ name: 'half.dxf', mimeType: 'text/plain', buffer: Buffer.from(dxf) });
  await expect(inspector(page).getByRole('status')).toContainText('2 places from half.dxf');
  await expect(station(page, 'Blank')).toContainText('Ø to 50 × 50 mm');
  await page
    .getByLabel('Profile from a drawing')
    .setInputFiles({ name: 'through.dxf', mimeType: 'text/plain', buffer: Buffer.from(dxf.replace('\n15\n', '\n-15\n')) });
  await expect(inspector(page).getByRole('alert')).toContainText('crosses the x axis');
  const job = await stored(page, id);
  expect(job.blank.kind === 'turned' && job.blank.profile.map((n) => n.diameterMm)).toEqual([30, 50]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(station(page, 'Blank')).toContainText('Ø to 40 × 80 mm');
});

test('lays are switched and compared with the lettering kept; the seam is dragged, and turned to the widest gap', async ({ page }) => {
  const cone: Job['blank'] = {
    kind: 'cone',
    datumDiameterMm: 40,
    farDiameterMm: 100,
    lengthMm: 60,
    given: 'diameters',
    boreMm: 0,
    zero: 'axis',
    seamDeg: 180,
    clearDatumMm: 0,
    clearFarMm: 0,
  };
  const id = await open(page, { blank: cone }, 'LEVEL OR SAGGING');
  await page.keyboard.press('3');
  const path = page.locator('[data-inscription="w"]').first();
  const wrap = await path.getAttribute('d');
  await page.getByRole('radio', { name: 'Level' }).click();
  await expect(page.getByTestId('lay-sentence')).toContainText('each letter stands upright on it, whole and true');
  await expect(path).not.toHaveAttribute('d', wrap!);
  await expect(page.getByTestId('worst-stretch')).toHaveText('no stretch');
  await page.getByLabel('Letters', { exact: true }).selectOption('bent');
  await expect(page.getByTestId('worst-stretch')).toContainText('%');
  await page.getByRole('button', { name: /Compare the lays/ }).click();
  await expect(page.getByTestId('compare').getByRole('button')).toHaveCount(5, { timeout: 20_000 });
  await page.getByTestId('compare').getByRole('button', { name: /^Wrap/ }).click();
  await expect(path).toHaveAttribute('d', wrap!);
  await page.getByLabel('From the datum rim').fill('30');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'To the widest gap' }).click();
  let job = await stored(page, id);
  expect(job.inscriptions[0]!.at.xMm).toBe(30);
  expect(job.blank.kind === 'cone' && Math.abs(Math.abs(job.blank.seamDeg) - 180)).toBeLessThan(2);
  // The seam under the hand.
  const seam = await restingBox(page.getByTestId('seam'));
  await page.mouse.move(seam.x + seam.width / 3, seam.y + seam.height / 2);
  await page.mouse.down();
  await page.mouse.move(seam.x + seam.width / 3, seam.y + seam.height / 2 + 60, { steps: 6 });
  await page.mouse.up();
  job = await stored(page, id);
  const dragged = job.blank.kind === 'cone' ? job.blank.seamDeg : NaN;
  expect(dragged).toBeLessThan(170);
  expect(Number.isInteger(dragged)).toBe(true);
  await page.getByLabel('Show it on both views').check();
  await expect(page.getByTestId('stretch').locator('path').first()).toBeAttached();
});

test('a free shape comes in as STL and as STEP, is lettered where it is clicked, and a bad file leaves all as it was', async ({ page }) => {
  const id = await open(page, {}, 'DOME');
  await page.keyboard.press('1');
  await page.getByRole('radio', { name: 'free shape' }).click();
  const mesh = getDomeMesh();
  const file = page.getByLabel('Shape from a file');
  await file.setInputFiles({ name: 'empty.stl', mimeType: 'model/stl', buffer: Buffer.from('solid x\nendsolid x\n') });
  await expect(inspector(page).getByRole('alert')).toContainText('empty.stl holds no surface');
  await file.setInputFiles({ name: 'nothing.step', mimeType: 'model/step', buffer: Buffer.from(stepNothing()) });
  await expect(inspector(page).getByRole('alert')).toContainText('without a solid', { timeout: 30_000 });
  expect((await stored(page, id)).blank.kind).toBe('cylinder');
  await file.setInputFiles({
    name: 'dome.stl',
    mimeType: 'model/stl',
    buffer: Buffer.from(writeStl(mesh.positions, mesh.triangles, 'dome')),
  });
  await expect(station(page, 'Blank')).toContainText('shape dome.stl');
  await expect(page.getByTestId('shape-size')).toContainText('50 × 50 ×');
  await expect(page.getByTestId('healing')).toContainText('Open edges0');
  await expect(station(page, 'Lay')).toContainText('drape');
  let job = await stored(page, id);
  expect(job.blank.kind === 'free' && job.blank.pick[2]).toBeCloseTo(40, 3);
  // A place beside the top.
  await page.getByRole('button', { name: 'Pick on the piece' }).click();
  const view = await restingBox(page.getByTestId('blank-view'));
  await page.mouse.click(view.x + view.width * 0.58, view.y + view.height * 0.45);
  await expect(page.getByRole('button', { name: 'Pick on the piece' })).toBeVisible();
  job = await stored(page, id);
  expect(job.blank.kind === 'free' && Math.hypot(job.blank.pick[0], job.blank.pick[1])).toBeGreaterThan(1);
  expect(job.blank.kind === 'free' && Math.hypot(...job.blank.pick)).toBeCloseTo(40, 1);
  await file.setInputFiles({ name: 'bar.step', mimeType: 'model/step', buffer: Buffer.from(stepCylinder(20, 30)) });
  await expect(page.getByTestId('shape-size')).toHaveText('40 × 40 × 30 mm', { timeout: 30_000 });
  await page.getByLabel('Its units are').selectOption('1000');
  await expect(page.getByTestId('shape-size')).toContainText('very large');
});

test('lettering is dragged on the blank itself, by the letters under the hand', async ({ page }) => {
  const id = await open(page, {
    inscriptions: [{ ...createInscription('w', 'HHH', 'dejavu-sans-bold', 40), heightMm: 16, rotationDeg: 90 }],
  });
  await planned(page);
  const view = await restingBox(page.getByTestId('blank-view'));
  const [x, y] = [view.x + view.width * 0.5, view.y + view.height * 0.44];
  await page.mouse.move(x, y);
  await expect(page.getByTestId('readout')).toContainText('arc');
  await page.mouse.down();
  await page.mouse.move(x + 20, y, { steps: 4 });
  await page.mouse.move(x + 40, y - 20, { steps: 4 });
  await page.mouse.up();
  const moved = (await stored(page, id)).inscriptions[0]!.at;
  expect(moved.xMm).toBeGreaterThan(43);
  expect(moved.turnDeg).toBeGreaterThan(5);
  // One drag is one step back.
  await page.getByRole('button', { name: 'Undo' }).click();
  expect((await stored(page, id)).inscriptions[0]!.at).toEqual({ xMm: 40, turnDeg: 0 });
});

test('the piece is spun for the customer: a picture and a short film are saved', async ({ page }) => {
  await open(page);
  await planned(page);
  const [picture] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Picture' }).click()]);
  expect(picture.suggestedFilename()).toBe('blank-test.png');
  const png = readFileSync((await picture.path())!);
  expect(png.subarray(1, 4).toString()).toBe('PNG');
  expect(png.length).toBeGreaterThan(5_000);
  const [film] = await Promise.all([
    page.waitForEvent('download', { timeout: 80_000 }),
    page.getByRole('button', { name: 'Film' }).click(),
  ]);
  expect(film.suggestedFilename()).toBe('blank-test.webm');
  const webm = readFileSync((await film.path())!);
  // EBML, the container of WebM.
  expect([...webm.subarray(0, 4)]).toEqual([0x1a, 0x45, 0xdf, 0xa3]);
  expect(webm.length).toBeGreaterThan(10_000);
  await expect(page.getByRole('textbox', { name: 'Turn in degrees' })).toHaveValue('0');
});

test('a machine whose head tilts stands its tool along the normal, and the program says so', async ({ page }) => {
  const cone: Job['blank'] = {
    kind: 'cone',
    datumDiameterMm: 40,
    farDiameterMm: 80,
    lengthMm: 60,
    given: 'diameters',
    boreMm: 0,
    zero: 'axis',
    seamDeg: 180,
    clearDatumMm: 0,
    clearFarMm: 0,
  };
  await open(page, { blank: cone });
  await planned(page);
  await page.keyboard.press('1');
  await page.getByLabel('Machine', { exact: true }).selectOption({ label: 'Mill, rotary along X, tilting head' });
  await expect(inspector(page)).toContainText('the head tilts the tool');
  await planned(page);
  await page.keyboard.press('6');
  await expect(inspector(page)).toContainText('head tilts on B');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page
      .getByRole('button', { name: /Download|Save/ })
      .first()
      .click(),
  ]);
  const text = readFileSync((await download.path())!, 'utf8');
  expect(text).toMatch(/\nG0 .*B-18\.4349/);
  await page.keyboard.press('4');
  await expect(inspector(page)).not.toContainText('leans by');
});
