import { chromium } from '@playwright/test';
const [,, w, h, name, job, station, extra] = process.argv;
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const page = await browser.newPage({ viewport: { width: +w, height: +h } });
const base = 'http://127.0.0.1:4377';
const jobs = await (await page.request.get(base + '/api/jobs')).json();
const j = jobs.find((x) => x.name.includes(job));
await page.goto(base + '/jobs/' + j.id + (station === 'revisions' ? '/revisions' : ''));
if (station !== 'revisions') {
  await page.getByRole('button', { name: /^Program/ }).getByText('lines').waitFor({ timeout: 60000 });
  await page.getByRole('navigation', { name: 'Stations' }).getByRole('button', { name: new RegExp('^' + station) }).click();
}
for (const b of (extra ?? '').split(',').filter(Boolean)) await page.getByRole('button', { name: b, exact: true }).click();
await page.waitForTimeout(2500);
await page.screenshot({ path: name });
await browser.close();
