import { test, expect } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { accessible } from './accessible.mjs';
import { keep } from './help.mjs';
import { passwordOf, signedIn } from './sign-in.mjs';

const nobody = { cookies: [], origins: [] };
const enter = async (page, name, password) => {
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
};
/** What the telephone shows at that moment; half a minute later, if that code was used. */
const codeOf = (secret, later = 0) =>
  execFileSync('oathtool', ['--totp', '-b', '-N', new Date(Date.now() + later).toISOString(), secret], { encoding: 'utf8' }).trim();

test.describe('whoever has not signed in', () => {
  test.use({ storageState: nobody });

  test('is led to the door and then to where they wanted to go', async ({ page }) => {
    await page.goto('/references');
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await expect(page.getByRole('navigation')).toHaveCount(0);
    await accessible(page);
    // The demo says who its people are.
    await expect(page.getByRole('row', { name: /Ilse Varga/ })).toContainText(passwordOf('Ilse Varga'));
    await enter(page, 'Ilse Varga', 'not hers');
    await expect(page.getByRole('alert')).toHaveText('The name or the password is wrong.');
    await expect(page.getByLabel('Password')).toBeFocused();
    await enter(page, 'Ilse Varga', passwordOf('Ilse Varga'));
    await expect(page).toHaveURL(/\/references$/);
    await expect(page.getByRole('link', { name: 'Ilse Varga' })).toBeVisible();
  });

  test('finds nothing at an address that is none of ours, and is told nothing', async ({ page }) => {
    await page.goto('/no/such/place');
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  });

  test('gets in by keys alone', async ({ page }) => {
    await page.goto('/');
    await page.keyboard.type('Nerys Quill');
    await page.keyboard.press('Tab');
    await page.keyboard.type(passwordOf('Nerys Quill'));
    await page.keyboard.press('Enter');
    await expect(page.getByRole('link', { name: 'Nerys Quill' })).toBeVisible();
  });

  test('a reader is offered what a reader may do', async ({ page }) => {
    await page.goto('/sign-in');
    await enter(page, 'Nerys Quill', passwordOf('Nerys Quill'));
    await expect(page.getByRole('button', { name: 'Look up' })).toBeVisible();
    await expect(page.getByRole('button', { name: 'Capture now' })).toHaveCount(0);
    const rooms = page.getByRole('navigation', { name: 'Rooms' });
    await expect(rooms.getByRole('link', { name: 'Import' })).toHaveCount(0);
    await expect(rooms.getByRole('link', { name: 'People' })).toHaveCount(0);
    await page.goto('/import');
    await expect(page.getByRole('heading', { name: 'You may not do this' })).toBeVisible();
    await accessible(page);
  });

  test('a page that was open when somebody signed out leads to the door', async ({ page, context }) => {
    await page.goto('/sign-in');
    await enter(page, 'Ilse Varga', passwordOf('Ilse Varga'));
    await page.goto('/me');
    const other = await context.newPage();
    await other.goto('/me');
    await other.getByRole('button', { name: 'Sign out' }).click();
    await expect(other.getByRole('status').first()).toHaveText('You are signed out.');
    await page.getByRole('button', { name: 'Change the password' }).click({ trial: true });
    await page.reload();
    await expect(page).toHaveURL(/\/sign-in\?to=\/me$/);
  });
});

test('somebody is invited, joins by the link and sets up a second step, without scripts', async ({ browser, baseURL }) => {
  const office = await browser.newContext({ baseURL, storageState: await signedIn(baseURL, 'Bram Hollis') }),
    desk = await office.newPage();
  await desk.goto('/people');
  await accessible(desk);
  await desk.getByRole('radio', { name: /^Keeper/ }).check();
  await desk.getByLabel('Mail address').fill('edda@watchdog.test');
  await desk.getByRole('button', { name: 'Invite' }).click();
  await expect(desk.getByRole('status').first()).toContainText('The invitation was mailed to edda@watchdog.test.');
  const link = await desk.locator('section code').textContent();

  const home = await browser.newContext({ baseURL, storageState: nobody, javaScriptEnabled: false }),
    page = await home.newPage();
  await page.goto(link);
  await expect(page.getByText('Bram Hollis invites you as a keeper.')).toBeVisible();
  await page.getByLabel('Your name').fill('Edda Marrow');
  await page.getByLabel('New password').fill('edda marrow');
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(page.getByRole('alert')).toHaveText('This password is your name. Choose another.');
  await page.getByLabel('New password').fill('three rope ladders');
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(page.getByRole('button', { name: 'Capture now' })).toBeVisible();

  await page.getByRole('link', { name: 'Edda Marrow' }).click();
  const step = page.locator('#second-step');
  await step.getByLabel('Password').fill('three rope ladders');
  await step.getByRole('button', { name: 'Set it up' }).click();
  await expect(page.getByAltText('The secret as a picture')).toBeVisible();
  const secret = (await page.locator('code.secret').textContent()).replaceAll(' ', '');
  await page.getByLabel('Code').fill(codeOf(secret));
  await page.getByRole('button', { name: 'Switch it on' }).click();
  const paper = await page.locator('.recovery code').allTextContents();
  expect(paper).toHaveLength(10);
  await page.getByRole('link', { name: 'I have them' }).click();
  await page.getByRole('button', { name: 'Sign out' }).click();

  await enter(page, 'Edda Marrow', 'three rope ladders');
  await page.getByLabel('Code').fill('000000');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toHaveText('This code is wrong, or was used before.');
  await page.getByLabel('Code').fill(codeOf(secret, 30_000));
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('link', { name: 'Edda Marrow' })).toBeVisible();

  // Another role holds at once; closed is closed.
  await desk.goto('/people');
  const row = desk.getByRole('row', { name: /Edda Marrow/ });
  await row.getByLabel('Role of Edda Marrow').selectOption('Reader');
  await row.getByRole('button', { name: 'Set' }).click();
  await page.goto('/');
  await expect(page.getByRole('button', { name: 'Capture now' })).toHaveCount(0);
  await row.getByText('More').click();
  await row.getByRole('button', { name: 'Close' }).click();
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await desk.getByRole('link', { name: 'Log of people' }).click();
  await expect(desk.getByRole('row', { name: /Bram Hollis closed Edda Marrow/ })).toBeVisible();
  await accessible(desk);
  await office.close();
  await home.close();
});

test('whoever captures a page is named beside it', async ({ page }) => {
  await keep(page, 'http://lantern.test/2025/01/the-seal');
  await page.goto('/me');
  await accessible(page);
  await expect(page.getByRole('heading', { name: 'Tomas Okoye' })).toBeVisible();
});
