import { test, expect } from '@playwright/test';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { execFileSync } from 'node:child_process';
import { framed, lookUp, notice } from './help.mjs';

const article = 'http://lantern.test/2024/11/petrel-dawn-held';

test('a page of many hosts is read as it stood: pictures, fonts, and what scripts load', async ({ page }) => {
  await lookUp(page, article);
  await page.getByRole('link', { name: 'Read the last capture alive' }).click();
  const frame = framed(page);
  await expect(frame.locator('.comments')).toContainText('That door leaked in the spring, too.');
  await frame.locator('figure img').scrollIntoViewIfNeeded();
  await expect.poll(() => frame.locator('figure img').evaluate(image => image.naturalWidth)).toBe(600);
  await expect(frame.locator('.readers')).toContainText('reading now');
  expect(await frame.locator('body').evaluate(body => getComputedStyle(body.querySelector('.top')).backgroundColor)).toBe(
    'rgb(32, 48, 58)',
  );
});

test('keys lead through the captures of a page', async ({ page }) => {
  await lookUp(page, notice);
  await page.getByRole('link', { name: 'Read the last capture alive' }).click();
  const date = page.locator('.margin-date');
  const alive = await date.textContent();
  await page.keyboard.press('ArrowLeft');
  await expect(date).not.toHaveText(alive);
  await page.keyboard.press('Home');
  await expect(date).toHaveText('11 Nov 2024');
  await expect(page.getByText('This is the first capture.')).toBeVisible();
  await page.keyboard.press('ArrowRight');
  await expect(date).not.toHaveText('11 Nov 2024');
  await page.keyboard.press('End');
  await expect(page.getByText('This is the last capture.')).toBeVisible();
});

test('a link leads to the nearest capture of its target, and the margin says of which moment it is', async ({ page }) => {
  await lookUp(page, article);
  await page.locator('.captures li', { hasText: '18 Nov 2024' }).locator('a.open').click();
  await framed(page).getByRole('link', { name: 'notice' }).click();
  await expect(framed(page).getByRole('heading', { name: 'Notice: stern door of Petrel Dawn' })).toBeVisible();
  await expect(page.locator('.margin-date')).toHaveText('16 Nov 2024');
  await expect(page.locator('.margin-address')).toContainText('saltmarch-ferries.test/safety/stern-door');
  await expect(page).toHaveURL(new RegExp('/c/' + (await page.locator('#bar').getAttribute('data-code'))));
});

test('what was not kept says so in its place', async ({ page }) => {
  await lookUp(page, article);
  await page.getByRole('link', { name: 'Read the last capture alive' }).click();
  await framed(page).locator('.related a').first().click();
  await expect(framed(page).getByRole('heading', { name: 'This page was not captured' })).toBeVisible();
  await expect(framed(page).locator('body')).toContainText('http://lantern.test/archive/');
});

test('still reading runs no script of the page, and shows what scripts had made', async ({ page }) => {
  await lookUp(page, article);
  const href = await page.getByRole('link', { name: 'Read the last capture alive' }).getAttribute('href');
  await page.goto(href + '?mode=still');
  await expect(framed(page).locator('.comments')).toContainText('That door leaked in the spring, too.');
  expect(await page.frames()[1].evaluate(() => 'lantern' in window)).toBe(false);
});

test('the file that is given out is the file that was kept, and any tool can check it', async ({ page }) => {
  await lookUp(page, notice);
  const line = page.locator('.captures > li').last();
  await line.locator('summary').click();
  const digest = await line.locator('.digest').textContent();
  const [download] = await Promise.all([page.waitForEvent('download'), line.getByRole('link', { name: 'WARC', exact: true }).click()]);
  const path = await download.path();
  expect(createHash('sha256').update(readFileSync(path)).digest('hex')).toBe(digest);
  execFileSync('gzip', ['-t'], { stdio: ['pipe', 'ignore', 'inherit'], input: readFileSync(path) });
});

test('the MHTML file opens from a disk without a network, and says the same', async ({ page, browser }) => {
  await lookUp(page, article);
  await page.locator('.captures li', { hasText: '11 Nov 2024' }).locator('summary').click();
  const link = page.locator('.captures li', { hasText: '11 Nov 2024' }).getByRole('link', { name: 'MHTML', exact: true });
  const folder = mkdtempSync(tmpdir() + '/ypomna-mhtml-');
  const files = [];
  for (const name of ['one', 'two']) {
    const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
    await download.saveAs(`${folder}/${name}.mhtml`);
    files.push(readFileSync(`${folder}/${name}.mhtml`));
  }
  expect(files[0].equals(files[1])).toBe(true);
  const context = await browser.newContext({ offline: true });
  const opened = await context.newPage();
  await opened.goto(`file://${folder}/one.mhtml`);
  await expect(opened.locator('h1')).toContainText('Ferry held in port after forty centimetres of water on deck');
  await expect(opened.locator('.comments')).toContainText('Was the log published?');
  expect(await opened.locator('figure img').evaluate(image => image.naturalWidth)).toBe(600);
  expect(await opened.locator('.top').evaluate(e => getComputedStyle(e).backgroundColor)).toBe('rgb(32, 48, 58)');
  await context.close();
});

test('a passage has an address of its own, which leads to it and marks it', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await lookUp(page, notice);
  await page.getByRole('link', { name: 'Read the last capture alive' }).click();
  const part = framed(page).locator('li', { hasText: 'The doors of Sound Heron' });
  await part.waitFor();
  await part.selectText();
  await page.getByRole('button', { name: 'Copy the address of the marked passage' }).click();
  const address = await page.evaluate(() => navigator.clipboard.readText());
  expect(new URL(address).searchParams.get('passage')).toBe('The doors of Sound Heron have been checked.');
  await page.goto(address);
  const frame = await (await page.locator('#page').elementHandle()).contentFrame();
  await expect
    .poll(() => frame.evaluate(() => [...(CSS.highlights.get('ypomna-passage') ?? [])].join().replace(/\s+/g, ' ')))
    .toBe('The doors of Sound Heron have been checked.');
  await page.goto(address.replace(/passage=.*/, 'passage=Nobody+said+this'));
  await expect(page.locator('#passage-missing')).toBeVisible();
});

test('only this capture leaves out what comes from other moments', async ({ page }) => {
  await lookUp(page, article);
  await page.locator('.captures a.open').first().click();
  await framed(page).locator('h1').first().waitFor();
  await page.getByRole('link', { name: 'only this capture' }).click();
  await expect(page.getByText('Only what this capture has')).toBeVisible();
  await framed(page).locator('h1').first().waitFor();
  expect(new URL(page.frames()[1].url()).hostname).toMatch(/^[a-z2-7]{26}oh-[a-z-]+\.localhost$/);
  await expect(page.locator('#findings [data-kind=elsewhen]')).toBeHidden();
});

test('a page is printed as PDF from its still reading', async ({ page }) => {
  await lookUp(page, notice);
  await page.getByRole('link', { name: 'Read the last capture alive' }).click();
  const [parcel] = await Promise.all([page.waitForEvent('popup'), page.getByRole('button', { name: 'Print as PDF' }).click()]);
  await expect(parcel.getByRole('heading', { name: 'An export' })).toBeVisible();
  const [download] = await Promise.all([
    parcel.waitForEvent('download', { timeout: 60_000 }),
    parcel.getByRole('link', { name: /\.pdf$/ }).click({ timeout: 60_000 }),
  ]);
  const bytes = readFileSync(await download.path());
  expect(bytes.subarray(0, 5).toString()).toBe('%PDF-');
  expect(bytes.length).toBeGreaterThan(5_000);
  // The title of the page stands in the document's own information.
  expect(bytes.toString('latin1')).toMatch(/\/Title/);
});
