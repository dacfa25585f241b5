import { test, expect } from '@playwright/test';
import AxeBuilder from '@axe-core/playwright';
import { setClock } from './help.mjs';

const sound = async page => expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);

test('a site is looked over beforehand, kept as one work, and its endless calendar is noticed', async ({ page }) => {
  test.setTimeout(120_000);
  setClock('2025-01-22T10:00Z');
  await page.goto('/captures');
  await page.getByRole('link', { name: 'Capture a whole site' }).click();
  await sound(page);
  const look = page.locator('#site-look');
  await page.getByLabel('First pages').fill('board.merrow-sound.test');
  await expect(look).toContainText('would be captured');
  await expect(look.locator('li.in', { hasText: 'board.merrow-sound.test/tides/2024-11' })).toBeVisible();
  await page.getByLabel('Never addresses with').fill('*.pdf$\n/reg');
  await expect(look.locator('li.out', { hasText: '/register' })).toContainText('excluded by a pattern');
  await page.getByLabel('Only addresses with').fill('x'.repeat(1_100));
  await expect(look.getByRole('alert')).toContainText('The pattern in line 1');
  await page.getByLabel('Only addresses with').fill('');
  await expect(look).toContainText('would be captured');
  await sound(page);
  await page.getByLabel('Pause between').fill('0');
  await page.getByText('Site captures obey robots.txt').click();
  await page.getByLabel('Capture pages even where').check();
  await page.getByLabel('Reason; it stands').fill('The board was asked for leave');
  await page.getByLabel('Name of this capture').fill('The board');
  await page.getByRole('button', { name: 'Capture this site' }).click();
  await expect(page.getByRole('heading', { name: 'The board' })).toBeVisible();
  await expect(page.getByText('The board was asked for leave')).toBeVisible();
  await expect(page.getByRole('status').first()).toContainText('Ended (complete)', { timeout: 90_000 });
  await sound(page);
  const trap = page.locator('li', { hasText: 'board.merrow-sound.test/tides/0-0' }).first();
  await expect(trap).toContainText('left out');
  await page.getByRole('link', { name: 'Left out', exact: true }).click();
  await expect(page.locator('.jobs li', { hasText: '/register' })).toContainText('excluded by a pattern');
  await page.getByRole('link', { name: 'Captured', exact: true }).click();
  await page.getByRole('link', { name: 'board.merrow-sound.test/minutes/2024-11' }).click();
  await expect(page.frameLocator('iframe').getByRole('heading', { name: 'Minutes of the meeting' })).toBeVisible();
});

test('without scripts the look beforehand is a button', async ({ browser }) => {
  const context = await browser.newContext({ javaScriptEnabled: false });
  const page = await context.newPage();
  await page.goto('/sites');
  await page.getByLabel('First pages').fill('board.merrow-sound.test');
  await page.getByRole('button', { name: 'Show what it would capture' }).click();
  await expect(page.locator('#site-look')).toContainText('would be captured');
  await expect(page.getByLabel('First pages')).toHaveValue('board.merrow-sound.test');
  await context.close();
});
