import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { createInscription, createJob } from '../src/core/job/defaults';
import { JOB_VERSION, type Job } from '../src/core/job/schema';

const port = 4398;
const base = `http://127.0.0.1:${port}`;

async function startServer(data: string): Promise<ChildProcess> {
  const server = spawn(process.execPath, ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(port)], {
    env: { ...process.env, HOBEL_DATA: data, NEXT_TELEMETRY_DISABLED: '1' },
    stdio: 'ignore',
    detached: true,
  });
  for (let k = 0; k < 100; k++) {
    if (
      await fetch(`${base}/api/jobs`).then(
        (r) => r.ok,
        () => false,
      )
    )
      return server;
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error('the server did not start');
}
const kill = (server: ChildProcess) =>
  new Promise<void>((resolve) => {
    server.once('exit', () => resolve());
    // The whole group at once, with no chance to tidy up.
    process.kill(-server.pid!, 'SIGKILL');
  });
const job = (text: string): Job => ({ ...createJob('Kill'), inscriptions: [createInscription('w', text, 'cinzel-bold', 40)] });
const put = (id: string, baseRevision: number, text: string) =>
  fetch(`${base}/api/jobs/${id}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ baseRevision, job: job(text), preview: '' }),
  });

test('an acknowledged edit survives kill -9 of the server, again and again, in mid-save too', async () => {
  const data = mkdtempSync(path.join(tmpdir(), 'hobel-kill-'));
  let server = await startServer(data);
  try {
    const made = (await (
      await fetch(`${base}/api/jobs`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(job('0')) })
    ).json()) as { id: string };
    let revision = 1;
    let acknowledged = '0';
    for (let round = 1; round <= 4; round++) {
      // Saves follow each other until the server is gone; the last may be cut off anywhere.
      const killing = new Promise((r) => setTimeout(r, 120 + 37 * round)).then(() => kill(server));
      for (let n = 0; ; n++) {
        const text = `${round}.${n}`;
        const answer = await put(made.id, revision, text)
          .then((r) => (r.ok ? (r.json() as Promise<{ revision: number }>) : null))
          .catch(() => null);
        if (!answer) break;
        revision = answer.revision;
        acknowledged = text;
      }
      await killing;
      server = await startServer(data);
      const found = (await (await fetch(`${base}/api/jobs/${made.id}`)).json()) as { revision: number; job: Job };
      const first = found.job.inscriptions[0]!;
      const text = first.kind === 'text' ? first.text : '';
      // Either what was acknowledged, or the one save whose answer was cut off; never anything older or torn.
      expect([revision, revision + 1]).toContain(found.revision);
      if (found.revision === revision) expect(text).toBe(acknowledged);
      else expect(text.startsWith(`${round}.`)).toBe(true);
      revision = found.revision;
      acknowledged = text;
    }
    expect(revision).toBeGreaterThan(8);
  } finally {
    await kill(server);
  }
});

test('the page keeps an edit while the server is gone, and saves it when it is back', async ({ page }) => {
  const data = mkdtempSync(path.join(tmpdir(), 'hobel-gone-'));
  let server = await startServer(data);
  try {
    await page.goto(base);
    await page.getByRole('button', { name: 'New job', exact: true }).click();
    await page.waitForURL(/\/jobs\//);
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await expect(page.getByTestId('save-state')).toHaveText('Saved');
    await kill(server);
    await page.getByLabel('Words').fill('STILL HERE');
    await expect(page.getByTestId('save-state')).toContainText('Not saved');
    server = await startServer(data);
    await expect(page.getByTestId('save-state')).toHaveText('Saved', { timeout: 15_000 });
    await page.reload();
    await expect(page.getByLabel('Words')).toHaveValue('STILL HERE');
  } finally {
    await kill(server);
  }
});

test('a job file of a newer version, and a file that is none, are refused by name on the Shelf', async ({ page }) => {
  await page.goto('/');
  const open = async (name: string, text: string) =>
    page.getByLabel('Job file').setInputFiles({ name, mimeType: 'application/json', buffer: Buffer.from(text) });
  await open('later.json', JSON.stringify({ ...createJob('x'), version: JOB_VERSION + 1 }));
  await expect(page.locator('main').getByRole('alert')).toContainText(`later.json: $.version this job is of version ${JOB_VERSION + 1}`);
  await open('list.json', 'milk, eggs');
  await expect(page.locator('main').getByRole('alert')).toContainText('list.json: $ not JSON');
  await open('good.json', JSON.stringify(job('OPENED')));
  await page.waitForURL(/\/jobs\//);
  await expect(page.getByLabel('Words')).toHaveValue('OPENED');
});

test('the demo opens on the bench, plans without a finding, and shows its figures', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: /^Open Rain gauge/ }).click();
  await page.waitForURL(/\/jobs\//);
  const route = page.getByRole('navigation', { name: 'Stations' });
  await expect(route.getByRole('button', { name: /^Blank/ })).toContainText('Ø 42 × 60 mm brass');
  await expect(route.getByRole('button', { name: /^Program/ })).toContainText('lines', { timeout: 30_000 });
  await expect(route.locator('.spoils, .warns')).toHaveCount(0);
  await page.keyboard.press('6');
  const um = Number((await page.getByTestId('read-back').textContent())!.replace(' µm', ''));
  expect(um).toBeLessThan(1.1);
});

test('the shop’s pages open, and a cutter added to the crib can be chosen for a cut', async ({ page }) => {
  for (const name of ['Machines', 'Type case', 'Crib']) {
    await page.goto('/');
    await page.getByRole('link', { name, exact: true }).click();
    await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
  }
  await page.getByRole('button', { name: 'Add a cutter' }).click();
  await page.getByLabel('Name').fill('Test 45° V');
  await page.getByLabel('Included angle').fill('45');
  await page.getByLabel('Included angle').blur();
  await expect(page.getByRole('cell', { name: '45°', exact: true })).toBeVisible();
  await page.goto('/');
  await page.getByRole('button', { name: 'New job', exact: true }).click();
  await page.waitForURL(/\/jobs\//);
  await page.keyboard.press('4');
  await page.getByRole('button', { name: 'V-carve', exact: true }).click();
  await page.getByRole('button', { name: /^Cutter:/ }).click();
  await page.getByRole('combobox', { name: 'Cutter' }).selectOption({ label: 'Test 45° V' });
  await expect(page.getByRole('button', { name: 'Cutter: Test 45° V' })).toBeVisible();
});

test('answers to its own name and pages only, and says so in its headers', async ({ page, baseURL }) => {
  const foreign = { 'content-type': 'application/json', origin: 'http://shop.example', 'sec-fetch-site': 'cross-site' };
  expect((await page.request.post('/api/jobs', { headers: foreign, data: job('x') })).status()).toBe(403);
  expect((await page.request.get('/api/jobs', { headers: { host: 'shop.example' } })).status()).toBe(421);
  expect((await page.request.post('/api/fonts', { headers: { 'content-type': 'text/plain' }, data: 'x' })).status()).toBe(415);
  const headers = (await page.request.get(baseURL!)).headers();
  expect(headers['content-security-policy']).toContain("frame-ancestors 'none'");
  expect(headers['x-content-type-options']).toBe('nosniff');
  // Above the framework's own limit of 10 MB, which would cut it short without a word.
  const large = await page.request.post('/api/fonts?name=large.ttf', {
    headers: { 'content-type': 'application/octet-stream' },
    data: Buffer.alloc(20 * 1024 * 1024),
  });
  expect(large.status()).toBe(422);
  expect(((await large.json()) as { text: string }).text).toContain('large.ttf is no font');
});

test('a machine is jogged in its picture, its sense turned round there, and its own blocks are read before they are kept', async ({
  page,
}) => {
  await page.goto('/machines');
  await page.getByRole('button', { name: 'Add a machine' }).click();
  // The one that was open before is drawn until the new one is kept.
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Another machine');
  const picture = page.getByRole('region', { name: 'The machine, to be jogged' });
  await expect(picture).toContainText('the top of the blank goes towards you');
  await picture.getByRole('button', { name: 'Jog A by +10 °' }).click();
  await expect(picture.getByRole('img')).toHaveAccessibleName(/A \+10/);
  await picture.getByRole('button', { name: 'Mine goes the other way' }).click();
  await expect(picture).toContainText('the top of the blank goes away from you');
  await expect(page.getByLabel('Sense of rotation')).toHaveValue('-1');
  const start = page.getByLabel('After the opening');
  await start.fill('G54\nT{nummer}');
  await start.blur();
  await expect(page.getByRole('alert').filter({ hasText: '{number}' })).toBeVisible();
  await start.fill('G55 (T{number})');
  await start.blur();
  await expect(page.getByRole('alert').filter({ hasText: '{number}' })).toHaveCount(0);
  await page.getByLabel('It has').selectOption('table');
  await expect(picture.getByRole('button', { name: /^Jog A/ })).toHaveCount(0);
  await page.reload();
  await page.getByRole('button', { name: 'Another machine' }).first().click();
  await expect(page.getByLabel('After the opening')).toHaveValue('G55 (T{number})');
});
