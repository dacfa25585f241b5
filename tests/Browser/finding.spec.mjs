import { test, expect } from '@playwright/test';
import { framed } from './help.mjs';

test('words in the one box lead to where they stood, and to when they went', async ({ page }) => {
  await page.goto('/');
  await page.locator('input[name=q]').first().fill('forty centimetres');
  await page.locator('input[name=q]').first().press('Enter');
  await expect(page).toHaveURL(/\/search\?q=forty/);
  await expect(page.locator('h1')).toHaveText('One has “forty centimetres”');
  await expect(page.locator('.finds mark').first()).toHaveText('forty');
  await expect(page.locator('.stood')).toContainText('Stood there on 11 Nov 2024, in one of 3 captures. Not there since 18 Nov 2024.');
  await page.locator('.finds a.open').click();
  await expect(framed(page).locator('h1')).toContainText('forty centimetres');
  const marked = () =>
    page
      .frames()
      .find(one => one.name() === 'ypomna-page')
      .evaluate(() => [...(CSS.highlights.get('ypomna-passage') ?? [])].map(String));
  await expect.poll(marked).toEqual(['forty centimetres']);
  await expect(page.locator('#passage-missing')).toBeHidden();
  await page.goBack();
  await page.getByRole('link', { name: 'When exactly' }).click();
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
