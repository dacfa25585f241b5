import { readFileSync } from 'node:fs';
import { test, expect } from '@playwright/test';
import { accessible } from './accessible.mjs';
import { lookUp, notice } from './help.mjs';

// Two captures beside each other: marked in the pages, listed, passed over, in every view.

/** Opens the comparison of the first capture with the last living one. */
async function compare(page) {
  await lookUp(page, notice);
  const boxes = page
    .locator('.captures > li')
    .filter({ has: page.locator('.state.kept') })
    .locator('input[type=checkbox]');
  await boxes.first().check();
  await boxes.last().check();
  await page.keyboard.press('c');
  await page.waitForURL(/\/compare\//);
}

const marksOf = (page, side) =>
  page
    .frameLocator('#page-' + side)
    .locator('body')
    .evaluate(() =>
      Object.fromEntries(
        [...CSS.highlights].map(([name, light]) => [name, [...light].map(range => range.toString().replace(/\s+/g, ' '))]),
      ),
    );

test('what differs is marked in both pages and the list leads to it', async ({ page }) => {
  await compare(page);
  await expect.poll(async () => (await marksOf(page, 'new'))['ypomna-words'] ?? [], { timeout: 20_000 }).toContain('14');
  await expect.poll(async () => (await marksOf(page, 'old'))['ypomna-words'] ?? []).toContain('40');
  const [before, after] = [await marksOf(page, 'old'), await marksOf(page, 'new')];
  expect(before['ypomna-changed'].some(text => text.includes('centimetres of water'))).toBe(true);
  expect(after['ypomna-changed'].some(text => text.includes('had not been reported'))).toBe(true);
  // Pages stay as they were but for the layer of signs.
  await page.keyboard.press('j');
  await expect(page.locator('[data-change]').first()).toBeFocused();
  await expect.poll(async () => ((await marksOf(page, 'new'))['ypomna-now'] ?? []).length).toBe(1);
  await expect(page.locator('.heat i').first()).toBeAttached();
});

test('a part that was pointed at is passed over, and counts again when the rule ends', async ({ page }) => {
  await compare(page);
  await page.frameLocator('#page-new').locator('body').waitFor();
  await expect(page.locator('.heat i').first()).toBeAttached({ timeout: 20_000 });
  const substance = page.locator('section', { hasText: 'What matters' }).locator('[data-change]');
  const many = await substance.count();
  await page.getByRole('button', { name: 'Point at a part to ignore' }).click();
  // By the mouse, where the scaled page shows it.
  const frame = await page.locator('#page-new').boundingBox();
  const [x, y, width] = await page
    .frameLocator('#page-new')
    .getByText('centimetres of water')
    .evaluate(one => {
      const box = one.getBoundingClientRect();
      return [box.left + box.width / 2, box.top + 8, innerWidth];
    });
  await page.mouse.move(frame.x + (x * frame.width) / width, frame.y + (y * frame.width) / width);
  await page.mouse.down();
  await page.mouse.up();
  const dialog = page.getByRole('dialog', { name: 'Ignore this part in comparisons' });
  await expect(dialog).toBeVisible();
  await expect(dialog.getByLabel('Or wherever these words stand')).toHaveValue(/14 centimetres/);
  await dialog.getByLabel('Part of the page').fill('h1');
  await dialog.getByLabel('Or wherever these words stand').fill('The crew measured 14 centimetres of water at the aft bulkhead.');
  await dialog.getByRole('button', { name: 'Set the rule' }).click();
  await page.waitForURL(/\/compare\//);
  await expect(substance).toHaveCount(many - 1);
  await page.getByRole('link', { name: 'Rules of this page' }).click();
  await page.getByRole('button', { name: 'End this rule' }).click();
  await expect(page.getByText('None yet. Set one below')).toBeVisible();
});

test.describe('every view', () => {
  let at, address;
  test.beforeAll(async ({ browser }) => {
    const page = await browser.newPage();
    await compare(page);
    at = new URL(page.url()).pathname;
    address = await page.locator('.margin .address a').first().getAttribute('href');
    await page.close();
  });
  const views = {
    'side by side': [() => at, 'What matters'],
    'text in two columns': [() => at + '/text', 'Side by side'],
    'text in one': [() => at + '/text?as=unified', 'As one text'],
    pictures: [() => at + '/look', 'parts look different'],
    'pictures, one over the other': [() => at + '/look?as=slider', 'Slider'],
    source: [() => at + '/source', 'Markup'],
    report: [() => at + '/report', 'How to repeat this comparison'],
    lifelines: [() => address + '/lifelines', 'A bar runs'],
    'one lifeline': [() => address + '/lifelines/1', 'It stood'],
    rules: [() => address + '/noise', 'What is recognised without a rule'],
  };
  for (const [name, [path, words]] of Object.entries(views)) {
    test(`${name} is accessible and says what it should`, async ({ page }) => {
      await page.goto(path());
      await expect(page.locator('body')).toContainText(words);
      await accessible(page);
    });
  }

  test('the report is had as PDF, which only a press makes', async ({ page }) => {
    await page.goto(at + '/report');
    await page.getByRole('button', { name: 'PDF' }).click();
    const link = page.getByRole('link', { name: /\.pdf$/ }).first();
    await link.waitFor({ timeout: 60_000 });
    const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
    expect(
      readFileSync(await download.path())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
    expect((await page.request.get(at + '/report.pdf')).status()).toBe(404);
  });
});

test('a comparison needs no script of ours', async ({ browser }) => {
  const context = await browser.newContext({ javaScriptEnabled: false });
  const page = await context.newPage();
  await page.goto('/find?q=' + encodeURIComponent(notice));
  const boxes = page
    .locator('.captures > li')
    .filter({ has: page.locator('.state.kept') })
    .locator('input[type=checkbox]');
  await boxes.first().check();
  await boxes.last().check();
  await page.getByRole('button', { name: 'Compare the two ticked' }).click();
  await expect(page.getByText('What matters')).toBeVisible();
  await page.getByRole('link', { name: 'Text', exact: true }).click();
  await expect(page.locator('table.sides del').first()).toBeVisible();
  await context.close();
});
