import { test, expect } from '@playwright/test';
import { framed } from './help.mjs';

/** What is marked in the archived page. */
const marked = (page, what) =>
  page
    .frames()
    .find(one => one.name() === 'ypomna-page')
    .evaluate(name => [...(CSS.highlights.get('ypomna-' + name) ?? [])].map(String), what);

test('words in the one box lead to where they stood, and to when they went', async ({ page }) => {
  await page.goto('/');
  await page.locator('input[name=q]').first().fill('forty centimetres');
  await page.locator('input[name=q]').first().press('Enter');
  await expect(page).toHaveURL(/\/search\?q=forty/);
  await expect(page.locator('.finds mark').first()).toHaveText('forty');
  await expect(page.locator('.stood').first()).toContainText(
    'Stood there on 11 Nov 2024, in one of 3 captures. Not there since 18 Nov 2024.',
  );
  await page.locator('.finds a.open').first().click();
  await expect(framed(page).locator('h1')).toContainText('forty centimetres');
  await expect.poll(() => marked(page, 'finds')).toEqual(['forty', 'centimetres']);
  await expect.poll(() => marked(page, 'find')).toEqual(['forty']);
  await expect(page.locator('#passage-missing')).toBeHidden();
  await page.goBack();
  await page.getByRole('link', { name: 'When exactly' }).first().click();
  await expect(page.locator('.verdict')).toContainText('stood in 1 of 3 captures. Not there since 18 Nov 2024.');
  await page.getByRole('link', { name: 'Compare where it went' }).click();
  await expect(page).toHaveURL(/\/compare\//);
});

test('results are narrowed by what stands above them, and the address says it all', async ({ page }) => {
  await page.goto('/search?q=door');
  const all = await page.locator('.finds > li').count();
  expect(all).toBeGreaterThan(3);
  await page.locator('select[name=site]').selectOption('lantern.test');
  await page.locator('select[name=order]').selectOption('newest');
  await page.getByRole('button', { name: 'Look up' }).click();
  await expect(page).toHaveURL(/site=lantern\.test/);
  const some = await page.locator('.finds > li').count();
  expect(some).toBeGreaterThan(0);
  expect(some).toBeLessThan(all);
  for (const address of await page.locator('.finds .address').allTextContents()) {
    expect(address).toContain('lantern.test');
  }
});

test('a word that is nowhere is not looked for in another form unasked', async ({ page }) => {
  await page.goto('/find?q=centimters');
  await expect(page).toHaveURL(/\/search\?q=centimters/);
  await expect(page.locator('.finds > li')).toHaveCount(0);
  await page.getByRole('link', { name: 'centimetres' }).click();
  await expect(page.locator('.finds mark').first()).toHaveText(/centimetres/i);
});

test('words in a scan are found by its picture', async ({ page }) => {
  test.setTimeout(180_000);
  // The worker that reads pictures is the last that the machine thinks of.
  await expect
    .poll(
      async () => {
        await page.goto('/search?q=' + encodeURIComponent('"forty centimetres in length"'));
        return page.locator('.finds > li').count();
      },
      { timeout: 150_000, intervals: [2_000] },
    )
    .toBe(1);
  await expect(page.locator('.finds .snippet')).toContainText('In a picture, read by machine');
  await page.locator('.finds a.open').click();
  await expect(page.locator('h1')).toContainText('Inspection of October, scanned');
});

test('finds are gone through by keys, on to the next result, and back to the list', async ({ page }) => {
  await page.goto('/search?q=ferry&kind=page');
  const titles = await page.locator('.finds a.open').allTextContents();
  expect(titles.length).toBeGreaterThan(2);
  await page.locator('.finds a.open').first().click();
  await expect(page.locator('#finder-q')).toHaveValue('ferry');
  const told = page.locator('#finder-told');
  await expect(told).toHaveText(/^1 of \d+$/);
  const count = Number(/of (\d+)/.exec(await told.textContent())[1]);
  expect(count).toBeGreaterThan(1);
  // Other forms are marked as well.
  expect(new Set(await marked(page, 'finds')).size).toBeGreaterThan(1);
  await page.keyboard.press('n');
  await expect(told).toHaveText(`2 of ${count}`);
  await page.keyboard.press('p');
  await expect(told).toHaveText(`1 of ${count}`);
  // While the page has the focus, too.
  await framed(page)
    .locator('body')
    .click({ position: { x: 5, y: 5 } });
  for (let n = 2; n <= count; ++n) {
    await page.keyboard.press('n');
    await expect(told).toHaveText(`${n} of ${count}`);
  }
  const first = page.url();
  await page.keyboard.press('n');
  await expect(page).not.toHaveURL(first);
  await expect(told).toHaveText(/^1 of \d+$/);
  await page.locator('#finder-q').fill('nowhere at all');
  await page.keyboard.press('Enter');
  await expect(told).toHaveText('It does not stand here.');
  await page.getByRole('link', { name: 'Back to what was found' }).click();
  await expect(page).toHaveURL(/\/search\?q=ferry&kind=page#found-2$/);
});

test('what one may mean is offered while one types, and a question is saved', async ({ page }) => {
  await page.goto('/search?q=stern+door');
  await page.getByRole('button', { name: 'Save this question' }).click();
  await expect(page.locator('.questions').first()).toContainText('stern door');
  const box = page.locator('#q');
  await box.pressSequentially('ster');
  await expect(page.locator('.names [role=option]').first()).toContainText('stern door');
  await box.press('ArrowDown');
  await expect(page.locator('.names [aria-selected=true]')).toHaveCount(1);
  await box.press('Enter');
  await expect(page).toHaveURL(/\/search\?q=stern/);
  // Nothing typed: what was asked last.
  await page.locator('#q').fill('');
  await page.locator('#q').press('ArrowDown');
  await expect(page.locator('.names')).toContainText('asked before');
  await page.locator('#q').press('Escape');
  await expect(page.locator('.names')).toHaveCount(0);
});
