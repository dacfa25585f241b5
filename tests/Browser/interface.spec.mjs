import { test, expect } from '@playwright/test';
import { accessible } from './accessible.mjs';
import { lookUp, notice } from './help.mjs';

const views = {
  'first screen': page => page.goto('/'),
  address: page => lookUp(page, notice),
  reading: async page => {
    await lookUp(page, notice);
    await page.getByRole('link', { name: 'Read the last capture alive' }).click();
  },
  comparison: async page => {
    await lookUp(page, notice);
    await page.locator('.captures input[type=checkbox]').nth(1).check();
    await page.locator('.captures input[type=checkbox]').last().check();
    await page.keyboard.press('c');
    await page.waitForURL(/\/compare\//);
  },
  captures: page => page.goto('/captures'),
  'give out': async page => {
    await lookUp(page, notice);
    await page.locator('.captures input[type=checkbox]').first().check();
    await page.getByRole('button', { name: 'Export', exact: true }).click();
  },
  parcel: async page => {
    await page.goto('/export');
    await page.getByRole('button', { name: 'Export all holdings' }).click();
    await page.getByRole('link', { name: 'Download all in one file' }).waitFor({ timeout: 30_000 });
  },
  parts: async page => {
    await lookUp(page, notice);
    await page.locator('.captures summary').first().click();
    await page.getByRole('link', { name: 'All parts' }).first().click();
  },
  'take in': page => page.goto('/import'),
  custody: page => page.goto('/integrity'),
  finding: page => page.goto('/search?q=door'),
  'nothing found': page => page.goto('/search?q=centimters'),
  'when words stood': async page => {
    await page.goto('/search?q=forty+centimetres');
    await page.getByRole('link', { name: 'When exactly' }).click();
  },
  'never kept': page => page.goto('/find?q=www.saltmarch-ferries.test/nowhere'),
  'no address': page => page.goto('/find?q=nonsense'),
  'not found': page => page.goto('/nowhere'),
};

for (const [name, go] of Object.entries(views)) {
  test(`${name} is accessible, in light and dark`, async ({ page }) => {
    await go(page);
    await accessible(page);
  });
}

test('what one wants at hand is marked, pinned, taken away and put back by keys', async ({ page }) => {
  const press = async name => {
    await page.getByRole('button', { name }).first().focus();
    await page.keyboard.press('Enter');
  };
  await lookUp(page, notice);
  await press('Add to favourites');
  await press('Pin on top');
  await expect(page.getByText('Favourite, pinned on top')).toBeVisible();
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Favourites' })).toBeVisible();
  await page.getByRole('link', { name: 'All favourites' }).click();
  await accessible(page);
  await press(/^No longer a favourite/);
  await expect(page.getByText('No favourites yet')).toBeVisible();
  await press('Undo');
  await expect(page.locator('.shelf li')).toHaveCount(1);
  await page.setViewportSize({ width: 360, height: 700 });
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360);
  await press(/^No longer a favourite/);
});

test('the keyboard alone leads from the first screen to a comparison', async ({ page }) => {
  await page.goto('/integrity');
  await page.keyboard.press('/');
  await page.keyboard.type('saltmarch-ferries.test/safety/stern-door');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/address\//);
  for (const key of ['j', 'j', 'x', 'j', 'j', 'x', 'c']) await page.keyboard.press(key);
  await page.waitForURL(/\/compare\//);
  await page.keyboard.press('j');
  await expect(page.locator('#change-1')).toBeFocused();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeHidden();
});

test('ticking one or three captures is answered with what to do', async ({ page }) => {
  await lookUp(page, notice);
  await page.locator('.captures input[type=checkbox]').first().check();
  await page.getByRole('button', { name: 'Compare the two ticked' }).click();
  await expect(page.getByRole('alert')).toContainText('Tick exactly two');
  await page.getByRole('link', { name: 'Back to the captures' }).click();
  await page.waitForURL(/\/address\//);
});

test('the digest is copied with one press', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await lookUp(page, notice);
  const line = page.locator('.captures > li').first();
  await line.locator('summary').click();
  await line
    .locator('dd', { has: page.locator('.digest') })
    .getByRole('button', { name: 'Copy' })
    .click();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe(await line.locator('.digest').textContent());
});

test('nothing sticks out of a narrow window', async ({ page }) => {
  await page.setViewportSize({ width: 360, height: 700 });
  for (const go of [views['first screen'], views.address, views.comparison, views.captures, views.custody]) {
    await go(page);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360);
  }
});

test('moments are shown in the reader’s zone, which is named', async ({ page }) => {
  await page.goto('/');
  await lookUp(page, notice);
  await expect(page.locator('.captures > li').last().locator('.open')).toHaveText(/11 Nov 2024, 20:04:\d\d EET/);
  await expect(page.locator('.captures > li').last().locator('.utc')).toContainText('2024-11-11 18:04');
});

test('a form that did not come from us changes nothing', async ({ request }) => {
  const answer = await request.post('/captures', { form: { q: notice, _token: 'guessed' } });
  expect(answer.status()).toBe(403);
  const misled = await request.get('/', { headers: { Host: 'rebound.example' } });
  expect(misled.status()).toBe(421);
});
