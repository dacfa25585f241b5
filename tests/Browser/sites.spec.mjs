import { test, expect } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { framed, lookUp, root, setClock } from './help.mjs';
import { browserOf, difference, frameSize, shown } from './live.mjs';

// The demo's sites alive in the stand-in web, at the clock of a capture, beside that capture as it is read: the same text and
// the same picture, but for what is explained.
const sites = [
  ['http://www.saltmarch-ferries.test/safety/stern-door', {}],
  ['http://merrowline.test/timetable', {}],
  ['http://www.saltmarch-ferries.test/fleet/petrel-dawn', {}],
  ['http://lantern.test/2024/11/petrel-dawn-held', { readers: 'a live counter is set by the second' }],
  ['https://corvane-marine.test/products/stern-seal-400', {}],
];

let browser, empty, clock;
test.beforeAll(async () => {
  const port = new URL(process.env.YPOMNA_BASE).port;
  clock = execFileSync(
    'php',
    [
      '-r',
      'require "vendor/autoload.php"; echo (new Ypomna\\Standin\\Web\\Clock($argv[1]."/standin/clock.json"))->now()->format("c");',
      process.env.YPOMNA_DATA,
    ],
    { cwd: root, encoding: 'utf8' },
  );
  browser = await browserOf(`MAP * 127.77.0.1:${Number(port) + 2}`);
  empty = await browser.newPage();
});
test.afterAll(async () => {
  await browser.close();
  setClock(clock);
});

for (const [address, explained] of sites) {
  for (const mode of ['still', 'alive']) {
    test(`${address} read ${mode} as it was`, async ({ page }) => {
      await lookUp(page, address);
      const alive = page.locator('.captures > li', { has: page.locator('.state.kept') }).first();
      const moment = (await alive.locator('.when > .utc').first().textContent()).replace(' UTC', 'Z').replace(' ', 'T').trim();
      await page.goto((await alive.locator('a.open').getAttribute('href')) + '?mode=' + mode);
      await expect(framed(page).locator('body')).not.toBeEmpty();
      setClock(moment);
      const live = await (
        await browser.newContext({ viewport: await frameSize(page), timezoneId: 'Europe/Athens', locale: 'en-GB' })
      ).newPage();
      await live.clock.setFixedTime(new Date(moment));
      await live.goto(address, { waitUntil: 'networkidle' });
      const read = await (await page.locator('#page').elementHandle()).contentFrame();
      for (const one of [live, read]) {
        // As a reader goes through it, so that what loads on sight is loaded.
        await one.evaluate(async () => {
          for (let y = 0; y < document.documentElement.scrollHeight; y += 300) {
            scrollTo(0, y);
            await new Promise(done => setTimeout(done, 40));
          }
          scrollTo(0, 0);
        });
        await one.waitForLoadState('networkidle');
        if (explained.readers)
          await one.evaluate(() =>
            document.querySelectorAll('[id*=readers], .readers, .counter').forEach(counter => {
              counter.textContent = '…';
            }),
          );
      }
      await expect.poll(() => shown(page.mainFrame().childFrames()[0]), { message: 'the text' }).toBe(await shown(live.mainFrame()));
      const pictures = async () =>
        difference(
          empty,
          await live.screenshot({ animations: 'disabled' }),
          await page.locator('#page').screenshot({ animations: 'disabled' }),
        );
      await expect.poll(pictures, { message: 'share of pixels that differ' }).toBeLessThan(0.00002);
      await live.context().close();
    });
  }
}
