#!/usr/bin/env node
/*
 * From a press of the companion's button to the line at the foot of the page: until it is seen, and until it says what is so of the page.
 * On a plain page, a very long one and one of 20,000 elements. The yardstick, in the same run: what it takes the browser to show a frame
 * of the page's own in that page. Usage: bench/companion.mjs [RUNS]
 */
import { OwnBrowser } from '../tests/Browser/companion.mjs';
import { serveApi, servePages } from '../tests/Browser/companion-pages.mjs';

const runs = Number(process.argv[2] ?? 20);
const middle = all => all.toSorted((a, b) => a - b)[Math.floor(all.length / 2)];
const web = await servePages();
const api = await serveApi();
const browser = await new OwnBrowser().start([`MAP *.test 127.0.0.1:${web.port}`]);
await browser.pair(api.base, 'abcde-fghjk');
console.log('median, ms'.padEnd(24) + 'line'.padStart(10) + 'says'.padStart(10) + 'yardstick'.padStart(12) + 'ratio'.padStart(8));
for (const path of ['plain', 'very-long', 'large-tree']) {
  const [seen, says, frames] = [[], [], []];
  const page = await browser.context.newPage();
  await page.goto(`http://lantern.test/${path}`);
  for (let run = 0; run <= runs; ++run) {
    const frame = await page.evaluate(async () => {
      const begun = performance.now();
      const one = document.createElement('iframe');
      one.src = '/short';
      await new Promise(done => {
        one.onload = done;
        document.body.append(one);
      });
      await new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)));
      const took = performance.now() - begun;
      one.remove();
      // What its going costs the page is none of the line's time.
      await new Promise(done => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 50))));
      return took;
    });
    // Inside the browser: from the press to the moment when the line's frame speaks, as its worker sees both.
    const [line, said] = await browser.worker.evaluate(async address => {
      const begun = performance.now();
      const heard = {};
      const listen = port =>
        port.onMessage.addListener(message => {
          heard.line ??= message?.hello ? performance.now() - begun : undefined;
        });
      chrome.runtime.onConnect.addListener(listen);
      const ask = self.fetch;
      self.fetch = async (...all) => {
        const answer = await ask(...all);
        heard.said ??= performance.now() - begun;
        return answer;
      };
      const [tab] = (await chrome.tabs.query({})).filter(one => one.url === address);
      chrome.action.onClicked.dispatch(tab);
      while (!heard.line || !heard.said) await new Promise(done => setTimeout(done, 2));
      chrome.runtime.onConnect.removeListener(listen);
      self.fetch = ask;
      return [heard.line, heard.said];
    }, page.url());
    const open = await browser.line(page);
    await open.locator('#sentence').getByText('Never kept.').waitFor();
    await open
      .locator('#keep')
      .press('Escape', { timeout: 1_000 })
      .catch(() => {});
    await page.waitForFunction(() => document.documentElement.lastElementChild.localName === 'body');
    // The first one warms both up.
    if (run > 0) {
      seen.push(line);
      says.push(said);
      frames.push(frame);
    }
  }
  await page.close();
  const [a, b, c] = [seen, says, frames].map(middle);
  console.log(
    path.padEnd(24) + a.toFixed(0).padStart(10) + b.toFixed(0).padStart(10) + c.toFixed(0).padStart(12) + (a / c).toFixed(1).padStart(8),
  );
}
await browser.away();
await Promise.all([web.stop(), api.stop()]);
process.exit(0);
