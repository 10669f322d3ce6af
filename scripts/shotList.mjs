/** What each picture shows and how to get there. */
const open = (job) => async (page, address) => {
  await page.goto(address);
  await page.getByRole('link', { name: `Open ${job}` }).click();
  await page.waitForURL(/\/jobs\//);
  await page.getByRole('button', { name: /^Program .*lines/ }).waitFor({ timeout: 60_000 });
  await page.waitForTimeout(1200);
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

export const shots = {
  'bench-lettering': station(2),
  'type-case': async (page, address) => {
    await page.goto(`${address}/type-case`);
    await page.waitForTimeout(2500);
  },
  revisions: async (page, address) => {
    // Two saves, so that there is an earlier one to look at.
    await open('Net float, Fathom & Reed')(page, address);
    await page.keyboard.press('2');
    await page.getByRole('textbox', { name: 'Words', exact: true }).fill('FATHOM & CO');
    await page.waitForTimeout(1500);
    await page.getByRole('link', { name: 'Revisions' }).click();
    await page.getByRole('button', { name: 'Look at revision 1' }).click();
    await page.waitForTimeout(1500);
  },
  'bench-blank': station(1),
  'bench-guide': station(2, async (page) => {
    await page.getByRole('option', { name: /TIDEWATER/ }).click();
    await page
      .locator('summary')
      .filter({ hasText: /^Guide(?!s)/ })
      .click();
    await page.locator('summary').filter({ hasText: /^Fit/ }).click();
    await page.getByRole('textbox', { name: 'Turn in degrees' }).fill('136');
    await page.keyboard.press('Enter');
    await page.getByLabel('Follows').scrollIntoViewIfNeeded();
    await page.waitForTimeout(1500);
  }),
  'bench-scale': station(2, async (page) => {
    await page.getByRole('option', { name: /Millimetre scale/ }).click();
    await page.waitForTimeout(1200);
  }),
  'bench-cuts': station(4),
  'bench-program': station(6, async (page) => {
    const box = await page.getByTestId('ladder').boundingBox();
    await page.mouse.click(box.x + box.width * 0.36, box.y + box.height / 2);
    await page.waitForTimeout(900);
  }),
  'bench-proof': station(5),
  'lay-level': at('Lamp hood, Saltmarsh Light', 3, async (page) => {
    await page.getByRole('button', { name: /Compare the lays/ }).click();
    await page.waitForTimeout(3500);
  }),
  'blank-turned': at('Net float, Fathom & Reed', 1),
  'slate-plate': at('Maker’s plate in slate', 4),
  'blank-free': at('Compass cover', 1),
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
    await page.waitForTimeout(600);
  },
  crib: async (page, address) => {
    await page.goto(`${address}/crib`);
    await page.waitForTimeout(600);
  },
};
