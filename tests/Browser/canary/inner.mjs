// Runs in a network of its own in which every address of the world leads back here: whatever a page reaches is counted by
// the channel that it came through. Usage: node inner.mjs JSON, an object: `door` is a socket that leads to the application, `base` where
// the browser finds that, `codes` captures by channel, `cookies` those of somebody who may read them, `home` a folder whose authorities
// the browser trusts, `prove` whether the pages are visited without a wall, too. Prints a JSON object: {proven, leaks, shown}; the first
// two are lists of "channel (way)", the last has the channels whose page was indeed read.
import { chromium } from '@playwright/test';
import { createServer as createHttp } from 'node:http';
import net from 'node:net';
import dgram from 'node:dgram';
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { channels, pageOf } from './channels.mjs';

const { door, base, codes, cookies, home, prove } = JSON.parse(process.argv[2]);
const port = Number(new URL(base).port),
  own = new URL(base).hostname;
const names = Object.keys(channels);
let hits = new Set();
const hit = (number, way) => {
  if (names[number]) hits.add(`${names[number]} (${way})`);
};
const byAddress = (address, way) => {
  const m = /203\.0\.113\.(\d+)$/.exec(address ?? '');
  if (m) hit(Number(m[1]) - 1, way);
};

// The name server: c7.canary.example has the address of channel 7, and the application's own names that of this machine.
const dns = dgram.createSocket('udp4');
dns.on('message', (query, from) => {
  const labels = [];
  let at = 12;
  while (query[at]) {
    labels.push(query.toString('latin1', at + 1, at + 1 + query[at]));
    at += query[at] + 1;
  }
  const type = query.readUInt16BE(at + 1),
    name = labels.join('.').toLowerCase(),
    isOwn = name === own || name.endsWith('.' + own);
  const m = /^c(\d+)\.canary\.example$/i.exec(name);
  if (m) hit(Number(m[1]), 'name');
  const address = isOwn ? [127, 0, 0, 1] : m ? [203, 0, 113, Number(m[1]) + 1] : null;
  const head = Buffer.from(query.subarray(0, at + 5));
  head.writeUInt16BE(0x8180, 2);
  head.writeUInt16BE(type === 1 && address ? 1 : 0, 6);
  head.writeUInt32BE(0, 8);
  const answer = type === 1 && address ? Buffer.from([0xc0, 12, 0, 1, 0, 1, 0, 0, 0, 9, 0, 4, ...address]) : Buffer.alloc(0);
  dns.send(Buffer.concat([head, answer]), from.port, from.address);
});
dns.bind(53, '0.0.0.0');
for (const web of [80, 443])
  net
    .createServer(client => {
      byAddress(client.localAddress, `tcp ${web}`);
      client.on('error', () => {});
      client.end();
    })
    .listen(web, '0.0.0.0');
const stun = dgram.createSocket({ type: 'udp4', reuseAddr: true });
stun.on('message', () => hits.add('peer connection (udp)'));
stun.bind(3478, '0.0.0.0');

// The application itself, through its socket; and the same pages without any wall, to prove that the channels work.
net
  .createServer(client => {
    const up = net.connect(door);
    client.pipe(up).pipe(client);
    client.on('error', () => up.destroy());
    up.on('error', () => client.destroy());
  })
  .listen(port, '127.0.0.1');
createHttp((request, response) => {
  const name = decodeURIComponent(new URL(request.url, 'http://x').searchParams.get('c') ?? '');
  response.writeHead(channels[name] ? 200 : 404, { 'Content-Type': 'text/html; charset=utf-8' });
  response.end(channels[name] ? pageOf(name) : '');
}).listen(port + 1, '127.0.0.1');

// The binary behind Debian's wrapper, with prediction on: the wrapper switches off what is to be tested here.
async function open() {
  const profile = mkdtempSync(tmpdir() + '/canary-');
  mkdirSync(`${profile}/Default`);
  writeFileSync(`${profile}/Default/Preferences`, JSON.stringify({ net: { network_prediction_options: 0 } }));
  const context = await chromium.launchPersistentContext(profile, {
    env: { ...process.env, ...(home && { HOME: home }) },
    executablePath: '/usr/lib/chromium/chromium',
    ignoreDefaultArgs: ['--disable-background-networking', '--no-pings'],
    args: [
      '--no-sandbox',
      '--disable-component-update',
      '--disable-sync',
      '--disable-features=DnsOverHttps,AsyncDns,OptimizationHints,MediaRouter,Translate',
      '--autoplay-policy=no-user-gesture-required',
    ],
  });
  await context.addCookies(cookies);
  return context;
}
const rest = milliseconds => new Promise(done => setTimeout(done, milliseconds));
// A browser of its own for each round: what one round left open must not be heard in the next.
async function visit(addressOf, counts = true) {
  hits = new Set();
  const waiting = [...names],
    shown = new Set();
  const context = await open();
  await Promise.all(
    Array.from({ length: 8 }, async () => {
      // One window for many pages, as a reader goes through them; a new one where a page broke the last.
      let page = await context.newPage();
      for (let name = waiting.shift(); name !== undefined; name = waiting.shift()) {
        const seen = answer => {
          if (answer.status() === 200 && new URL(answer.url()).pathname === '/' + names.indexOf(name)) shown.add(name);
        };
        page.on('response', seen);
        const opened = await page.goto(addressOf(name), { waitUntil: 'commit', timeout: 20_000 }).catch(() => null);
        // On a busy machine the page in its frame comes late; what it does it does in the seconds behind that.
        for (let n = 0; n < 60 && counts && !shown.has(name); n++) await rest(100);
        await rest(1_800);
        page.off('response', seen);
        if (opened && (await Promise.race([page.evaluate('1').catch(() => 0), rest(1_000)]))) continue;
        await page.close().catch(() => {});
        page = await context.newPage();
      }
      await page.close().catch(() => {});
    }),
  );
  await rest(1_000);
  await context.close();
  return [[...hits].sort(), names.filter(name => shown.has(name))];
}
const [proven] = prove ? await visit(name => `http://127.0.0.1:${port + 1}/?c=${encodeURIComponent(name)}`, false) : [[]];
const leaks = {},
  shown = {};
for (const mode of ['alive', 'still']) [leaks[mode], shown[mode]] = await visit(name => `${base}/c/${codes[name]}?mode=${mode}`);
process.stdout.write(JSON.stringify({ proven, leaks, shown }) + '\n');
process.exit(0);
