import { test, expect } from '@playwright/test';
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { createInterface } from 'node:readline';
import { root } from './help.mjs';
import { constructs } from './constructs.mjs';
import { browserOf, difference, frameSize, liveWeb, shown } from './live.mjs';

const folder = mkdtempSync(tmpdir() + '/ypomna-fidelity-');
const font = readFileSync(root + 'public/build/fonts/commissioner.woff2');
const drawing = '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="30"/>';
const address = n => `http://lantern.test/page-${n}.html`;

/** Serves files with the replay command; gives what it printed, and the way to end it. */
async function serve(...files) {
  const server = spawn('php', [root + 'bin/ypomna', 'replay', ...files], { stdio: ['ignore', 'pipe', 'inherit'] });
  const lines = [];
  for await (const line of createInterface(server.stdout)) {
    const said = JSON.parse(line);
    if (said.ready) break;
    lines.push(said);
  }
  return {
    lines,
    stop: () =>
      new Promise(done => {
        server.on('exit', code => done(code));
        server.kill('SIGTERM');
      }),
  };
}

function exchangesOf(n, construct) {
  const { type = 'text/html; charset=utf-8', page: body, requested } = construct;
  const exchanges = [{ url: address(n), type, body, destination: 'document', requested }];
  for (const [url, given] of Object.entries(construct.parts ?? {})) {
    for (const [type, body, sent, status, field] of Array.isArray(given[0]) ? given : [given]) {
      exchanges.push({
        url,
        type,
        body: body === 'FONT' ? font : body,
        sent,
        status,
        fields: field ? [field] : [],
        method: sent ? 'POST' : 'GET',
        destination: 'empty',
      });
    }
  }
  return exchanges;
}

/** A WARC file a construct, so that parts of the same address do not get in each other's way. */
function write(name, n, construct) {
  const exchanges = exchangesOf(n, construct);
  const json = JSON.stringify(
    exchanges.map(e => ({
      ...e,
      body: Buffer.from(e.body).toString('base64'),
      sent: e.sent ? Buffer.from(e.sent).toString('base64') : undefined,
    })),
  );
  const path = `${folder}/${n}.warc.gz`;
  execFileSync('php', [root + 'tests/Support/write-warc.php', path], { input: json });
  return path;
}

let served, web, browser, empty;
test.beforeAll(async () => {
  web = await liveWeb(folder);
  browser = await browserOf(web.rules);
  empty = await browser.newPage();
  served = await serve(...Object.entries(constructs).map(([name, construct], n) => write(name, n, construct)));
});
test.afterAll(async () => {
  await browser.close();
  web.close();
  expect(await served.stop()).toBe(0);
});

/** The page alive, at the same clock and in the same size: the same text, and the same picture. */
async function compareAlive(page, frame, n, construct) {
  web.hold(exchangesOf(n, construct));
  const context = await browser.newContext({ viewport: await frameSize(page), timezoneId: 'Europe/Athens', locale: 'en-GB' });
  const live = await context.newPage();
  try {
    await live.clock.setFixedTime(new Date('2024-11-03T10:00:00Z'));
    await live.goto(address(n));
    if (construct.check && !construct.explained?.alive)
      await expect
        .poll(() => live.evaluate(construct.check).catch(e => e.message), { message: 'alive: ' + construct.check, timeout: 6_000 })
        .toBe(true);
    if (construct.explained?.text === undefined)
      await expect
        .poll(() => shown(live.mainFrame()), { message: 'the text alive', timeout: 6_000 })
        .toBe(await shown(page.mainFrame().childFrames()[0]));
    if (construct.explained?.picture === undefined) {
      await expect
        .poll(
          async () =>
            difference(
              empty,
              await live.screenshot({ animations: 'disabled' }),
              await page.locator('#page').screenshot({ animations: 'disabled' }),
            ),
          { message: 'share of pixels that differ', timeout: 4_000 },
        )
        // Rounded corners are drawn otherwise where a frame begins beside others: a few pixels.
        .toBeLessThan(0.00002);
    }
  } finally {
    await context.close();
  }
}

for (const [n, [name, construct]] of Object.entries(constructs).entries()) {
  test(`read as it was: ${name}`, async ({ page }) => {
    const outside = [];
    page.on('request', request => {
      if (!/^(?:http:\/\/[^/]*localhost:\d+\/|data:|blob:|about:)/.test(request.url())) outside.push(request.url());
    });
    const said = served.lines.find(line => line.url === address(n));
    expect(said, 'the page is listed').toBeTruthy();
    expect(said.capturedAt).toBe('2024-11-03T10:00:00Z');
    await page.goto(said.open);
    const frame = await (await page.locator('#page').elementHandle()).contentFrame();
    const texts = async () =>
      (
        await Promise.all(
          page
            .frames()
            .slice(1)
            .map(one => one.evaluate(() => document.body?.innerText ?? '').catch(() => '')),
        )
      ).join('\n');
    if (construct.check) {
      await expect
        .poll(() => frame.evaluate(construct.check).catch(e => e.message), { message: construct.check, timeout: 6_000 })
        .toBe(true);
    }
    await compareAlive(page, frame, n, construct);
    if (construct.frames) await expect.poll(texts, { timeout: 6_000 }).toContain(construct.frames);
    if (construct.click) {
      for (const one of page.frames().slice(1)) {
        const part = one.getByText(construct.click, { exact: true });
        if (await part.count().catch(() => 0)) {
          await part.first().click();
          break;
        }
      }
    }
    if (construct.clickOn) await frame.locator('img').click();
    if (construct.then) await expect.poll(texts, { timeout: 6_000 }).toContain(construct.then);
    expect(page.context().pages()).toHaveLength(1);
    expect(new URL(page.url()).hostname).toBe('reader.localhost');
    expect(outside, 'nothing was asked for outside').toEqual([]);
  });
}

test('a place on a page is kept when its frame gets another size, until the reader does something', async ({ page }) => {
  const text = 'The ferry left the harbour at six in the morning. '.repeat(6);
  const parts = Array.from({ length: 60 }, (_, n) => `<h2 id="part-${n}">Part ${n}</h2><p>${text}</p>`).join('');
  const own = await serve(write('long', 902, { page: '<!doctype html><title>x</title>' + parts, requested: address(902) + '#part-40' }));
  // The window's style comes late, so the frame is small when its page is there.
  await page.route('**/*.css', async route => {
    await new Promise(done => setTimeout(done, 1_200));
    await route.continue();
  });
  await page.goto(own.lines[0].open);
  const frame = await (await page.locator('#page').elementHandle()).contentFrame();
  const size = width =>
    page.locator('#page').evaluate((one, width) => {
      one.style.width = width;
    }, width);
  const place = () => frame.evaluate(() => Math.round(document.getElementById('part-40').getBoundingClientRect().top));
  await expect.poll(place).toBe(0);
  expect(await frame.evaluate(() => innerWidth)).toBeGreaterThan(700);
  await page.locator('#page').hover();
  await page.mouse.wheel(0, 500);
  await expect.poll(place).toBeLessThan(-300);
  await size('400px');
  await page.waitForTimeout(500);
  expect(await place()).not.toBe(0);
  expect(await own.stop()).toBe(0);
});

test('pieces of a drawing show where no scripts run', async ({ page }) => {
  const own = await serve(write('still', 901, constructs['pieces of a drawing, of the older kind']));
  await page.goto(own.lines[0].open);
  const address = await page.locator('#page').getAttribute('src');
  await page.goto(address.replace(/^(http:\/\/[a-z2-9]{12})a/, '$1s'));
  await expect.poll(() => page.evaluate(() => document.querySelector('use').getBBox().width), { timeout: 6_000 }).toBe(90);
  expect(await own.stop()).toBe(0);
});

test('a file that a browser saved looks as it does in that browser', async ({ page }) => {
  web.hold([
    {
      url: 'http://lantern.test/',
      type: 'text/html',
      body:
        '<!doctype html><meta charset=utf-8><style>body{margin:20px}' +
        ' iframe{border:2px solid #246;width:300px;height:120px}</style><h1>Board</h1><x-box>Slotted</x-box><iframe src="/frame">' +
        '</iframe>' +
        '<iframe srcdoc="<style>p{color:#a22}</style><p>As markup</p>"></iframe><iframe src="/quirks"></iframe>' +
        '<script>document.querySelector("x-box").attachShadow({ mode: "open" }).innerHTML =' +
        ' "<p style=\'color:#228\'>In the shadow</p><slot></slot><img src=/i.svg>"</script>',
    },
    {
      url: 'http://lantern.test/frame',
      type: 'text/html',
      body: '<!doctype html><style>body{background:#eef}</style><p>Frame</p>' + '<iframe src="/inner" width=90 height=40></iframe>',
    },
    { url: 'http://lantern.test/inner', type: 'text/html', body: '<!doctype html><p style="color:#c00;margin:0">Innermost</p>' },
    {
      url: 'http://lantern.test/quirks',
      type: 'text/html',
      body: '<body bgcolor=#ffeedd><font size=5><table><tr><td>Quirks</table></font>',
    },
    {
      url: 'http://lantern.test/i.svg',
      type: 'image/svg+xml',
      body: drawing.replace('/>', '><rect width="40" height="30" fill="#48c"/></svg>'),
    },
  ]);
  const context = await browser.newContext({ viewport: { width: 900, height: 600 } }),
    live = await context.newPage();
  await live.goto('http://lantern.test/');
  const { data } = await (await context.newCDPSession(live)).send('Page.captureSnapshot', { format: 'mhtml' });
  const path = folder + '/saved.mht';
  writeFileSync(path, data);
  const own = await serve(path);
  await live.goto('file://' + path);
  await page.setViewportSize({ width: 900, height: 600 });
  await page.goto(own.lines[0].open);
  await page.goto(await page.locator('#page').getAttribute('src'));
  await expect.poll(() => shown(page.mainFrame()), { timeout: 6_000 }).toBe(await shown(live.mainFrame()));
  await expect.poll(async () => difference(empty, await live.screenshot(), await page.screenshot()), { timeout: 4_000 }).toBe(0);
  await context.close();
  expect(await own.stop()).toBe(0);
});

test('what was not kept says so inside the window', async ({ page }) => {
  const path = write('links', 900, {
    page: '<!doctype html><title>x</title><a href="http://elsewhere.test/gone?x=1" target=_blank>go</a>',
  });
  const own = await serve(path);
  await page.goto(own.lines[0].open);
  const answers = [];
  page.on('response', response => {
    if (response.url().includes('elsewhere')) answers.push(response.status());
  });
  await page.frameLocator('#page').getByText('go').click();
  await expect(page.frameLocator('#page').locator('body')).toContainText('was not kept');
  await expect(page.frameLocator('#page').locator('body')).toContainText('http://elsewhere.test/gone?x=1');
  expect(answers).toEqual([404]);
  expect(page.context().pages()).toHaveLength(1);
  expect(await own.stop()).toBe(0);
});
