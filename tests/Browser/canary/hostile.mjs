// Takes the hostile pages in, and reads them all in a network where whatever they reach is heard.
import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { chmodSync, mkdtempSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import { tmpdir } from 'node:os';
import { promisify } from 'node:util';
import { root } from '../help.mjs';
import { channels, pageOf } from './channels.mjs';

export const names = Object.keys(channels);
/** Ways that this browser does not go by itself, without a wall either, or not while it is without a window. */
export const UNHEARD = [
  'dns-prefetch of links',
  'speculation rules',
  'icon',
  'manifest',
  'track',
  'svg picture',
  'broken markup',
  'foreign content',
  'xml style sheet',
  'policy reports',
];
const urlOf = name => `http://hostile.test/${names.indexOf(name)}`;

/** A WARC file with every channel as a page, as somebody else might send it. */
function warc() {
  return Buffer.concat(
    names.map((name, number) => {
      const body = Buffer.from(pageOf(name));
      const block = Buffer.concat([
        Buffer.from(
          `HTTP/1.1 200 OK\r\nContent-Type: text/html; charset=utf-8\r\nLink: <http://link.canary.example/>;` +
            ` rel=preconnect\r\nRefresh: 0;url=http://refresh.canary.example/\r\nSet-Cookie: a=b\r\nContent-Length: ${body.length}\r\n\r\n`,
        ),
        body,
      ]);
      const id = createHash('sha1')
        .update(name + process.pid + Date.now())
        .digest('hex');
      return Buffer.concat([
        Buffer.from(
          `WARC/1.0\r\nWARC-Type: response\r\nWARC-Record-ID:` +
            ` <urn:uuid:${id.slice(0, 8)}-${id.slice(8, 12)}-4${id.slice(13, 16)}-8${id.slice(17, 20)}-${id.slice(20, 32)}>` +
            `\r\nWARC-Date: 2025-01-01T00:00:${String(number % 60).padStart(2, '0')}Z\r\nWARC-Target-URI:` +
            ` ${urlOf(name)}\r\nContent-Type: application/http; msgtype=response\r\nContent-Length: ${block.length}\r\n\r\n`,
        ),
        block,
        Buffer.from('\r\n\r\n'),
      ]);
    }),
  );
}

/**
 * @param base where the application is found, by its own name
 * @param import_ takes a file in
 * @param find gives the page that says what is held of an address
 * @param more what inner.mjs is told besides
 */
export async function readAll(base, import_, find, more) {
  const folder = mkdtempSync(tmpdir() + '/ypomna-hostile-');
  chmodSync(folder, 0o755);
  writeFileSync(`${folder}/hostile.warc`, warc());
  import_(`${folder}/hostile.warc`);
  const codes = {};
  for (const name of names) codes[name] = /\/c\/([2-9a-hjkmnp-z]{12})/.exec(await find(urlOf(name)))[1];
  const door = net.createServer(client => {
    const up = net.connect(Number(new URL(base).port), '127.0.0.1');
    client.pipe(up).pipe(client);
    client.on('error', () => up.destroy());
    up.on('error', () => client.destroy());
  });
  await new Promise(done => door.listen(`${folder}/door`, done));
  try {
    const inside = process.getuid() === 0 ? ['-nm'] : ['-rnm'];
    const { stdout } = await promisify(execFile)(
      'unshare',
      [...inside, `${root}tests/Browser/canary/inner.sh`, JSON.stringify({ door: `${folder}/door`, base, codes, ...more })],
      { cwd: root, maxBuffer: 1e8, timeout: 400_000 },
    );
    return JSON.parse(stdout);
  } finally {
    door.close();
  }
}
