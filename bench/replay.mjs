#!/usr/bin/env node
// Complete load of archived pages in Chromium against the same pages live, in the same run: pages of 5 to 200 parts, of
// pictures, styles, scripts and frames. The live pages come from a server in this process. Usage: bench/replay.mjs [ROUNDS]
import { chromium } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { createServer, request as ask } from 'node:http';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { fileURLToPath } from 'node:url';
import { signedIn } from '../tests/Browser/sign-in.mjs';

const root = fileURLToPath(new URL('..', import.meta.url)),
  rounds = Number(process.argv[2] ?? 5),
  port = 7480;
const folder = mkdtempSync(tmpdir() + '/ypomna-bench-replay-');
chmodSync(folder, 0o755);
const words = 'ferry sound door seal notice harbour timetable inspection water deck '.split(' ');
const text = bytes => {
  let out = '';
  while (out.length < bytes) out += `<p>${Array.from({ length: 60 }, () => words[Math.floor(Math.random() * 10)]).join(' ')}.`;
  return out;
};
const picture = n =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="30"><rect width="40" height="30"` +
  ` fill="#${((n * 7919) % 4096).toString(16).padStart(3, '0')}"/><!--${'x'.repeat(4000)}--></svg>`;
const kinds = {
  'text of 300 kB': [300_000, 4, 0, 0, 0],
  '5 parts': [5_000, 3, 1, 1, 0],
  '20 pictures': [10_000, 20, 0, 0, 0],
  '50 pictures': [20_000, 50, 0, 0, 0],
  '30 styles': [10_000, 10, 30, 0, 0],
  '30 scripts': [10_000, 10, 0, 30, 0],
  '10 frames': [10_000, 10, 2, 2, 10],
  '200 parts': [40_000, 170, 15, 15, 0],
};
const web = new Map();
for (const [n, [bytes, pictures, styles, scripts, frames]] of Object.values(kinds).entries()) {
  let page = '<!doctype html><meta charset="utf-8"><title>x</title>';
  for (let i = 0; i < styles; i++) {
    page += `<link rel="stylesheet" href="/${n}/s${i}.css">`;
    web.set(`/${n}/s${i}.css`, ['text/css', `.c${i}{background:url(/${n}/p0.svg)}${'/*x*/'.repeat(500)}`]);
  }
  for (let i = 0; i < scripts; i++) {
    page += `<script src="/${n}/j${i}.js"></script>`;
    web.set(`/${n}/j${i}.js`, ['text/javascript', `window.n = (window.n || 0) + 1; ${'// padding\n'.repeat(300)}`]);
  }
  for (let i = 0; i < pictures; i++) {
    page += `<img src="/${n}/p${i}.svg">`;
    web.set(`/${n}/p${i}.svg`, ['image/svg+xml', picture(i)]);
  }
  for (let i = 0; i < frames; i++) {
    page += `<iframe src="/${n}/f${i}.html"></iframe>`;
    web.set(`/${n}/f${i}.html`, ['text/html', '<!doctype html>' + text(2_000)]);
  }
  web.set(`/${n}/`, ['text/html; charset=utf-8', page + text(bytes)]);
}
const live = createServer((request, response) => {
  const part = web.get(request.url);
  response.writeHead(part ? 200 : 404, { 'Content-Type': part?.[0] ?? 'text/plain', 'Content-Length': Buffer.byteLength(part?.[1] ?? '') });
  response.end(part?.[1] ?? '');
}).listen(0, '127.0.0.1');
await new Promise(done => live.on('listening', done));

const exchanges = [...web].map(([path, [type, body]]) => ({
  url: 'http://lantern.test' + path,
  type,
  body: Buffer.from(body).toString('base64'),
  destination: path.endsWith('/') ? 'document' : 'empty',
}));
execFileSync('php', [root + 'tests/Support/write-warc.php', folder + '/pages.warc.gz'], { input: JSON.stringify(exchanges) });
const median = list => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', `--host-resolver-rules=MAP lantern.test 127.0.0.1:${live.address().port}`],
});
try {
  execFileSync(root + 'bin/start', ['--empty', '--data', folder + '/data', '--port', String(port)], { stdio: 'ignore' });
  execFileSync('php', [root + 'bin/ypomna', 'import', folder + '/pages.warc.gz'], {
    env: { ...process.env, YPOMNA_DATA: folder + '/data' },
    stdio: 'ignore',
  });
  execFileSync('php', [root + 'bin/ypomna', 'person:add', 'The Tester', '--role', 'keeper', '--password-stdin'], {
    env: { ...process.env, YPOMNA_DATA: folder + '/data' },
    input: 'what nobody guesses',
  });
  const state = await signedIn(`http://localhost:${port}`, 'The Tester', 'what nobody guesses'),
    asked = { headers: { Cookie: state.cookies.map(({ name, value }) => `${name}=${value}`).join('; ') } };
  const took = async (address, inFrame) => {
    const context = await browser.newContext({ storageState: state });
    const page = await context.newPage();
    await page.goto(address, { waitUntil: 'load' });
    const where = inFrame ? await (await page.locator('#page').elementHandle()).contentFrame() : page.mainFrame();
    await where.waitForLoadState('load');
    const [load, first] = await where.evaluate(() => {
      const t = performance.getEntriesByType('navigation')[0];
      return [t.loadEventStart - t.startTime, t.responseStart - t.startTime];
    });
    await context.close();
    return [load, first];
  };
  for (const [n, name] of Object.keys(kinds).entries()) {
    const found = await fetch(`http://localhost:${port}/find?q=${encodeURIComponent('http://lantern.test/' + n + '/')}`, asked);
    const code = (await found.text()).match(/\/c\/([2-9a-z]{12})/)[1];
    const lived = [],
      replayed = [],
      first = [];
    for (let i = 0; i < rounds; i++) {
      lived.push((await took(`http://lantern.test/${n}/`, false))[0]);
      const [load, begun] = await took(`http://localhost:${port}/c/${code}`, true);
      replayed.push(load);
      first.push(begun);
    }
    console.log(
      `${name.padEnd(16)} live ${median(lived).toFixed(0).padStart(5)} ms, replayed ${median(replayed).toFixed(0).padStart(5)} ms,` +
        ` ratio ${(median(replayed) / median(lived)).toFixed(2)}; first byte of the replayed page: median ${median(first).toFixed(0)}` +
        ` ms, largest ${Math.max(...first).toFixed(0)} ms`,
    );
  }
  // First byte of the large page, without a browser that works beside it.
  const found = await (await fetch(`http://localhost:${port}/find?q=${encodeURIComponent('http://lantern.test/0/')}`, asked)).text();
  const read = await (await fetch(`http://localhost:${port}/c/${found.match(/\/c\/([2-9a-z]{12})/)[1]}`, asked)).text(),
    host = `${read.match(/<iframe[^>]*\/\/([a-z2-7]{26})[asop]h-/)[1]}ah-lantern-test.localhost:${port}`,
    times = [];
  for (let i = 0; i < 120; i++) {
    times.push(
      await new Promise((done, failed) => {
        const begun = performance.now();
        ask({ host: '127.0.0.1', port, path: '/0/', headers: { Host: host, 'Sec-Fetch-Dest': 'iframe' } }, answer => {
          answer.once('data', () => {
            const took = performance.now() - begun;
            answer.resume();
            answer.on('end', () => done(took));
          });
        })
          .on('error', failed)
          .end();
      }),
    );
  }
  times.splice(0, 20);
  times.sort((a, b) => a - b);
  console.log(`first byte of a page of 300 kB: median ${times[50].toFixed(0)} ms, p95 ${times[95].toFixed(0)} ms`);
} finally {
  await browser.close();
  live.close();
  try {
    execFileSync(root + 'bin/stop', ['--data', folder + '/data'], { stdio: 'ignore' });
  } catch {
    /* it did not start */
  }
  rmSync(folder, { recursive: true, force: true });
}
