import { chromium, expect } from '@playwright/test';
import { createServer } from 'node:http';
import { createServer as createSecure } from 'node:https';
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { engine } from './engine.mjs';
import { root } from './help.mjs';

/** A web of exchanges on loopback, over http and https: what a test's WARC file was written from, alive. */
export async function liveWeb(folder) {
  const held = new Map();
  const answer = async (request, response) => {
    let sent = '';
    for await (const piece of request) sent += piece;
    const kind = request.method === 'POST' ? 'POST' : 'GET';
    const all = held.get(request.headers.host + request.url) ?? [];
    const found =
      all.find(one => (one.method ?? 'GET') === kind && (one.sent ?? '') === sent) ??
      all.find(one => (one.method ?? 'GET') === kind) ??
      all[0];
    const allowed = {
      'Access-Control-Allow-Origin': request.headers.origin ?? '*',
      'Access-Control-Allow-Credentials': 'true',
      'Timing-Allow-Origin': '*',
      'Access-Control-Allow-Headers': request.headers['access-control-request-headers'] ?? '*',
    };
    if (request.method === 'OPTIONS') {
      response.writeHead(204, allowed).end();
      return;
    }
    if (!found) {
      response.writeHead(404, allowed).end();
      return;
    }
    const fields = Object.fromEntries(
      (found.fields ?? []).map(field => [field.slice(0, field.indexOf(':')), field.slice(field.indexOf(':') + 1).trim()]),
    );
    const range = fields['Accept-Ranges'] ? (request.headers.range ?? '').match(/^bytes=(\d+)-(\d*)$/) : null;
    if (range) {
      const last = range[2] === '' ? found.body.length - 1 : Number(range[2]);
      const of = `bytes ${range[1]}-${last}/${found.body.length}`;
      response
        .writeHead(206, { ...allowed, ...fields, 'Content-Type': found.type, 'Content-Range': of })
        .end(found.body.slice(Number(range[1]), last + 1));
      return;
    }
    // Without its length the browser guesses how long a sound lasts, sooner or later.
    const length = found.status === 204 || found.status === 304 ? {} : { 'Content-Length': Buffer.byteLength(found.body ?? '') };
    response.writeHead(found.status ?? 200, { ...allowed, 'Content-Type': found.type, ...length, ...fields }).end(found.body);
  };
  const pem = execFileSync(
    'php',
    ['-r', 'require "vendor/autoload.php"; echo (new Ypomna\\App\\Network\\GatewayCertificate($argv[1]))->path();', folder],
    { cwd: root, encoding: 'utf8' },
  );
  const plain = createServer(answer),
    secure = createSecure({ key: readFileSync(pem), cert: readFileSync(pem) }, answer);
  const port = server => new Promise(done => server.listen(0, '127.0.0.1', () => done(server.address().port)));
  const rules = `MAP *:80 127.0.0.1:${await port(plain)}, MAP *:443 127.0.0.1:${await port(secure)}`;
  return {
    rules,
    hold: exchanges => {
      held.clear();
      for (const one of exchanges) {
        const url = new URL(one.url),
          key = url.host + url.pathname + url.search;
        held.set(key, [...(held.get(key) ?? []), one]);
      }
    },
    close: () => {
      plain.close();
      secure.close();
      plain.closeAllConnections();
      secure.closeAllConnections();
    },
  };
}

/** A browser for which the web is somewhere else. */
export const browserOf = rules =>
  chromium.launch({
    executablePath: engine,
    args: [
      '--no-sandbox',
      `--host-resolver-rules=${rules}, EXCLUDE localhost`,
      '--ignore-certificate-errors',
      '--disable-features=HttpsUpgrades,LocalNetworkAccessChecks',
    ],
  });

/** A frame and those in it, as they stand in the page: in which order they came is chance. */
const inOrder = frame => [frame, ...frame.childFrames().flatMap(inOrder)];

/** What a frame and all below it show, without differences in white space. */
export const shown = async root =>
  (
    await Promise.all(
      inOrder(root).map(one => one.evaluate(() => document.body?.innerText ?? document.documentElement?.textContent ?? '').catch(() => '')),
    )
  )
    .join('\n')
    .replace(/\s+/g, ' ')
    .trim();

/** Share of the pixels in which two PNG pictures differ; 1 if their sizes do. */
export const difference = (page, one, other) =>
  page.evaluate(
    async ([a, b]) => {
      const [left, right] = await Promise.all(
        [a, b].map(async data => {
          const bitmap = await createImageBitmap(await (await fetch('data:image/png;base64,' + data)).blob());
          const canvas = new OffscreenCanvas(bitmap.width, bitmap.height),
            context = canvas.getContext('2d');
          context.drawImage(bitmap, 0, 0);
          return context.getImageData(0, 0, bitmap.width, bitmap.height);
        }),
      );
      if (left.width !== right.width || left.height !== right.height) return 1;
      const x = new Uint32Array(left.data.buffer),
        y = new Uint32Array(right.data.buffer);
      let differing = 0;
      for (let i = 0; i < x.length; i++) if (x[i] !== y[i]) differing++;
      return differing / x.length;
    },
    [one.toString('base64'), other.toString('base64')],
  );

/** The size of the frame in which a page is read. */
export async function frameSize(page) {
  const box = await page.locator('#page').boundingBox();
  expect(box).toBeTruthy();
  return { width: Math.round(box.width), height: Math.round(box.height) };
}
