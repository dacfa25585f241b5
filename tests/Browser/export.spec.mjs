import { test, expect } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { lookUp, notice } from './help.mjs';

const choose = async page => {
  await lookUp(page, notice);
  await page.locator('.captures input[type=checkbox]').first().check();
  await page.locator('.captures input[type=checkbox]').last().check();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
};

test('what is given out can be checked with general tools, in one file', async ({ page }) => {
  await choose(page);
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  const link = page.getByRole('link', { name: 'Download all in one file' });
  await expect(link).toBeVisible({ timeout: 30_000 });
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
  const folder = mkdtempSync(tmpdir() + '/ypomna-parcel-');
  await download.saveAs(`${folder}/parcel.tar`);
  execFileSync('tar', ['-xf', 'parcel.tar', '--strip-components=1'], { cwd: folder });
  expect(execFileSync('sha256sum', ['--strict', '-c', 'manifest-sha256.txt'], { cwd: folder, encoding: 'utf8' })).toContain(
    'captures-00001.warc.gz: OK',
  );
  execFileSync('gzip', ['-t', 'captures-00001.warc.gz'], { cwd: folder });
});

test('several pages in one MHTML file: each with its own parts, from a disk, without a network', async ({ page, browser }) => {
  await choose(page);
  await page.getByLabel('MHTML: the pages in one file').check();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  const link = page.getByRole('link', { name: 'pages.mhtml' });
  await expect(link).toBeVisible({ timeout: 30_000 });
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
  const folder = mkdtempSync(tmpdir() + '/ypomna-parcel-');
  await download.saveAs(`${folder}/pages.mhtml`);
  // A general reader finds every part, and the list in front.
  const read =
    'import email,sys; m=email.message_from_binary_file(open(sys.argv[1],"rb"),policy=email.policy.default); p=[x for x in m.walk()' +
    ' if not x.is_multipart()]; print(m["Subject"], len(p), [x["Content-ID"] for x in p].count(None), m.defects + [d for x in p for' +
    ' d in x.defects])';
  expect(execFileSync('python3', ['-c', `import email.policy; ${read}`, `${folder}/pages.mhtml`], { encoding: 'utf8' })).toMatch(
    /^2 captured pages [4-9] 1 \[\]/,
  );
  const context = await browser.newContext({ offline: true });
  const opened = await context.newPage();
  await opened.goto(`file://${folder}/pages.mhtml`);
  await expect(opened.locator('summary')).toHaveCount(2);
  for (const [n, words] of [
    [0, 'Not found'],
    [1, 'Notice: stern door of Petrel Dawn'],
  ]) {
    await opened.locator('summary').nth(n).click();
    const inside = opened.frameLocator('iframe').nth(n);
    await expect(inside.locator('h1')).toContainText(words);
    expect(
      await inside
        .locator('img')
        .first()
        .evaluate(image => image.naturalWidth),
    ).toBeGreaterThan(0);
  }
  await context.close();
});
