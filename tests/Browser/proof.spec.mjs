import { test, expect } from '@playwright/test';
import { framed, keep, lookUp, notice, setClock } from './help.mjs';

// The whole job on one page: kept, kept again after it changed, compared, and read when it is gone.
test('from an address to proof', async ({ page }) => {
  setClock('2024-11-12T09:00Z');
  const first = await keep(page, notice);
  await page.getByRole('link', { name: 'Read it', exact: true }).click();
  await expect(page).toHaveURL(first);
  await expect(page.locator('.margin-date')).toHaveText('12 Nov 2024');
  await expect(framed(page).locator('body')).toContainText('The crew measured 40 centimetres of water');

  setClock('2024-12-20T09:00Z');
  const second = await keep(page, 'saltmarch-ferries.test/safety/stern-door');
  expect(second).not.toBe(first);

  await page.getByRole('link', { name: 'All captures of this address' }).click();
  await page.locator('.captures li', { hasText: '12 Nov 2024' }).first().getByRole('checkbox').check();
  await page.locator('.captures li', { hasText: '20 Dec 2024' }).first().getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Compare the two ticked' }).click();
  const changes = page.locator('ol.changes');
  await expect(changes.locator('li', { hasText: 'centimetres' }).locator('del')).toHaveText('40');
  await expect(changes.locator('li', { hasText: 'centimetres' }).locator('ins')).toHaveText('14');
  await expect(changes.locator('li', { hasText: 'The leak had' }).locator('ins')).toHaveText(/^not\s*$/);

  // It is withdrawn; whoever types its address in any spelling reads it in two more steps.
  setClock('2026-03-05T09:00Z');
  await keep(page, notice);
  await lookUp(page, 'HTTPS://Saltmarch-Ferries.test:443/safety/./stern-door?utm_source=letter#top');
  await expect(page.locator('.history-list .verdict')).toContainText('Last seen alive on 19 Jan 2026');
  await expect(page.locator('.history-list .verdict')).toContainText('The last capture did not find it.');
  await page.getByRole('link', { name: 'Read the last capture alive' }).click();
  await expect(framed(page).getByRole('heading', { name: 'Notice: stern door of Petrel Dawn' })).toBeVisible();
  await expect(page.locator('.margin-date')).toHaveText('19 Jan 2026');

  await page.goto('/integrity');
  await page.getByRole('button', { name: 'Verify now' }).click();
  await expect(page.locator('#verification')).toContainText('Everything is as it was entered.', { timeout: 30_000 });
});

test('a page that cannot be had ends in a reason, and in what to do', async ({ page }) => {
  await page.goto('/');
  await page.getByLabel('Address of a page').fill('http://nobody-has-this.test/page');
  await page.getByRole('button', { name: 'Capture now' }).click();
  await expect(page.getByRole('alert')).toContainText('The name in this address does not exist', { timeout: 40_000 });
  await expect(page.getByRole('button', { name: 'Try again' })).toBeVisible();

  await page.goto('/');
  await page.getByLabel('Address of a page').fill('http://192.168.1.1/router');
  await page.getByRole('button', { name: 'Capture now' }).click();
  await expect(page.getByRole('alert')).toContainText('This address is inside a closed network', { timeout: 40_000 });
});

test('what is no address is said to be none, and nothing that was typed is lost', async ({ page }) => {
  await lookUp(page, 'ftp://not.an.address/');
  await expect(page.getByRole('alert')).toContainText('only http and https addresses');
  await expect(page.getByLabel('Address of a page')).toHaveValue('ftp://not.an.address/');
});

test('an address never kept says so, and offers what is near', async ({ page }) => {
  await lookUp(page, 'www.saltmarch-ferries.test/safety/bow-door');
  await expect(page.getByRole('heading', { name: 'www.saltmarch-ferries.test/safety/bow-door' })).toBeVisible();
  await page.getByRole('link', { name: /saltmarch-ferries.test\/safety\/stern-door/ }).click();
  await expect(page.getByRole('link', { name: 'Read the last capture alive' })).toBeVisible();
});

test('progress is watched without our scripts, too', async ({ browser, baseURL }) => {
  const context = await browser.newContext({ javaScriptEnabled: false, baseURL });
  const page = await context.newPage();
  setClock('2024-12-20T10:00Z');
  await page.goto('/');
  await page.getByLabel('Address of a page').fill('http://www.saltmarch-ferries.test/fares');
  await page.getByRole('button', { name: 'Capture now' }).click();
  await expect(page.getByText('Permanent address')).toBeVisible({ timeout: 60_000 });
  await context.close();
});

test('from a capture one press says whether the page is gone today', async ({ page }) => {
  setClock('2026-03-05');
  await lookUp(page, notice);
  await page.getByRole('link', { name: 'Read the last capture alive' }).click();
  await page.getByRole('button', { name: 'Compare with today' }).click();
  await expect(page.getByText('the page is no longer there (404)')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('link', { name: 'What changed' }).click();
  await page.waitForURL(/\/compare\//);
});
