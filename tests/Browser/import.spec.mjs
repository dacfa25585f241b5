import { test, expect } from '@playwright/test';
import { randomBytes } from 'node:crypto';
import { framed } from './help.mjs';

const mark = randomBytes(6).toString('hex');
const mhtml =
  `From: <Saved>\r\nSubject: Kept in ${mark}\r\nDate: Mon, 11 Nov 2024 19:00:00 +0100\r\nMIME-Version:` +
  ` 1.0\r\nContent-Type: multipart/related; boundary="b"\r\n\r\n--b\r\nContent-Type: text/html; charset="utf-8"\r\nContent-Location:` +
  ` http://${mark}.test/old\r\n\r\n<p>An old page, ${mark}.<img src="http://${mark}.test/gone.png">\r\n--b--\r\n`;

test('files dropped onto the window are taken in, and what is none says why', async ({ page }) => {
  await page.goto('/import');
  const data = await page.evaluateHandle(
    ([mhtml, mark]) => {
      const data = new DataTransfer();
      data.items.add(new File([mhtml], `old-${mark}.mht`, { lastModified: 1.7e12 }));
      data.items.add(new File(['just notes'], 'notes.txt'));
      return data;
    },
    [mhtml, mark],
  );
  await page.dispatchEvent('body', 'drop', { dataTransfer: data });
  await expect(page.locator('.arrivals tr', { hasText: `old-${mark}.mht` })).toContainText('imported', { timeout: 30_000 });
  await expect(page.locator('.arrivals tr', { hasText: 'notes.txt' }).first()).toContainText('is not a WARC file', { timeout: 30_000 });

  await page.goto(`/find?q=${mark}.test/old`);
  await expect(page.locator('.captures')).toContainText('imported');
  await page.getByRole('link', { name: 'Read the last capture alive' }).click();
  await expect(framed(page).locator('body')).toContainText(`An old page, ${mark}.`);
  await expect(page.locator('.margin-date')).toHaveText('11 Nov 2024');
  // What the page asks for and nobody kept is listed beside it.
  await expect(page.getByText('Not captured: 1')).toBeVisible();
  await page.getByText('Not captured: 1').click();
  await expect(page.locator('#findings')).toContainText(`${mark}.test/gone.png`);
});

test('without our scripts a form does the same', async ({ browser, baseURL }) => {
  const context = await browser.newContext({ javaScriptEnabled: false, baseURL });
  const page = await context.newPage();
  await page.goto('/import');
  await page
    .getByLabel('Drop files anywhere')
    .setInputFiles({ name: `again-${mark}.mht`, mimeType: 'multipart/related', buffer: Buffer.from(mhtml + mark) });
  await page.getByRole('button', { name: 'Import' }).click();
  await expect(page.locator('.arrivals tr', { hasText: `again-${mark}.mht` })).toBeVisible();
  await context.close();
});
