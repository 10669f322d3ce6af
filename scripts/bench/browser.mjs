// The figures of the bench in a real browser: from a keystroke to the new lettering in each view.
import { chromium } from '@playwright/test';

const median = (values) => [...values].sort((a, b) => a - b)[values.length >> 1];
const KEYSTROKES = 31;

/** From the keystroke's own event to the first mark a view leaves once the new lettering is drawn in it. */
async function measureKeystrokes(page) {
  await page.getByLabel('Words').click();
  await page.keyboard.press('End');
  await page.evaluate(() => {
    window.hobelStrokes = [];
    document.addEventListener('input', (e) => {
      const start = e.timeStamp;
      const entry = { unrolled: null, blank: null };
      window.hobelStrokes.push(entry);
      const look = () => {
        for (const key of ['unrolled', 'blank']) {
          const mark = performance.getEntriesByName(`hobel:${key}`).find((m) => m.startTime > start);
          if (mark && entry[key] === null) entry[key] = mark.startTime - start;
        }
        if (entry.unrolled === null || entry.blank === null) setTimeout(look, 2);
      };
      setTimeout(look, 2);
    }, true);
  });
  for (let k = 0; k < KEYSTROKES; k++) {
    if (k % 2) await page.keyboard.press('Backspace');
    else await page.keyboard.type('EKRST'[k % 5]);
    await page.waitForFunction((n) => window.hobelStrokes.length === n && window.hobelStrokes[n - 1].blank !== null && window.hobelStrokes[n - 1].unrolled !== null, k + 1);
  }
  const all = await page.evaluate(() => window.hobelStrokes);
  return { unrolled: median(all.map((s) => s.unrolled)), blank: median(all.map((s) => s.blank)) };
}

export async function measureBrowser(address, executablePath) {
  for (let k = 0; k < 100 && !(await fetch(`${address}/api/jobs`).then((r) => r.ok, () => false)); k++) await new Promise((r) => setTimeout(r, 100));
  const browser = await chromium.launch({ executablePath, args: ['--no-sandbox'] });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const rows = [];
  await page.goto(address);
  await page.getByRole('button', { name: 'New job', exact: true }).click();
  await page.waitForURL(/\/jobs\//);
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByLabel('Words').fill('TIDEWATER INSTRUMENT WORKS\nHARBOUR GAUGES N');
  await page.waitForTimeout(3000);
  const { unrolled, blank } = await measureKeystrokes(page);
  rows.push({ what: 'keystroke to the unrolled view, 40 letters', value: `${unrolled.toFixed(0)} ms`, against: `median of ${KEYSTROKES}; limit 50 ms` });
  rows.push({ what: 'keystroke to both views, 40 letters', value: `${blank.toFixed(0)} ms`, against: `median of ${KEYSTROKES}; limit 50 ms; WebGL drawn in software` });
  const session = await page.context().newCDPSession(page);
  await session.send('HeapProfiler.collectGarbage');
  const { usedSize } = await session.send('Runtime.getHeapUsage');
  rows.push({ what: 'memory of the page’s script', value: `${(usedSize / 1e6).toFixed(0)} MB`, against: 'limit for the tab 600 MB' });
  await browser.close();
  return rows;
}
