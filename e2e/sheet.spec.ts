import { expect, test } from '@playwright/test';
import { carveJob } from '../tests/support';
import { openJob, restingBox, stored } from './support';

test('the sheet is turned so that words round the blank read straight, kept for the job, and worked on as before', async ({ page }) => {
  const id = await openJob(page, carveJob('ROUND ABOUT'));
  const word = page.locator('[data-inscription="words"]').first();
  const upright = await restingBox(word);
  expect(upright.height).toBeGreaterThan(2 * upright.width);
  // As soon as it is turned it lies where it stays: a hand that is quicker than a second rendering takes hold of the words.
  const turned = page.getByRole('button', { name: 'Turned', exact: true });
  const places = await turned.evaluate(async (button: HTMLButtonElement) => {
    const place = () => {
      const { x, y } = document.querySelector('[data-inscription="words"]')!.getBoundingClientRect();
      return `${Math.round(x / 4)} ${Math.round(y / 4)}`;
    };
    const seen = [place()];
    button.click();
    await Promise.resolve();
    seen.push(place());
    await new Promise((done) => requestAnimationFrame(() => setTimeout(done, 100)));
    return [...seen, place()];
  });
  expect(places[1]).not.toBe(places[0]);
  expect(places[1]).toBe(places[2]);
  const lying = await restingBox(word);
  expect(lying.width).toBeGreaterThan(2 * lying.height);

  // Dragged to the right on the screen it goes on round the blank; an arrow key does the same.
  const before = (await stored(page, id)).inscriptions[0]!.at;
  await page.mouse.move(lying.x + lying.width / 2, lying.y + lying.height / 2);
  await page.mouse.down();
  await page.mouse.move(lying.x + lying.width / 2 + 40, lying.y + lying.height / 2, { steps: 5 });
  await page.mouse.up();
  const dragged = (await stored(page, id)).inscriptions[0]!.at;
  expect(dragged.turnDeg).toBeGreaterThan(before.turnDeg + 5);
  expect(Math.abs(dragged.xMm - before.xMm)).toBeLessThan(0.5);
  await page.getByTestId('unrolled').locator('svg').first().press('ArrowRight');
  await expect.poll(async () => (await stored(page, id)).inscriptions[0]!.at.turnDeg).toBeGreaterThan(dragged.turnDeg);

  await page.getByRole('button', { name: 'Selected', exact: true }).click();
  const large = await restingBox(word);
  expect(large.width).toBeGreaterThan(1.2 * lying.width);
  await page.getByRole('button', { name: 'Whole sheet' }).click();

  await page.reload();
  await expect(turned).toHaveAttribute('aria-pressed', 'true');
  await openJob(page, carveJob('ANOTHER'));
  await expect(turned).toHaveAttribute('aria-pressed', 'false');
});
