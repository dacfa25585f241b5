import { test, expect } from '@playwright/test';
import { accessible } from './accessible.mjs';
import { keep, lookUp, setClock } from './help.mjs';

test('many pages are looked through, kept as one list, and each says what came of it', async ({ page }) => {
  setClock('2025-01-20T10:00Z');
  await page.goto('/captures');
  await page.getByRole('link', { name: 'Capture a list of pages' }).click();
  await accessible(page);
  await page
    .getByLabel('Addresses, one a line')
    .fill(
      'who;where\nThe seal;http://lantern.test/2025/01/the-seal\nno address' +
        ' here\nhttp://lantern.test/never/there\nhttp://nowhere.example/\nhttp://lantern.test/2025/01/the-seal#again',
    );
  await page.getByRole('button', { name: 'Look through them' }).click();
  await expect(page.getByRole('heading', { name: '3 addresses' })).toBeVisible();
  await expect(page.getByText('One address stood there twice.')).toBeVisible();
  await page.getByText('1 line without an address').click();
  await expect(page.getByText('no address here')).toBeVisible();
  await accessible(page);
  await page.getByLabel('without a browser: quick, no script').check();
  await page.getByLabel('Name of the list').fill('Sources <of> the draft');
  await page.getByRole('button', { name: 'Capture what is ticked' }).click();
  await expect(page.getByRole('heading', { name: 'Sources <of> the draft' })).toBeVisible();
  await expect(page.getByRole('status').first()).toContainText('Ended: 3 of 3 pages', { timeout: 60_000 });
  await accessible(page);
  await expect(page.locator('.jobs li', { hasText: 'the-seal' })).toContainText('complete');
  await expect(page.locator('.jobs li', { hasText: 'never/there' })).toContainText('unusable');
  await expect(page.locator('.jobs li', { hasText: 'nowhere.example' })).toContainText('does not exist');
  await page.getByRole('link', { name: 'unusable' }).click();
  await expect(page.getByText('The server answered with an error.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Capture the page again' })).toBeVisible();
  await accessible(page);
});

test('after a capture it is said whether it worked, there and beside the page', async ({ page }) => {
  setClock('2025-01-21T10:00Z');
  const code = await keep(page, 'http://lantern.test/2025/01/the-seal');
  await expect(page.getByText('Everything that the page asked for is in the file')).toBeVisible();
  await accessible(page);
  await page.goto(code);
  await page.locator('#bar').getByRole('link', { name: 'complete', exact: true }).click();
  await page.getByRole('link', { name: 'Capture the pages that it links to' }).click();
  await expect(page.getByLabel('Addresses, one a line')).toHaveValue(/http:\/\/lantern\.test\//);
  await lookUp(page, 'http://lantern.test/2025/01/the-seal');
  await expect(page.locator('.captures > li').first()).not.toContainText('incomplete');
});

test('gaps are marked on the picture of the page, and what one says of a capture stays with it', async ({ page }) => {
  setClock('2025-02-03T10:00Z');
  await page.goto('/');
  await page.getByText('How, and how much of it').click();
  await accessible(page);
  await page.getByLabel('Seconds to wait after it has loaded').fill('1');
  await page.getByLabel('Address of a page').fill('forum.tidewatch.test/t/126');
  await page.getByRole('button', { name: 'Capture now' }).click();
  await page.getByLabel('Title').fill('The door, from the quay');
  await page.getByLabel('Tags, separated by commas').fill('stern door');
  await page.getByLabel('Why it was captured').fill('The only pictures of the seal');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('● saved')).toBeVisible();
  await expect(page.getByText('2 missing parts are marked where')).toBeVisible({ timeout: 60_000 });
  await expect(page.locator('.where rect')).toHaveCount(2);
  await expect(page.locator('.where img').first()).toHaveJSProperty('complete', true);
  await expect(page.getByLabel('Why it was captured')).toHaveValue('The only pictures of the seal');
  await accessible(page);
  await page.getByRole('link', { name: 'All captures of this address' }).click();
  await expect(page.locator('.captures > li').first()).toContainText('The door, from the quay');
  await page.locator('.captures > li').first().getByRole('link', { name: 'stern door' }).click();
  await expect(page.getByRole('link', { name: /The door, from the quay/ })).toBeVisible();
  await accessible(page);
  await page.goto('/');
  await expect(page.getByText('as you chose last')).toBeVisible();
  // A look-up does not carry along how pages are kept.
  await page.getByLabel('Address of a page').fill('forum.tidewatch.test/t/126');
  await page.getByRole('button', { name: 'Look up' }).click();
  expect(new URL(page.url()).search).not.toContain('extent');
  await page.goto('/');
  await page.getByText('How, and how much of it').click();
  await page.getByLabel('only one part, as it looks').check();
  await page.getByLabel('Seconds to wait after it has loaded').fill('');
  await page.getByLabel('Address of a page').fill('forum.tidewatch.test/t/126');
  await page.getByRole('button', { name: 'Capture now' }).click();
  await expect(page.getByRole('alert')).toContainText('Say which part');
  await page.getByLabel('Words in that part').fill('Taken from the quay');
  await page.getByRole('button', { name: 'Capture now' }).click();
  await expect(page.getByText('Only one part of this page was to be captured')).toBeVisible({ timeout: 60_000 });
  await page.goto('/');
  await page.getByText('How, and how much of it').click();
  await page.getByLabel('everything that a reader sees').check();
  await page.getByLabel('Address of a page').fill('forum.tidewatch.test/t/121');
  await page.getByRole('button', { name: 'Capture now' }).click();
  await expect(page.getByText('Everything that the page asked for')).toBeVisible({ timeout: 60_000 });
});
