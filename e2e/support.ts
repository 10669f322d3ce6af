import { expect, type Locator, type Page } from '@playwright/test';
import type { Job } from '../src/core/job/schema';

export const saved = (page: Page) => expect(page.getByTestId('save-state')).toHaveText('Saved');
export const inspector = (page: Page) => page.getByTestId('inspector');
export const station = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Stations' }).getByRole('button', { name: new RegExp(`^${name}`) });

/** Stores a job through the server and opens it on the bench. */
export async function openJob(page: Page, job: Job): Promise<string> {
  const { id } = (await (await page.request.post('/api/jobs', { data: job })).json()) as { id: string };
  await page.goto(`/jobs/${id}`);
  // A page that opens cold compiles its workers, beside whatever else the machine does: no figure is promised for that.
  await expect(page.locator('[data-inscription]').first()).toBeVisible({ timeout: 20_000 });
  return id;
}

/** The job as the server has it, once the page says that it is saved. */
export const stored = async (page: Page, id: string): Promise<Job> => {
  await saved(page);
  return ((await (await page.request.get(`/api/jobs/${id}`)).json()) as { job: Job }).job;
};

/** Where a thing is seen once it has come to rest, px: a hand does not take hold of what still moves. */
export async function restingBox(thing: Locator): Promise<{ x: number; y: number; width: number; height: number }> {
  let before = '';
  await expect
    .poll(
      async () => {
        const now = JSON.stringify(await thing.boundingBox());
        const rests = now !== 'null' && now === before;
        before = now;
        return rests;
      },
      { intervals: [100] },
    )
    .toBe(true);
  return JSON.parse(before) as { x: number; y: number; width: number; height: number };
}
