import { expect, test } from '@playwright/test';
import { carveJob } from '../tests/support';
import { inspector, openJob, saved, station, stored } from './support';

test('an earlier revision is looked at and taken back, and nothing is lost', async ({ page }) => {
  const id = await openJob(page, carveJob('FIRST'));
  await station(page, 'Lettering').click();
  const words = inspector(page).getByRole('textbox', { name: 'Words', exact: true });
  await words.fill('SECOND');
  await saved(page);
  await expect.poll(async () => JSON.stringify((await stored(page, id)).inscriptions[0])).toContain('SECOND');
  await page.getByRole('link', { name: 'Revisions' }).click();
  await expect(page.getByRole('heading', { name: /Revisions of/ })).toBeVisible();
  await page.getByRole('button', { name: 'Look at revision 1' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('FIRST');
  await dialog.getByRole('button', { name: 'Take it back' }).click();
  await page.waitForURL(/jobs\/[^/]+$/);
  await station(page, 'Lettering').click();
  await expect(inspector(page).getByRole('textbox', { name: 'Words', exact: true })).toHaveValue('FIRST');
  const list = (await (await page.request.get(`/api/jobs/${id}/revisions`)).json()) as { revision: number }[];
  expect(list.length).toBeGreaterThanOrEqual(3);
});

test('where the code of the view does not come, the bench stays with what was typed, and the view comes later', async ({ page }) => {
  await page.request.get('/api/jobs');
  const chunks = new Map<string, number>();
  let dead = false;
  await page.route('**/_next/static/chunks/**', async (route) => {
    const url = route.request().url();
    chunks.set(url, (chunks.get(url) ?? 0) + 1);
    if (dead) await route.abort();
    else await route.continue();
  });
  // First seen whole, to know which chunks the page itself needs; then with those alone.
  const { id } = (await (await page.request.post('/api/jobs', { data: carveJob('KEPT') })).json()) as { id: string };
  await page.goto(`/jobs/${id}`, { waitUntil: 'domcontentloaded' });
  const own = new Set(await page.locator('script[src]').evaluateAll((all) => all.map((s) => (s as HTMLScriptElement).src)));
  await expect(page.getByTestId('blank-view').locator('canvas')).toBeVisible();
  await page.unroute('**/_next/static/chunks/**');
  await page.route('**/_next/static/chunks/**', async (route) => {
    const url = route.request().url();
    if (dead && !own.has(url) && !url.includes('worker')) await route.abort();
    else await route.continue();
  });
  dead = true;
  await page.goto('about:blank');
  await page.context().clearCookies();
  await page.goto(`/jobs/${id}`);
  await station(page, 'Lettering').click();
  const words = inspector(page).getByRole('textbox', { name: 'Words', exact: true });
  await words.fill('STILL HERE');
  await expect(words).toHaveValue('STILL HERE');
  await expect(page.getByTestId('blank-view').locator('canvas')).toHaveCount(0);
  dead = false;
  await expect(page.getByTestId('blank-view').locator('canvas')).toBeVisible();
  await expect(words).toHaveValue('STILL HERE');
  // What letters and plans comes too, without a touch.
  await expect(page.locator('[data-inscription]').first()).toBeVisible();
  await expect(page.getByTestId('relief')).toBeVisible();
});

test('where the code that shows texts does not come, the program stands there with its figures, and its text comes later', async ({
  page,
}) => {
  let dead = true;
  await page.route('**/_next/static/chunks/**', async (route) => {
    const answer = await route.fetch();
    if (dead && (await answer.text()).includes('cm-editor')) await route.abort();
    else await route.fulfill({ response: answer });
  });
  await openJob(page, carveJob('KEPT'));
  await station(page, 'Program').click();
  await expect(page.getByTestId('machine-time')).toBeVisible();
  await expect(inspector(page)).toContainText('The text cannot be shown');
  await expect(page.getByTestId('download')).toBeEnabled();
  dead = false;
  await expect(page.getByTestId('program-text')).toContainText('G21');
});
