import { test, expect } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { accessible } from './accessible.mjs';
import { keep, ypomna } from './help.mjs';
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

test('what a keeper captures for two is nowhere for a third, and there at once for whoever becomes one of them', async ({
  browser,
  baseURL,
}) => {
  const address = 'http://lantern.test/2025/01/the-seal?for=two';
  const office = await browser.newContext({ baseURL, storageState: await signedIn(baseURL, 'Bram Hollis') }),
    desk = await office.newPage();
  const join = async (role, name, password) => {
    await desk.goto('/people');
    await desk.getByRole('radio', { name: role }).check();
    await desk.getByRole('button', { name: 'Invite' }).click();
    const link = await desk.locator('section code').textContent(),
      context = await browser.newContext({ baseURL, storageState: nobody }),
      page = await context.newPage();
    await page.goto(link);
    await page.getByLabel('Your name').fill(name);
    await page.getByLabel('New password').fill(password);
    await page.getByRole('button', { name: 'Go on' }).click();
    await expect(page.getByRole('link', { name, exact: true })).toBeVisible();
    return page;
  };
  const keeper = await join(/^Keeper/, 'Sorrel Pike', 'a heron on the quay'),
    reader = await join(/^Reader/, 'Tam Oakes', 'eleven brass cleats');

  await keeper.goto('/dossiers');
  await keeper.getByLabel('Name of a new dossier').fill('For two');
  await keeper.getByRole('button', { name: 'Make dossier' }).click();
  await expect(keeper.getByRole('heading', { name: /For two/ })).toBeVisible();
  const dossier = keeper.url();
  await keeper.goto('/');
  await keeper.getByLabel('Address of a page').fill(address);
  await keeper.getByText('How, and how much of it').click();
  await keeper.getByRole('checkbox', { name: /^Confidential/ }).check();
  await keeper.getByLabel('Lay it into').selectOption('For two');
  await keeper.getByRole('button', { name: 'Capture now' }).click();
  await keeper.getByText('Permanent address').waitFor({ timeout: 60_000 });
  const permanent = await keeper.getByRole('link', { name: /\/c\// }).getAttribute('href'),
    code = /\/c\/([2-9a-z]{12})/.exec(permanent)[1];
  await keeper.goto(dossier);
  await expect(keeper.locator(`a[href="/c/${code}"]`)).toBeVisible();

  // By address, word, code, list, feed, program, and at the page's own host.
  const token = JSON.parse(ypomna('token:add', 'Tam Oakes', '--json')).token,
    program = { headers: { Authorization: `Bearer ${token}` } };
  const held = async () => (await (await reader.request.get('/api/addresses?url=' + encodeURIComponent(address), program)).json()).held;
  const places = ['/', '/find?q=' + encodeURIComponent(address), '/find?q=the+seal', '/find?q=' + code, '/dossiers', '/events.atom', '/me'];
  for (const place of places) {
    const said = await (await reader.request.get(place)).text();
    expect(said.includes('/c/' + code), place).toBe(false);
    expect(said.includes('For two'), place).toBe(false);
  }
  for (const place of [permanent, permanent + '/warc', permanent + '/text', new URL(dossier).pathname])
    expect((await reader.request.get(place)).status(), place).toBe(404);
  expect(await held()).toBe(0);
  expect((await reader.request.get('/api/captures/' + code, program)).status()).toBe(404);
  const port = new URL(baseURL).port;
  for (const label of [code, 'a'.repeat(26)])
    expect((await reader.goto(`http://${label}ah-lantern-test.localhost:${port}/2025/01/the-seal?for=two`)).status()).toBe(404);

  await keeper.getByLabel('Name of a person').fill('Tam Oakes');
  await keeper.getByRole('button', { name: 'Add person' }).click();
  await expect(keeper.locator('.belongs')).toContainText('Tam Oakes');

  await reader.goto('/find?q=' + encodeURIComponent(address));
  await expect(reader.locator(`a[href="/c/${code}"]`).first()).toBeVisible();
  await reader.goto('/dossiers');
  await reader.getByRole('link', { name: 'For two' }).click();
  await reader.locator(`a[href="/c/${code}"]`).first().click();
  await expect(reader.frameLocator('#page').locator('h1').first()).toBeVisible();
  expect(await held()).toBe(1);
  expect((await (await reader.request.get('/api/captures/' + code, program)).json()).code).toBe(code);
  // Taken away again, it is nowhere again: what they had open, too.
  const own = reader.frames()[1].url();
  await keeper.getByLabel('Part of Tam Oakes').selectOption('belongs to it no longer');
  await keeper.locator('.belongs li', { hasText: 'Tam Oakes' }).getByRole('button', { name: 'Set' }).click();
  await expect(keeper.locator('.belongs')).not.toContainText('Tam Oakes');
  expect((await reader.request.get(permanent)).status()).toBe(404);
  const fresh = await browser.newContext({ storageState: nobody });
  expect((await (await fresh.newPage()).goto(own)).status()).toBe(404);
  for (const context of [office, fresh, keeper.context(), reader.context()]) await context.close();
});

test('whoever captures a page is named beside it', async ({ page }) => {
  await keep(page, 'http://lantern.test/2025/01/the-seal');
  await page.goto('/me');
  await accessible(page);
  await expect(page.getByRole('heading', { name: 'Tomas Okoye' })).toBeVisible();
});
