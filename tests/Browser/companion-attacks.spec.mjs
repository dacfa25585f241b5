import { expect, test } from '@playwright/test';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { OwnBrowser } from './companion.mjs';
import { serveApi, servePages } from './companion-pages.mjs';

let web, api, browser;

const hostile = '<p>Read on</p><button id="b" style="position:fixed;bottom:6px;right:60px;width:120px;height:40px">Win</button>';

test.beforeAll(async () => {
  web = await servePages({ hostile: [`<!doctype html><title>Hostile</title><body style="height:3000px">${hostile}</body>`] });
  api = await serveApi();
  browser = new OwnBrowser();
  // Another extension, which may speak to whoever hears it.
  const other = join(browser.folder, 'other');
  mkdirSync(other);
  writeFileSync(
    join(other, 'manifest.json'),
    JSON.stringify({ manifest_version: 3, name: 'Other', version: '1', background: { service_worker: 'w.js' } }),
  );
  writeFileSync(join(other, 'w.js'), 'self.other = true;');
  await browser.start([`MAP *.test 127.0.0.1:${web.port}`], [], [other]);
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

const opened = async (path = 'hostile') => {
  const page = await browser.context.newPage();
  await page.goto(`http://lantern.test/${path}`);
  await browser.press(page);
  const line = await browser.line(page);
  await expect(line.locator('#sentence')).toHaveText('Never kept.');
  return [page, line];
};

test('a page does not learn that it is there', async () => {
  const page = await browser.context.newPage();
  await page.goto('http://lantern.test/hostile');
  const probes = await page.evaluate(async id => {
    const tried = async own => {
      const said = [];
      for (const path of [
        'line/line.html',
        'manifest.json',
        'icons/16.png',
        'background.js',
        'line/line.js',
        'line/line.css',
        '_locales/en/messages.json',
      ]) {
        const url = `chrome-extension://${own}/${path}`;
        said.push(
          await fetch(url).then(
            () => 'there',
            error => error.name,
          ),
        );
        said.push(
          await fetch(url, { mode: 'no-cors' }).then(
            () => 'there',
            error => error.name,
          ),
        );
        said.push(
          await new Promise(done => Object.assign(new Image(), { onload: () => done('there'), onerror: () => done('no'), src: url })),
        );
        said.push(
          await new Promise(done => {
            const script = Object.assign(document.createElement('script'), {
              onload: () => done('there'),
              onerror: () => done('no'),
              src: url,
            });
            document.head.append(script);
          }),
        );
        said.push(
          await new Promise(done => {
            const frame = Object.assign(document.createElement('iframe'), { src: url });
            frame.onload = () => {
              let words;
              try {
                words = frame.contentDocument?.body?.innerText ?? 'none';
              } catch {
                words = 'another origin';
              }
              frame.remove();
              done(words);
            };
            document.body.append(frame);
          }),
        );
      }
      return said;
    };
    return [await tried(id), await tried('abcdefghijklmnopabcdefghijklmnop'), typeof window.ypomnaLine, typeof window.chrome?.runtime?.id];
  }, browser.id);
  expect(probes[0]).toEqual(probes[1]);
  expect(probes[0]).not.toContain('there');
  expect(probes.slice(2)).toEqual(['undefined', 'undefined']);
  await page.close();
});

test('a page cannot press, read or speak to the line', async () => {
  const [page, line] = await opened();
  const said = await page.evaluate(async () => {
    const host = document.documentElement.lastElementChild;
    const heard = [];
    addEventListener('message', event => heard.push(event.data));
    for (const target of [host, document, window, document.activeElement]) {
      for (const type of ['keydown', 'keypress', 'keyup']) {
        target.dispatchEvent(new KeyboardEvent(type, { key: 'Enter', code: 'Enter', bubbles: true, composed: true }));
      }
      for (const type of ['pointerdown', 'mousedown', 'mouseup', 'click']) {
        target.dispatchEvent(new MouseEvent(type, { bubbles: true, composed: true, clientX: 1160, clientY: 775 }));
      }
    }
    host.click();
    host.focus();
    for (let i = 0; i < window.length; ++i) {
      window[i].postMessage({ keep: { of: 'page', as: 'evidence', how: 'server' } }, '*');
    }
    postMessage({ thrownOut: true, keep: true, hello: 'x' }, '*');
    await new Promise(done => setTimeout(done, 500));
    return {
      shadow: host.shadowRoot,
      frames: window.length,
      found: document.querySelectorAll('iframe').length,
      text: host.innerText,
      urls: performance
        .getEntriesByType('resource')
        .map(one => one.name)
        .filter(one => one.startsWith('chrome-extension:')),
      heard: heard.length,
      storage: typeof chrome?.storage,
    };
  });
  expect(said).toMatchObject({ shadow: null, frames: 0, found: 0, text: '', storage: 'undefined' });
  await page.waitForTimeout(300);
  expect(api.kept).toEqual([]);
  expect([...api.uploads]).toEqual([]);
  // Whoever learns its address gets a frame that nobody speaks to: each key is given once.
  const address = said.urls[0] ?? line.url();
  const before = page.frames().length;
  await page.evaluate(
    url => {
      const frame = document.createElement('iframe');
      frame.src = url;
      frame.id = 'stolen';
      document.body.append(frame);
    },
    line.url().includes('#') ? line.url() : address,
  );
  await page.waitForTimeout(1_000);
  const stolen = page
    .frames()
    .slice(before)
    .find(one => one.url().startsWith('chrome-extension:'));
  if (stolen) {
    await expect(stolen.locator('#sentence')).not.toHaveText(/kept|Held/i);
    await stolen
      .locator('#keep')
      .press('Enter', { timeout: 1_000 })
      .catch(() => {});
  }
  await page.waitForTimeout(500);
  expect(api.kept).toEqual([]);
  await page.close();
});

for (const [what, cover] of Object.entries({
  'lays something over it': () => {
    const over = document.createElement('div');
    over.popover = 'manual';
    over.style.cssText =
      'position:fixed;inset:auto 0 0 0;width:100%;height:60px;margin:0;background:gold;pointer-events:none;display:block';
    over.textContent = 'Press here for your prize';
    document.body.append(over);
    over.showPopover();
  },
  'makes it invisible': () => document.documentElement.lastElementChild.style.setProperty('opacity', '0.01', 'important'),
  'filters it away': () => document.documentElement.lastElementChild.style.setProperty('filter', 'brightness(50)', 'important'),
})) {
  test(`where a page ${what}, a press keeps nothing until the button says so`, async () => {
    const [page, line] = await opened();
    await page.evaluate(cover);
    await page.waitForTimeout(600);
    const box = await line.locator('#keep').boundingBox();
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
    await line
      .locator('#keep')
      .press('Enter', { timeout: 2_000 })
      .catch(() => {});
    await expect(line.locator('#sentence')).toContainText('Something lies over this line');
    await page.waitForTimeout(400);
    expect(api.kept).toEqual([]);
    await browser.press(page);
    await expect.poll(() => api.kept.map(one => one.url), { timeout: 10_000 }).toEqual(['http://lantern.test/hostile']);
    await page.close();
  });
}

test('a page that becomes another one meanwhile is not kept in its place', async () => {
  const [page, line] = await opened();
  await page.evaluate(() => history.pushState(null, '', '/another'));
  await line
    .locator('#keep')
    .press('Enter', { timeout: 2_000 })
    .catch(() => {});
  await expect(line.locator('#sentence')).toHaveText('Another page stands here now. Enter keeps this one.');
  expect(api.kept).toEqual([]);
  await line
    .locator('#keep')
    .press('Enter', { timeout: 2_000 })
    .catch(() => {});
  await expect.poll(() => api.kept.map(one => one.url)).toEqual(['http://lantern.test/another']);
  await page.close();
});

test('the token is read by nobody in a page, and by no other extension', async () => {
  const [page] = await opened();
  const read = await browser.worker.evaluate(async () => {
    const [tab] = await chrome.tabs.query({ url: 'http://lantern.test/*' });
    const [answer] = await chrome.scripting.executeScript({
      target: { tabId: tab.id },
      func: async () => {
        const said = [];
        for (const area of ['local', 'session', 'sync']) {
          said.push(
            (await chrome.storage?.[area]?.get(null).then(
              all => Object.keys(all),
              error => String(error),
            )) ?? 'none',
          );
        }
        said.push(
          await chrome.runtime.sendMessage({ keep: { of: 'page' }, hello: 'x', token: true }).then(
            one => one ?? null,
            () => null,
          ),
        );
        return said;
      },
    });
    return answer.result;
  });
  expect(JSON.stringify(read)).not.toMatch(/token|ypomna_/);
  expect(read[3]).toBeNull();
  const other = browser.context.serviceWorkers().find(one => new URL(one.url()).host !== browser.id);
  const said = await other.evaluate(async id => {
    const answers = [];
    answers.push(
      await chrome.runtime.sendMessage(id, { keep: { of: 'page' }, waiting: true }).then(
        one => one ?? null,
        error => String(error.message),
      ),
    );
    for (const name of ['line', 'home', 'tabs']) {
      answers.push(
        await new Promise(done => {
          const port = chrome.runtime.connect(id, { name });
          port.onMessage.addListener(message => done(message));
          port.onDisconnect.addListener(() => done(chrome.runtime.lastError?.message ?? 'closed'));
          port.postMessage({ waiting: true, tabs: [1], hello: 'x' });
          setTimeout(() => done('silence'), 1_000);
        }),
      );
    }
    return answers;
  }, browser.id);
  expect(said.every(one => one === null || typeof one === 'string')).toBe(true);
  await page.waitForTimeout(300);
  expect(api.kept).toEqual([]);
  await page.close();
});

test('somebody else who answers in place of Ypomna gets nothing but what is kept, and leads nowhere', async () => {
  const evil = [];
  api.answer = (request, response) => {
    const path = request.url.split('?')[0];
    const say = (said, fields = {}) => response.writeHead(200, { 'Content-Type': 'application/json', ...fields }).end(said);
    if (path === '/api/addresses') {
      say(JSON.stringify({ held: '9<img src=x onerror=alert(1)>', last: 'javascript:alert(1)', code: '../../x', lastAlive: {} }));
    } else if (path === '/api/tags') {
      response.writeHead(200, { 'Content-Type': 'application/json' });
      const big = setInterval(() => response.write('"' + 'x'.repeat(1_000_000)), 1);
      response.on('close', () => clearInterval(big));
    } else if (path === '/api/dossiers') {
      say(JSON.stringify({ items: [{ name: '<b>x</b>', code: { a: 1 } }, null, 7, 'x'] }));
    } else if (path === '/api/captures') {
      response.writeHead(307, { Location: `http://lantern.test/stolen` }).end();
    } else if (path.startsWith('/api/jobs/')) {
      say(JSON.stringify({ state: 'kept', capture: 'javascript:alert(1)//', verdict: '<b>', item: [] }));
    } else {
      return false;
    }
    evil.push(path);
    return true;
  };
  const [page, line] = await opened();
  line.on?.('dialog', () => evil.push('dialog'));
  await line.locator('#keep').press('d');
  await page.waitForTimeout(300);
  expect(await line.locator('#names option').evaluateAll(all => all.map(one => one.value))).toContain('<b>x</b>');
  await line.locator('#said').press('Escape');
  await line.locator('#keep').press('t');
  await expect(line.locator('#sentence')).toHaveText(/refused it|does not answer/, { timeout: 15_000 });
  await line.locator('#said').press('Escape');
  await line
    .locator('#keep')
    .press('Enter', { timeout: 2_000 })
    .catch(() => {});
  await expect.poll(() => evil.includes('/api/captures'), { timeout: 10_000 }).toBe(true);
  await page.waitForTimeout(1_000);
  // A redirect is not followed: the token stays where it is.
  expect(web.asked.filter(one => one.includes('stolen'))).toEqual([]);
  expect(await browser.worker.evaluate(() => chrome.action.getBadgeText({}))).toBe('1');
  expect(evil).not.toContain('dialog');
  await page.close();
});

test('what is paired over an open network is refused', async () => {
  const home = await browser.context.newPage();
  await browser.worker.evaluate(() => chrome.storage.local.remove(['token']));
  await home.goto(browser.own('home/home.html'));
  for (const address of ['http://ypomna.example/', 'javascript:alert(1)', 'file:///etc/passwd', 'ftp://ypomna.example/']) {
    await home.locator('#server').fill(address);
    await home.locator('#code').fill('abcde-fghjk');
    await home.locator('#pair-now').click();
    await expect(home.locator('#told')).toHaveClass(/alert/);
  }
  expect(await browser.worker.evaluate(() => chrome.storage.local.get('token'))).toEqual({});
  await home.close();
});
