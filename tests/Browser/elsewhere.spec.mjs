import { test, expect } from '@playwright/test';
import { readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { accessible } from './accessible.mjs';
import { framed, lookUp } from './help.mjs';

const people = 'http://merrowline.test/people';

test('what another archive holds is found, taken in, and marked as theirs', async ({ page }) => {
  await page.goto('/elsewhere?q=' + encodeURIComponent(people));
  const archive = page.locator('section.elsewhere', { hasText: 'Sound Archive' });
  await expect(archive).toContainText('2 captures');
  await expect(archive.locator('.tag')).toHaveText('theirs');
  await accessible(page);
  await archive.getByRole('checkbox').first().check();
  await page.getByRole('button', { name: 'Import what is ticked' }).click();
  const row = page.locator('.arrivals tr', { hasText: 'Sound Archive of merrowline.test-people' }).first();
  await expect(row).toContainText(/imported|known/, { timeout: 30_000 });
  await lookUp(page, people);
  const theirs = page.locator('.captures > li', { hasText: '2024-08-11 14:48:30' }).first();
  await expect(theirs.locator('.tag')).toHaveText('imported');
  await theirs.getByText('Facts and files').click();
  await expect(theirs).toContainText('Sound Archive, imported from another archive');
  await theirs.locator('a.open').click();
  await expect(framed(page).locator('h1')).toContainText('People');
  // The parts came with it, each of its own moment, so nothing is missing.
  await expect(page.locator('#findings [data-kind=gap]')).toBeHidden();
  expect(
    await framed(page)
      .locator('body')
      .evaluate(body => getComputedStyle(body).fontFamily),
  ).not.toBe('"Times New Roman"');
});

test('an address that nobody holds, an archive that does not answer, and one that is asked no longer', async ({ page }) => {
  await page.goto('/archives');
  await page.getByLabel('Name').fill('Silent Archive');
  await page.getByLabel(/TimeMap/).fill('ftp://silent.test/list/');
  await page.locator('main form.stacked').evaluate(form => {
    form.noValidate = true;
  });
  await page.getByRole('button', { name: 'Enter', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('“ftp://silent.test/list/” is not a web address');
  await page.getByLabel(/TimeMap/).fill('http://silent.test/list/');
  await page.getByRole('button', { name: 'Enter', exact: true }).click();
  await accessible(page);
  await page.goto('/find?q=http://lantern.test/never/there');
  await page.getByRole('link', { name: 'Ask other archives' }).click();
  await expect(page.locator('section.elsewhere', { hasText: 'Sound Archive' })).toContainText('It has no capture of this address.');
  await expect(page.locator('section.elsewhere', { hasText: 'Silent Archive' }).getByRole('alert')).toContainText(
    'The name silent.test has no address',
  );
  await page.goto('/archives');
  await page.getByRole('button', { name: /Stop asking it.*Silent Archive/ }).click();
  await page.goto('/elsewhere?q=http://lantern.test/never/there');
  await expect(page.locator('section.elsewhere')).toHaveCount(1);
});

test('a capture is shown in a page of somebody else, without anything that could be pressed by mistake', async ({ page }) => {
  await lookUp(page, 'http://lantern.test/2025/01/the-seal');
  await page.getByRole('link', { name: 'Read the last capture alive' }).click();
  const settings = process.env.YPOMNA_DATA + '/ypomna.env',
    before = readFileSync(settings, 'utf8');
  writeFileSync(settings, before + 'PUBLIC_READING=on\n');
  const code = await page.getByRole('button', { name: 'Copy the code to embed it in another page' }).getAttribute('data-copy');
  expect(code).toMatch(/^<iframe src="http:\/\/localhost:\d+\/c\/[0-9a-z]{12}\/embed" title="[^"<]*" [^<]*><\/iframe>$/);
  const base = new URL(page.url()).origin;
  const blog = createServer((request, response) =>
    response.writeHead(200, { 'Content-Type': 'text/html' }).end('<!doctype html><h1>Elsewhere</h1>' + code),
  );
  await new Promise(done => blog.listen(0, '127.0.0.1', done));
  await page.goto(`http://127.0.0.1:${blog.address().port}/`);
  const ours = page.frameLocator('iframe');
  await expect(ours.getByText('as it was on')).toBeVisible();
  await expect(ours.locator('button, form, input')).toHaveCount(0);
  await expect(ours.frameLocator('iframe').locator('h1')).toContainText('The seal that was three years old');
  // Without a public reading room only those who have signed in read, and no page of others can show what they see.
  writeFileSync(settings, before);
  await page.reload();
  await expect(ours.getByText('as it was on')).toHaveCount(0);
  blog.close();
  const refused = await page.request.get(base + '/');
  expect(refused.headers()['content-security-policy']).toContain("frame-ancestors 'none'");
});
