import { readFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { test, expect } from '@playwright/test';
import { accessible } from './accessible.mjs';
import { lookUp, notice, root, setClock } from './help.mjs';

test('a draft is handed in, its references are judged, and it comes back repaired', async ({ page }) => {
  setClock('2026-03-05T10:00Z');
  await page.goto('/');
  await page.getByRole('link', { name: 'References' }).click();
  await accessible(page);
  await page.getByLabel('Document').setInputFiles(root + 'demo/draft/ten-weeks-on-the-sound.docx');
  await page.getByRole('button', { name: 'Find and check its references' }).click();
  await expect(page.getByRole('heading', { name: 'ten-weeks-on-the-sound.docx' })).toBeVisible();
  await expect(page.getByRole('status').first()).toHaveText(/^\s*32 references\s*$/, { timeout: 90_000 });
  const of = number => page.locator('#r' + number);
  await expect(of(1)).toContainText('alive');
  await expect(of(7)).toContainText('its name no longer exists');
  await expect(of(15)).toContainText('gone (410)');
  await expect(of(17)).toContainText('says itself that there is no such page');
  await expect(of(21)).toContainText('for sale');
  await expect(of(29)).toContainText('redirects to the front page');
  await expect(of(2)).toContainText('in it, but no longer in the latest capture');
  await expect(of(3)).toContainText('Capture of 11 Nov 2024');
  await expect(of(4)).toContainText('Capture of 16 Nov 2024');
  await accessible(page);
  await page.getByRole('navigation', { name: 'Which references' }).getByRole('link', { name: 'not found' }).click();
  await expect(page.locator('#r1')).toHaveCount(0);
  await expect(of(17)).toBeVisible();

  await page.getByRole('link', { name: 'Repair the document' }).click();
  await accessible(page);
  await page.getByRole('button', { name: 'Repair' }).click();
  await expect(page.getByText(/\d+ references are replaced/)).toBeVisible();
  await accessible(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download the repaired document (DOCX)' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('ten-weeks-on-the-sound repaired.docx');
  const text = execFileSync('pandoc', ['--sandbox', '-f', 'docx', '-t', 'markdown', '--wrap=none', await download.path()], {
    encoding: 'utf8',
  });
  expect(text).toMatch(
    new RegExp(
      '\\[http://www\\.saltmarch-ferries\\.test/safety/stern-door\\]\\(http://localhost:\\d+/c/[2-9a-z]{12}\\)' +
        ' \\(archived 11 November 2024; original: http://www\\.saltmarch-ferries\\.test/safety/stern-door\\)',
    ),
  );
  expect(text).toContain('Four days after that the notice said fourteen.');
  const [list] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'List of changes' }).click()]);
  expect(readFileSync(await list.path(), 'utf8')).toContain('"http://merrowline.test/fares"');

  await page.getByRole('link', { name: 'References' }).first().click();
  await page.getByRole('link', { name: 'ten-weeks-on-the-sound.docx' }).first().click();
  await page.getByText('More', { exact: true }).click();
  await page.getByRole('link', { name: 'Citations' }).click();
  await expect(page.getByText(/Archived 11 November 2024/).first()).toBeVisible();
  await page.getByLabel('Style').selectOption('ieee');
  await page.getByRole('button', { name: 'Show' }).click();
  await expect(page.locator('.citations')).toContainText('(accessed Nov. 12, 2024)');
  await accessible(page);
});

test('how a page stands today is asked with one press, and stays with its looks', async ({ page }) => {
  setClock('2026-03-05T10:00Z');
  await lookUp(page, 'lantern.test/2024/06/summer-crowds');
  await page.getByRole('button', { name: /Check whether it is alive|Check again/ }).click();
  await expect(page.locator('#live')).toContainText('redirects to the front page', { timeout: 30_000 });
  await expect(page.locator('#live')).toContainText(
    /It counts as vanished when three checks|Three checks, far enough apart, did not find it/,
  );
  await accessible(page);
});

test('what is watched is told when it changes, with the comparison one press away', async ({ page }) => {
  setClock('2026-03-06T10:00Z');
  await lookUp(page, 'www.saltmarch-ferries.test/timetable');
  await page.getByText('More', { exact: true }).click();
  await page.getByRole('link', { name: 'Watch', exact: true }).click();
  await accessible(page);
  await page.getByRole('button', { name: 'Watch', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'When it is checked, and why' })).toBeVisible();
  await expect(async () => {
    await page.reload();
    await expect(page.getByText('Last check:')).toBeVisible();
  }).toPass({ timeout: 40_000 });
  await accessible(page);
  setClock('2026-04-20T10:00Z');
  await page.getByRole('button', { name: 'Check now' }).click();
  await expect(async () => {
    await page.goto('/events');
    await expect(page.getByText('Timetable, Summer 2026').first()).toBeVisible({ timeout: 1_000 });
  }).toPass({ timeout: 90_000 });
  await expect(page.getByRole('link', { name: /^Events/ })).toContainText(/\d/);
  await accessible(page);
  await page.getByRole('link', { name: 'Compare' }).first().click();
  await expect(page).toHaveURL(/\/compare\//);
  await page.goto('/events');
  await page.getByRole('button', { name: 'Mark these as seen' }).click();
  await expect(page.getByText('· new ·')).toHaveCount(0);
  await page.getByRole('link', { name: 'Its watch' }).first().click();
  await page.getByRole('button', { name: 'End this watch' }).click();
  await expect(page.getByRole('status').first()).toContainText('Ended');
  await page.goto('/watches');
  await page.getByLabel('Daily mail to').fill('ilse.varga@watchdog.example');
  await page.getByLabel('Sent at').fill('08:00');
  await page.getByRole('button', { name: 'Save' }).click();
  const box = new URL(page.url());
  await expect(async () => {
    await page.goto(`http://127.77.0.1:${+box.port + 2}/`);
    await expect(page.getByRole('link', { name: /that you watch/ }).first()).toBeVisible({ timeout: 1_000 });
  }).toPass({ timeout: 40_000 });
  await page
    .getByRole('link', { name: /that you watch/ })
    .first()
    .click();
  await expect(page.getByText('CHANGED')).toBeVisible();
  await page.goto(box.origin + '/holdings/alive');
  await expect(page.getByRole('heading', { name: 'How much of what we hold is still alive?' })).toBeVisible();
  await accessible(page);
  await page.goto('/live?q=' + encodeURIComponent(notice));
  await accessible(page);
});
