import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { carveJob } from '../tests/support';
import { inspector, openJob, station, stored } from './support';

/** What axe finds on the page as it stands. */
async function violations(page: Page): Promise<string[]> {
  const { violations: found } = await new AxeBuilder({ page }).analyze();
  return found.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.target.join(' ')} ${n.failureSummary ?? ''}`));
}

test('every view of the bench passes axe', async ({ page }) => {
  await openJob(page, carveJob('ACCESS'));
  await expect(page.getByRole('button', { name: /^Program/ })).toContainText('lines', { timeout: 30_000 });
  for (const name of ['Blank', 'Lettering', 'Lay', 'Cuts', 'Proof', 'Program']) {
    await station(page, name).click();
    await expect(inspector(page).getByRole('heading', { level: 2 }).first()).toBeVisible();
    expect(await violations(page), name).toEqual([]);
  }
});

test('the pages around the bench pass axe', async ({ page }) => {
  const { id } = (await (await page.request.post('/api/jobs', { data: carveJob('ACCESS') })).json()) as { id: string };
  for (const url of ['/', '/crib', '/machines', '/type-case', `/jobs/${id}/revisions`]) {
    await page.goto(url);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    expect(await violations(page), url).toEqual([]);
  }
});

test('arrow keys choose among the lays and the kinds of blank', async ({ page }) => {
  const id = await openJob(page, carveJob('KEYS'));
  await station(page, 'Lay').click();
  await page.getByRole('radio', { name: 'Wrap' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('radio', { name: 'Level' })).toBeChecked();
  await expect.poll(async () => (await stored(page, id)).lay.kind).toBe('level');
});

test('a slot takes the focus in, Escape puts back what was there, and typing has an undo of its own', async ({ page }) => {
  const id = await openJob(page, carveJob('ESCAPE', { words: { heightMm: 6 } }));
  await station(page, 'Cuts').click();
  const slot = inspector(page).getByRole('button', { name: /^Depth limit/ });
  await slot.click();
  const field = inspector(page).getByLabel('Depth limit', { exact: true });
  await expect(field).toBeFocused();
  const before = (await stored(page, id)).cuts[0];
  await field.fill('2.5');
  await field.press('Escape');
  await expect(slot).toBeFocused();
  expect((await stored(page, id)).cuts[0]).toEqual(before);

  await station(page, 'Lettering').click();
  const height = inspector(page).getByLabel('Height');
  await height.fill('9');
  await height.press('Escape');
  await expect(height).toHaveValue('6');
  await expect.poll(async () => (await stored(page, id)).inscriptions[0]).toMatchObject({ heightMm: 6 });

  const words = inspector(page).getByRole('textbox', { name: 'Words', exact: true });
  await words.click();
  await words.press('End');
  await words.pressSequentially('XY');
  await words.press('Control+z');
  await expect(words).not.toHaveValue('ESCAPEXY');
  await expect.poll(async () => (await stored(page, id)).inscriptions[0]).toMatchObject({ text: await words.inputValue() });
  // A field shows what the job has, also when that changes under it.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await stored(page, id)).inscriptions[0]).toMatchObject({ text: await words.inputValue() });
});

test('digits go to the stations, but not from a slider', async ({ page }) => {
  await openJob(page, carveJob('DIGITS'));
  const dial = page.getByRole('slider', { name: 'Turn of the blank' });
  await station(page, 'Lettering').click();
  await dial.focus();
  await page.keyboard.press('6');
  await expect(station(page, 'Lettering')).toHaveAttribute('aria-current', 'step');
  await page.getByTestId('unrolled').locator('svg').first().focus();
  await page.keyboard.press('6');
  await expect(station(page, 'Program')).toHaveAttribute('aria-current', 'step');
});

test('nothing is cut off or covered from 1024 by 700 to 2560 by 1440, and the route keeps its height whatever the words', async ({
  page,
}) => {
  await openJob(page, carveJob('A NAME THAT IS FAR TOO LONG FOR ITS PLACE ON THE ROUTE', { words: { heightMm: 2 } }));
  await expect(page.getByRole('button', { name: /^Program/ })).toContainText('lines', { timeout: 30_000 });
  for (const [width, height] of [
    [1024, 700],
    [1280, 800],
    [1920, 1080],
    [2560, 1440],
  ] as const) {
    await page.setViewportSize({ width, height });
    await expectNothingCutOff(page);
  }
});

async function expectNothingCutOff(page: Page): Promise<void> {
  const viewport = page.viewportSize()!;
  const sideways = await page.evaluate(() => document.documentElement.scrollWidth);
  expect(sideways, 'the page scrolls sideways').toBeLessThanOrEqual(viewport.width);
  const heights = await page
    .getByRole('navigation', { name: 'Stations' })
    .getByRole('button')
    .evaluateAll((all) => all.map((b) => b.getBoundingClientRect().height));
  expect(new Set(heights).size).toBe(1);
  await expect(page.getByTestId('blank-view').locator('canvas')).toBeVisible();
  for (const id of ['blank-view', 'unrolled']) {
    const view = (await page.getByTestId(id).boundingBox())!;
    const parts = await page
      .getByTestId(id)
      .locator('.corner > *, .caption, .colours')
      .evaluateAll((all) =>
        all.map((e) => {
          const r = e.getBoundingClientRect();
          return { what: e.textContent ?? '', x0: r.left, y0: r.top, x1: r.right, y1: r.bottom };
        }),
      );
    for (const p of parts) {
      expect(p.x0, p.what).toBeGreaterThanOrEqual(view.x);
      expect(p.x1, p.what).toBeLessThanOrEqual(view.x + view.width);
      for (const q of parts) {
        const apart = p === q || p.x1 <= q.x0 || q.x1 <= p.x0 || p.y1 <= q.y0 || q.y1 <= p.y0;
        expect(apart, `${p.what} over ${q.what} at ${viewport.width}`).toBe(true);
      }
    }
  }
}

test('a refused word is said at its field, and what is refused is not lost while it is mended', async ({ page }) => {
  const id = await openJob(page, carveJob('REFUSED'));
  await station(page, 'Cuts').click();
  await inspector(page).getByText('more', { exact: false }).first().click();
  const name = inspector(page).getByLabel('Name', { exact: true }).first();
  await name.fill('Fine carve');
  await expect.poll(async () => (await stored(page, id)).cuts[0]!.name).toBe('Fine carve');

  await station(page, 'Lettering').click();
  await inspector(page).getByText('Words that vary').first().click();
  const date = inspector(page).getByLabel(/^Date/);
  await date.fill('2026-13-40');
  await expect(inspector(page).getByRole('alert').first()).toBeVisible();
  await expect(date).toHaveValue('2026-13-40');
  await date.fill('2026-03-14');
  await expect(inspector(page).getByRole('alert')).toHaveCount(0);
  await expect.poll(async () => (await stored(page, id)).variables.date).toBe('2026-03-14');
});
