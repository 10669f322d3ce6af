import { readFileSync } from 'node:fs';
/** What each picture shows and how to get there. */
const open = (job) => async (page, address) => {
  await page.goto(address);
  await page.getByRole('link', { name: `Open ${job}` }).click();
  await page.waitForURL(/\/jobs\//);
  await page.getByRole('button', { name: /^Program .*lines/ }).waitFor({ timeout: 60_000 });
  // The cut piece follows the plan.
  await page.getByTestId('relief').waitFor({ timeout: 60_000 });
  await page.waitForTimeout(2500);
};
const gauge = open('Rain gauge No. 7');
const station = (key, then) => async (page, address) => {
  await gauge(page, address);
  await page.keyboard.press(String(key));
  await page.waitForTimeout(400);
  await then?.(page);
};
const at = (job, key, then) => async (page, address) => {
  await open(job)(page, address);
  await page.keyboard.press(String(key));
  await page.waitForTimeout(1500);
  await then?.(page);
};

/** Turns the wheel over the middle of the blank's view, to see it from near by. */
const closeUp = async (page, notches) => {
  const box = await page.getByTestId('blank-view').boundingBox();
  await page.mouse.move(box.x + 0.62 * box.width, box.y + 0.42 * box.height);
  for (let k = 0; k < notches; k++) {
    await page.mouse.wheel(0, -300);
    await page.waitForTimeout(250);
  }
  await page.mouse.move(box.x + 0.5 * box.width, box.y - 60);
  await page.waitForTimeout(3500);
};

/** The first page of a PDF as PNG in base64. @param height Pixels. */
async function drawFirstPage(bytes, height) {
  const { createCanvas } = await import('@napi-rs/canvas');
  const { getDocument } = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const first = await (await getDocument({ data: new Uint8Array(bytes), verbosity: 0 }).promise).getPage(1);
  const viewport = first.getViewport({ scale: height / first.getViewport({ scale: 1 }).height });
  const canvas = createCanvas(Math.round(viewport.width), Math.round(viewport.height));
  await first.render({ canvas, canvasContext: canvas.getContext('2d'), viewport }).promise;
  return canvas.toBuffer('image/png').toString('base64');
}

export const shots = {
  'piece-engraved': at('Net float, Fathom & Reed', 5, (page) => closeUp(page, 4)),
  'cuts-suggest': station(4, async (page) => {
    await page.getByRole('button', { name: 'Suggest', exact: true }).click();
    await page.getByTestId('suggestions').waitFor({ timeout: 60_000 });
    await page.getByRole('heading', { name: 'Ways to cut it' }).evaluate((h) => h.scrollIntoView());
    await page.waitForTimeout(800);
  }),
  'piece-play': station(6, async (page) => {
    const box = await page.getByTestId('ladder').boundingBox();
    await page.mouse.click(box.x + box.width * 0.21, box.y + box.height / 2);
    await page.waitForTimeout(1500);
    await closeUp(page, 2);
  }),
  'piece-section': at('Net float, Fathom & Reed', 2, async (page) => {
    await page.getByRole('button', { name: 'Selected' }).click();
    await page.getByRole('button', { name: 'Measure' }).click();
    await page.waitForTimeout(500);
    const letters = await page.locator('[data-inscription]').first().boundingBox();
    const y = letters.y + 0.36 * letters.height;
    await page.mouse.move(letters.x - 12, y);
    await page.mouse.down();
    await page.mouse.move(letters.x + letters.width / 2, y);
    await page.mouse.move(letters.x + letters.width + 12, y);
    await page.mouse.up();
    await page.waitForTimeout(2500);
  }),
  'cuts-tool-fit': at('Maker’s plate in slate', 4, async (page) => {
    await page.getByRole('button', { name: 'Measure the strokes' }).click();
    await page.locator('svg.tool-fit').waitFor({ timeout: 30_000 });
    await page.getByRole('heading', { name: 'Tool fit' }).evaluate((h) => h.scrollIntoView());
    await page.waitForTimeout(800);
  }),
  'piece-dangers': station(6, async (page) => {
    await page.getByRole('button', { name: 'full of faults' }).click();
    await page.getByTestId('foreign').waitFor({ timeout: 30_000 });
    await page.waitForTimeout(1500);
    await page.locator('[data-code=rapid-cuts]').getByRole('button', { name: 'Go there' }).click();
    await page.getByTestId('foreign').scrollIntoViewIfNeeded();
    await page.waitForTimeout(3000);
  }),
  'bench-lettering': station(2),
  'type-case': async (page, address) => {
    await page.goto(`${address}/type-case`);
    await page.waitForTimeout(2500);
  },
  // The page for the machine, as another program draws it.
  'set-up-sheet': async (page, address) => {
    await open('Rain gauge No. 7')(page, address);
    await page.keyboard.press('6');
    await page.locator('[data-testid=download]:not([disabled])').waitFor({ timeout: 60_000 });
    const waiting = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Set-up sheet for the machine' }).click();
    const png = await drawFirstPage(readFileSync(await (await waiting).path()), 800);
    await page.setContent(`<body style="margin:0;background:#d8d2c4;text-align:center"><img src="data:image/png;base64,${png}"></body>`);
    await page.waitForTimeout(300);
  },
  'bench-cuts': at('Berth plate, North Quay', 4),
  'bench-program': station(6, async (page) => {
    await page.locator('[data-testid=download]:not([disabled])').waitFor({ timeout: 60_000 });
    const waiting = page.waitForEvent('download');
    await page.getByTestId('download').click();
    await waiting;
    await page.keyboard.press('4');
    await page.getByLabel(/^Park/).fill('30');
    await page.getByLabel(/^Park/).blur();
    await page.waitForTimeout(300);
    await page.keyboard.press('6');
    await page.getByRole('button', { name: 'Show the difference' }).click({ timeout: 60_000 });
    await page.getByTestId('difference').scrollIntoViewIfNeeded();
    await page.waitForTimeout(2500);
  }),
  'lay-level': at('Lamp hood, Saltmarsh Light', 3, async (page) => {
    await page.getByRole('button', { name: /Compare the lays/ }).click();
    await page.waitForTimeout(3500);
  }),
  'cuts-trials': at('Maker’s plate in slate', 4, async (page) => {
    await page.getByRole('button', { name: 'Compare', exact: true }).click();
    await page.getByTestId('trial-figures').getByText('Changes of cutter').waitFor({ timeout: 60_000 });
    await page.getByRole('heading', { name: 'Trials' }).evaluate((h) => h.scrollIntoView());
    await page.waitForTimeout(800);
  }),
  'blank-measured': station(1, async (page) => {
    await page.getByRole('button', { name: 'Touch it on the simulated machine' }).click();
    const region = page.getByRole('region', { name: 'The blank as measured' });
    await region.waitFor({ timeout: 60_000 });
    await region.evaluate((r) => r.scrollIntoView());
    await page.getByRole('button', { name: /^Program .*lines/ }).waitFor({ timeout: 60_000 });
    await page.waitForTimeout(12_000);
  }),
  runner: station(6, async (page) => {
    await page.locator('[data-testid=download]:not([disabled])').waitFor({ timeout: 60_000 });
    await page.getByRole('button', { name: 'Run it on the simulated machine' }).click();
    const runner = page.getByRole('region', { name: 'The simulated machine' });
    const home = runner.getByRole('button', { name: 'Home' });
    const start = runner.getByRole('button', { name: 'Start the simulated machine' });
    await start.or(home).waitFor();
    if (await start.isVisible()) await start.click();
    await home.click({ timeout: 20_000 });
    await page.waitForTimeout(1200);
    await runner.getByLabel('So many times as fast').selectOption('5');
    await runner.getByRole('button', { name: 'Run the program' }).click();
    await page.waitForTimeout(14_000);
    await runner.evaluate((r) => r.scrollIntoView());
    await page.waitForTimeout(800);
  }),
  'lay-stretch': at('Compass cover', 3, async (page) => {
    await page
      .getByRole('option', { name: /STEER/ })
      .click()
      .catch(() => undefined);
    await page.getByLabel('Show it on both views').check();
    await page.waitForTimeout(1500);
  }),
  shelf: async (page, address) => {
    await gauge(page, address);
    await page.getByLabel('Name of the job').fill('Rain gauge No. 7 ');
    await page.getByLabel('Name of the job').fill('Rain gauge No. 7');
    await page.waitForTimeout(1500);
    await page.goto(address);
    await page.waitForTimeout(800);
  },
  machines: async (page, address) => {
    await page.goto(`${address}/machines`);
    await page.getByRole('button', { name: 'Mill, tilting and turning table', exact: true }).click();
    for (let k = 0; k < 2; k++) await page.getByLabel('Jog A by −10 °').click();
    for (let k = 0; k < 5; k++) await page.getByLabel('Jog C by +10 °').click();
    await page.waitForTimeout(600);
  },
  crib: async (page, address) => {
    await page.goto(`${address}/crib`);
    await page.getByRole('button', { name: '60° V, 0.1 tip', exact: true }).click();
    await page.waitForTimeout(600);
  },
};
