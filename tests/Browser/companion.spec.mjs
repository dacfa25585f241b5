import { expect, test } from '@playwright/test';
import { OwnBrowser } from './companion.mjs';
import { alone, pages, serveApi, servePages } from './companion-pages.mjs';

let web, api, browser;

test.beforeAll(async () => {
  web = await servePages();
  api = await serveApi();
  browser = await new OwnBrowser().start([`MAP *.test 127.0.0.1:${web.port}`]);
  await browser.pair(api.base, 'abcde-fghjk');
});
test.afterAll(async () => {
  await browser?.away();
  await Promise.all([web?.stop(), api?.stop()]);
});
test.beforeEach(async () => {
  await browser.clear();
  Object.assign(api, { answer: null, down: false, held: 0 });
  api.kept.length = api.items.length = api.asked.length = 0;
  api.uploads.clear();
});

/** All of a page that a script in it, or a reader, could see. */
const stateOf = page =>
  page.evaluate(() => ({
    html: document.documentElement.outerHTML,
    children: document.childNodes.length,
    sheets: document.styleSheets.length + document.adoptedStyleSheets.length,
    at: [scrollX, scrollY, ...[...document.querySelectorAll('main')].map(one => one.scrollTop)],
    focus: document.activeElement?.outerHTML?.slice(0, 100),
    frames: window.length,
  }));

const open = async (path, host = 'lantern') => {
  const page = await browser.context.newPage();
  await page.goto(`http://${host}.test/${path}`);
  return page;
};

const sentence = line => line.locator('#sentence');

/** A key that takes the line away: nobody is there any more to say that it came up again. */
const strike = (line, key) =>
  line
    .locator('#keep')
    .press(key, { timeout: 2_000 })
    .catch(() => {});

/** What the line in a page says; '' while there is none. */
const said = async page => {
  const line = page.frames().find(one => one.url().startsWith('chrome-extension:'));
  return line
    ? sentence(line)
        .textContent({ timeout: 500 })
        .catch(() => '')
    : '';
};

for (const path of Object.keys(pages)) {
  test(`the line opens on a page that is ${path}, and leaves it as it was`, async () => {
    const page = await open(path);
    await page.evaluate(() => {
      scrollTo({ top: 120, behavior: 'instant' });
      document.querySelector('main')?.scrollTo({ top: 90, behavior: 'instant' });
    });
    const before = [await stateOf(page), await page.screenshot({ caret: 'initial' })];
    await browser.press(page);
    const line = await browser.line(page);
    await expect(sentence(line)).toHaveText(path === 'gone' || path === 'withdrawn' ? 'Gone, and never kept.' : 'Never kept.');
    // It can be used by keyboard, and says what it is about.
    await line.locator('#keep').press('o');
    await expect(line.locator('[data-act=of]')).toContainText('a part');
    const box = await (await line.frameElement()).boundingBox();
    expect(Math.round(box.y + box.height)).toBe(path === 'transformed' ? Math.round(box.y + box.height) : 800);
    expect(api.kept).toEqual([]);
    await strike(line, 'Escape');
    await expect.poll(() => page.frames().filter(one => one.url().startsWith('chrome-extension:')).length).toBe(0);
    await page.waitForTimeout(60);
    const after = [await stateOf(page), await page.screenshot({ caret: 'initial' })];
    expect(after[0]).toEqual(before[0]);
    expect(after[1].equals(before[1])).toBe(true);
    await page.close();
  });
}

for (const path of Object.keys(alone)) {
  test(`where no line is possible it has a tab: ${path}`, async () => {
    const page = await open(path);
    const [tab] = await Promise.all([browser.context.waitForEvent('page'), browser.press(page)]);
    await expect(tab.locator('#sentence')).toHaveText('Never kept.');
    await tab
      .locator('#keep')
      .press('Enter', { timeout: 2_000 })
      .catch(() => {});
    await expect.poll(() => api.kept.map(one => one.url)).toEqual([`http://lantern.test/${path}`]);
    await tab.close();
    await page.close();
  });
}

test('a page that does not answer has its line in a tab', async () => {
  const page = await browser.context.newPage();
  api.held = 2;
  await page.goto('http://nowhere.invalid/').catch(() => {});
  const [tab] = await Promise.all([browser.context.waitForEvent('page'), browser.press(page, 'http://nowhere.invalid/')]);
  await expect(tab.locator('#sentence')).toContainText('Held 2 times, last on 4 Apr 2025');
  await tab.close();
  await page.close();
});

test('what is so is said in a sentence', async () => {
  api.held = 4;
  const page = await open('plain');
  await browser.press(page);
  let line = await browser.line(page);
  await expect(sentence(line)).toHaveText('Held 4 times, last on 4 Apr 2025. Changed since.');
  await expect(line.locator('#read')).toHaveAttribute('href', /\/c\/[a-z0-9]{12}$/);
  await page.goto('http://lantern.test/gone');
  await browser.press(page);
  line = await browser.line(page);
  await expect(sentence(line)).toHaveText('Gone; last held 4 Apr 2025.');
  await page.close();
});

test('a page behind a sign-in: the server gets its address, and the copy is what was seen', async () => {
  const page = await browser.context.newPage();
  await browser.context.addCookies([{ name: 'seat', value: '4', url: 'http://forum.test/' }]);
  await page.goto('http://forum.test/members');
  await browser.press(page);
  let line = await browser.line(page);
  await line.locator('#keep').press('w');
  await line.locator('#said').fill('Before it is taken away');
  await line.locator('#said').press('Enter');
  await line.locator('#keep').press('t');
  await line.locator('#said').fill('forum, doors');
  await line.locator('#said').press('Enter');
  await line.locator('#keep').press('d');
  await line.locator('#said').fill('nowhere');
  await line.locator('#said').press('Enter');
  await expect(line.locator('#asked')).toContainText('There is no such dossier');
  await line.locator('#said').fill('stern door');
  await line.locator('#said').press('Enter');
  await line
    .locator('#keep')
    .press('Enter', { timeout: 2_000 })
    .catch(() => {});
  await expect.poll(() => said(page), { timeout: 20_000 }).toMatch(/^Kept, complete\. http/);
  expect(api.kept).toEqual(
    [
      {
        url: 'http://forum.test/members',
        extent: 'whole',
        why: 'Before it is taken away',
        tags: ['forum', 'doors'],
        dossier: 'abcdefghjkmk',
      },
    ].map(one => ({ ...one, dossier: api.kept[0].dossier })),
  );
  const [picture, file] = [...api.uploads.values()];
  expect(picture.fields).toEqual({ beside: true });
  expect(picture.have.subarray(1, 4).toString()).toBe('PNG');
  expect(file.fields).toMatchObject({ seenBy: 'browser', url: 'http://forum.test/members', why: 'Before it is taken away', missing: [] });
  expect(file.fields.seen).toMatchObject({ status: 200, type: 'text/html' });
  const mhtml = file.have.toString();
  expect(mhtml).toContain('Said in confidence.');
  expect(mhtml).not.toMatch(/chrome-extension|<aside/);
  // The next one begins with the same answers; why is said anew.
  line = await browser.line(page);
  await browser.shut(page, line);
  await browser.press(page);
  line = await browser.line(page);
  await expect(line.locator('[data-act=tags]')).toContainText('forum, doors');
  await expect(line.locator('[data-act=dossier]')).toContainText('Stern door');
  await expect(line.locator('[data-act=why]')).toContainText('why');
  await page.close();
});

test('in a narrow window nothing of the line is hidden, and nothing lies over another', async () => {
  await browser.worker.evaluate(() =>
    chrome.storage.local.set({ answers: { as: 'reference', how: 'server', tags: ['a tag with a long name', 'doors'], dossier: null } }),
  );
  for (const width of [1280, 1000, 600, 390, 320]) {
    const page = await browser.context.newPage();
    await page.setViewportSize({ width, height: 600 });
    await page.goto('http://lantern.test/plain');
    await browser.press(page);
    const line = await browser.line(page);
    await expect(sentence(line)).toHaveText('Never kept.');
    for (const key of [null, 't']) {
      if (key) {
        await line.locator('#keep').press(key);
      }
      const over = await line.evaluate(() => {
        const seen = [...document.querySelectorAll('#sentence, button, input, a')].filter(one => one.checkVisibility());
        const boxes = seen.map(one => [one.id || one.dataset.act, one.getBoundingClientRect()]);
        const out = boxes.filter(([, a]) => a.left < 0 || a.top < 0 || a.right > innerWidth || a.bottom > innerHeight);
        const both = boxes.filter(([, a], n) =>
          boxes.some(([, b], m) => m !== n && a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom),
        );
        return [...out, ...both].map(([name]) => name).concat(seen.length >= 8 ? [] : ['hidden']);
      });
      expect(over, `${width}, ${key}`).toEqual([]);
    }
    await page.close();
  }
  await browser.worker.evaluate(() => chrome.storage.local.remove('answers'));
});

test('the fields of the answer go along where the browser holds them, and nobody is asked for them', async () => {
  for (const [path, expected] of [
    ['fields', expect.arrayContaining([{ name: 'x-desk', value: '4' }, expect.objectContaining({ name: 'last-modified' })])],
    ['not-stored', undefined],
    ['own-worker', undefined],
  ]) {
    api.uploads.clear();
    const page = await open(path);
    if (path === 'own-worker') {
      // Only a safe origin may have one.
      await page.goto(`http://localhost:${web.port}/own-worker`);
      await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
    }
    const before = web.asked.length;
    await browser.press(page);
    const line = await browser.line(page);
    await line
      .locator('#keep')
      .press('Enter', { timeout: 2_000 })
      .catch(() => {});
    await expect.poll(() => said(page), { timeout: 20_000 }).toMatch(/^Kept, complete\./);
    const file = [...api.uploads.values()].find(one => one.fields.seenBy);
    expect(file.fields.seen.fields).toEqual(expected);
    expect(JSON.stringify(file.fields)).not.toContain('set-cookie');
    expect(web.asked.slice(before).filter(one => one.includes(path))).toEqual([]);
    await page.close();
  }
});

test('what is selected goes along as an excerpt with its source', async () => {
  const page = await open('plain');
  await page.evaluate(() => getSelection().selectAllChildren(document.querySelectorAll('p')[3]));
  await browser.press(page);
  const line = await browser.line(page);
  await expect(line.locator('[data-act=of]')).toContainText('the page');
  await expect(sentence(line)).toHaveText('Never kept.');
  await line.locator('#keep').press('o');
  await line.locator('#keep').press('a');
  await expect(line.locator('[data-act=of]')).toContainText('what is selected');
  await expect(line.locator('[data-act=as]')).toContainText('text');
  await line
    .locator('#keep')
    .press('Enter', { timeout: 2_000 })
    .catch(() => {});
  await expect
    .poll(() => api.items)
    .toMatchObject([
      { kind: 'excerpt', note: '> Passage 3 of the notice about the stern door.', subject: { url: 'http://lantern.test/plain' } },
    ]);
  expect(api.kept).toEqual([]);
  await page.close();
});

test('a part is pointed at by keyboard, and kept as it looks', async () => {
  await browser.worker.evaluate(() => chrome.storage.local.remove('answers'));
  const page = await open('inner-scroller');
  await browser.press(page);
  const line = await browser.line(page);
  await expect(sentence(line)).toHaveText('Never kept.');
  await line.locator('#keep').press('o');
  await line
    .locator('#keep')
    .press('Enter', { timeout: 2_000 })
    .catch(() => {});
  await expect.poll(() => page.frames().some(one => one.url().startsWith('chrome-extension:'))).toBe(false);
  await page.waitForTimeout(200);
  // What a page plays is nobody's hand.
  await page.evaluate(() => document.activeElement.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true })));
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect.poll(() => [...api.uploads.values()].length, { timeout: 15_000 }).toBe(1);
  const [file] = [...api.uploads.values()];
  expect(file.fields.part).toMatch(/main > p:nth-of-type\(1\)$/);
  expect(file.name).toBe('part.png');
  await expect.poll(() => file.have.length).toBe(file.bytes);
  expect(file.have.readUInt32BE(20)).toBeLessThan(60);
  await page.close();
});

test('what is loaded by scrolling is loaded before the copy is made', async () => {
  const page = await open('lazy-pictures');
  await browser.press(page);
  await (
    await browser.line(page)
  )
    .locator('#keep')
    .press('Enter', { timeout: 2_000 })
    .catch(() => {});
  await expect.poll(() => said(page), { timeout: 40_000 }).toMatch(/^Kept, complete/);
  const { have } = [...api.uploads.values()].find(one => one.name === 'page.mhtml');
  expect((have.toString().match(/^Content-Location: http:\/\/lantern\.test\/picture/gm) ?? []).length).toBe(12);
  expect(await page.evaluate(() => [scrollY, document.body.querySelectorAll('[style*=visibility]').length])).toEqual([0, 0]);
  await page.close();
});

test('nothing is lost while the server is away, nor when the browser is closed', async () => {
  api.down = true;
  const page = await open('short');
  await browser.press(page);
  await (
    await browser.line(page)
  )
    .locator('#keep')
    .press('Enter', { timeout: 2_000 })
    .catch(() => {});
  await expect.poll(() => said(page), { timeout: 20_000 }).toMatch(/It waits in this browser: Ypomna does not answer/);
  expect(await browser.worker.evaluate(() => chrome.action.getBadgeText({}))).toBe('1');
  await browser.stop();
  api.down = false;
  await browser.start([`MAP *.test 127.0.0.1:${web.port}`]);
  const home = await browser.context.newPage();
  await home.goto(browser.own('home/home.html'));
  await expect(home.getByText('http://lantern.test/short')).toBeVisible();
  await home.getByRole('button', { name: 'Try again' }).click();
  await expect.poll(() => api.kept.length, { timeout: 20_000 }).toBe(1);
  await expect.poll(() => [...api.uploads.values()].map(one => one.have.length === one.bytes), { timeout: 20_000 }).toEqual([true, true]);
  await expect(home.getByText('Kept.').first()).toBeVisible();
  await expect.poll(() => browser.worker.evaluate(() => chrome.action.getBadgeText({}))).toBe('');
  await home.close();
});

test('the line goes on after the browser stopped its worker, with what was said so far', async () => {
  const page = await open('plain');
  await browser.press(page);
  const line = await browser.line(page);
  await expect(sentence(line)).toHaveText('Never kept.');
  await line.locator('#keep').press('t');
  await line.locator('#said').fill('after a while');
  await line.locator('#said').press('Enter');
  for (let times = 0; times < 2; ++times) {
    await browser.worker.evaluate(() => {
      const ports = [...openLines.values()].map(one => one.port);
      openLines.clear();
      ports.forEach(port => port.disconnect());
    });
    await expect.poll(() => browser.worker.evaluate(() => [...openLines.values()].filter(one => one.port).length)).toBe(1);
  }
  await expect(sentence(line)).toHaveText('Never kept.');
  await expect(line.locator('[data-act=tags]')).toContainText('after a while');
  await line
    .locator('#keep')
    .press('Enter', { timeout: 2_000 })
    .catch(() => {});
  await expect.poll(() => api.kept.map(one => one.tags), { timeout: 15_000 }).toEqual([['after a while']]);
  await page.close();
});

test('what is refused stays, and says why', async () => {
  api.answer = (request, response) => {
    if (request.url !== '/api/captures') return false;
    response.writeHead(422, { 'Content-Type': 'application/problem+json' });
    response.end(JSON.stringify({ errors: [{ pointer: '/url', detail: 'This host is <b>not</b> allowed.' }] }));
    return true;
  };
  const page = await open('short');
  await browser.press(page);
  await (
    await browser.line(page)
  )
    .locator('#keep')
    .press('Enter', { timeout: 2_000 })
    .catch(() => {});
  await expect.poll(() => said(page), { timeout: 20_000 }).toBe('Not kept: This host is <b>not</b> allowed.');
  const home = await browser.context.newPage();
  await home.goto(browser.own('home/home.html'));
  await expect(home.getByText('Not kept. This host is <b>not</b> allowed.')).toBeVisible();
  home.once('dialog', dialog => dialog.accept());
  await home.getByRole('button', { name: 'Throw it away' }).click();
  await expect(home.getByRole('button', { name: 'Throw it away' })).toHaveCount(0);
  await home.close();
  await page.close();
});

test('all tabs: those that are ticked are kept, and can be closed at once', async () => {
  const [one, two, three] = [await open('plain'), await open('dark'), await open('zoomed')];
  const list = await browser.context.newPage();
  await list.goto(browser.own('tabs/tabs.html'));
  await expect(list.locator('#tabs li')).toHaveCount(3);
  await list
    .getByRole('checkbox', { name: /Notice/ })
    .nth(1)
    .uncheck();
  await list.getByRole('checkbox', { name: /Close each tab/ }).check();
  await list.getByRole('button', { name: 'Keep those that are ticked' }).click();
  await expect(list.locator('#told')).toHaveText('2 tabs are in this browser, and are handed over.');
  await expect.poll(() => [one, two, three].map(page => page.isClosed())).toEqual([true, false, true]);
  await expect
    .poll(() => api.kept.map(said => said.url).sort(), { timeout: 20_000 })
    .toEqual(['http://lantern.test/plain', 'http://lantern.test/zoomed']);
  await expect.poll(() => api.uploads.size, { timeout: 20_000 }).toBe(2);
  await list.close();
  await two.close();
});

test('without a press no address leaves the browser', async () => {
  const page = await open('plain');
  await page.goto('http://lantern.test/dark');
  await page.waitForTimeout(500);
  expect(api.asked).toEqual([]);
  // Whoever wants to be told of every page is asked for by five digits of a digest.
  await browser.worker.evaluate(() => chrome.storage.local.set({ asks: true }));
  await page.goto('http://lantern.test/short');
  await expect.poll(() => api.asked.map(one => one.url)).toEqual([expect.stringMatching(/^\/api\/held\/[0-9a-f]{5}$/)]);
  expect(JSON.stringify(api.asked)).not.toContain('lantern');
  await browser.worker.evaluate(() => chrome.storage.local.set({ asks: false }));
  await page.close();
});
