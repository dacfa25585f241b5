import { expect, test } from '@playwright/test';
import { OwnBrowser, pairingCode, standin } from './companion.mjs';
import { readFileSync } from 'node:fs';

const forum = 'http://forum.tidewatch.test/t/118';
const pages = [
  'http://www.saltmarch-ferries.test/timetable',
  'http://www.saltmarch-ferries.test/fares',
  'http://corvane-marine.test/products/bow-seal-210',
  forum,
  'http://www.saltmarch-ferries.test/safety/stern-door',
];

/** As somebody meets it for the first time: five tabs, one behind a sign-in, one gone; pressed, kept, and the browser is closed. */
test('five tabs are kept, and the browser is closed at once', async ({ request, baseURL }) => {
  test.setTimeout(420_000);
  const rules = [`MAP *.test ${standin(process.env.YPOMNA_DATA)}`];
  const browser = await new OwnBrowser().start(rules);
  try {
    await browser.pair(baseURL, await pairingCode(request));
    await browser.context.addCookies([{ name: 'member', value: 'kittiwake', url: forum }]);
    const tabs = [];
    for (const url of pages) {
      const page = await browser.context.newPage();
      await page.goto(url);
      tabs.push(page);
    }
    // What is gone is offered on the spot, on a press.
    await browser.press(tabs[4]);
    const line = await browser.line(tabs[4]);
    await expect(line.locator('#sentence')).toHaveText(/^Gone; last held \d+ \w+ 20\d\d\.$/);
    const read = await line.locator('#read').getAttribute('href');
    expect((await request.get(read)).ok()).toBe(true);
    await browser.shut(tabs[4], line);
    const list = await browser.context.newPage();
    await list.goto(browser.own('tabs/tabs.html'));
    await expect(list.locator('#tabs li')).toHaveCount(5);
    await expect(list.locator('#tabs li').filter({ hasText: 'timetable' }).locator('.soft')).toContainText('Held');
    await list.locator('#tabs li').filter({ hasText: 'stern-door' }).getByRole('checkbox').uncheck();
    await list.getByRole('button', { name: 'Keep those that are ticked' }).click();
    await expect(list.locator('#told')).toContainText('4 tabs are in this browser');
    const token = await browser.worker.evaluate(async () => (await chrome.storage.local.get('token')).token);
    await browser.stop();
    // The next start hands over what was not handed over.
    await browser.start(rules);
    const ask = async path => (await request.get(path, { headers: { Authorization: `Bearer ${token}` } })).json();
    const copies = async () => {
      const found = [];
      for (const url of pages.slice(0, 4)) {
        const { code } = await ask('/api/addresses?url=' + encodeURIComponent(url));
        const { items } = code ? await ask(`/api/addresses/${code}/captures?limit=5`) : { items: [] };
        found.push(items.some(one => one.origin === 'witness') && items.some(one => one.origin === 'own'));
      }
      return found;
    };
    await expect.poll(copies, { timeout: 240_000, intervals: [2_000] }).toEqual([true, true, true, true]);
    // Each is one item: the capture that the server made, and the copy from the browser beside it.
    const { items } = await ask('/api/items?sorted=false&kind=capture&limit=50');
    const ofForum = items.find(one => one.title.startsWith('Water on the car deck'));
    await expect.poll(async () => (await ask(`/api/items/${ofForum.code}/links`)).out.length, { timeout: 60_000 }).toBe(1);
    await expect.poll(() => browser.worker.evaluate(() => chrome.action.getBadgeText({})), { timeout: 60_000 }).toBe('');
    // Ended on one's own page, it is over in the browser, too.
    const me = await (await request.get('/me')).text();
    const [, id] = /name="token" value="([^"]+)"/.exec(me);
    const [, csrf] = /action="\/me\/token">\s*<input type="hidden" name="_token" value="([^"]+)"/.exec(me);
    await request.post('/me/token', { form: { _token: csrf, token: id } });
    const page = await browser.context.newPage();
    await page.goto(pages[0]);
    await browser.press(page);
    await expect((await browser.line(page)).locator('#sentence')).toHaveText('This browser is not paired any more. Pair it again.');
  } finally {
    await browser.away();
  }
});

test('the companion is packed with nothing but what it needs', () => {
  const manifest = JSON.parse(readFileSync(new URL('../../companion/manifest.json', import.meta.url)));
  expect(manifest.host_permissions ?? []).toEqual([]);
  expect(manifest.content_scripts ?? []).toEqual([]);
  expect(manifest.permissions).not.toContain('tabs');
  expect(manifest.web_accessible_resources).toHaveLength(1);
  expect(manifest.web_accessible_resources[0].use_dynamic_url).toBe(true);
  // All texts are said through one file.
  const messages = JSON.parse(readFileSync(new URL('../../companion/_locales/en/messages.json', import.meta.url)));
  const code = ['background.js', 'line/line.js', 'tabs/tabs.js', 'home/home.js', 'lib/copy.js', 'lib/browser.js']
    .map(file => readFileSync(new URL('../../companion/' + file, import.meta.url), 'utf8'))
    .join('\n');
  const asked = [...code.matchAll(/text\('([a-z_]+)'/g)].map(one => one[1]);
  expect(asked.filter(key => !(key in messages))).toEqual([]);
});
