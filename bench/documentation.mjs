#!/usr/bin/env node
// Sites of documentation that stand on this machine, as its packages brought them: pages of each are kept in a browser and read back beside
// the live page, in text, picture and place. What is there differs from machine to machine, so this is no test; it finds what tests of our
// own do not think of. Usage: node bench/documentation.mjs [PAGES A SITE] [FOLDER…]
import { execFile, spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, statSync } from 'node:fs';
import { createInterface } from 'node:readline';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { extname, join } from 'node:path';
import { promisify } from 'node:util';
import { root } from '../tests/Browser/help.mjs';
import { browserOf, difference, frameSize, shown } from '../tests/Browser/live.mjs';

const count = Number(process.argv[2] ?? 2),
  folders = process.argv.length > 3 ? process.argv.slice(3) : ['/usr/share/doc'];
const types = {
  '.html': 'text/html',
  '.htm': 'text/html',
  '.xhtml': 'application/xhtml+xml',
  '.css': 'text/css',
  '.js': 'text/javascript',
  '.json': 'application/json',
  '.svg': 'image/svg+xml',
  '.png': 'image/png',
  '.gif': 'image/gif',
  '.jpg': 'image/jpeg',
  '.woff2': 'font/woff2',
  '.woff': 'font/woff',
};

/** Pages below a folder, up to a number of them. */
function pagesOf(folder, found = [], depth = 0) {
  for (const name of readdirSync(folder).sort()) {
    const path = join(folder, name);
    let about;
    try {
      about = statSync(path);
    } catch {
      continue;
    }
    if (about.isDirectory() && depth < 4 && found.length < 400) pagesOf(path, found, depth + 1);
    else if (about.isFile() && /\.x?html?$/.test(name) && about.size > 500 && about.size < 3e6) found.push(path);
  }
  return found;
}

/** The first, and others evenly spread; each that has one with an anchor in its lower half. */
function chosen(pages) {
  const few = [...new Set(Array.from({ length: count }, (_, n) => pages[Math.floor((n * pages.length) / count)]))];
  return few.map(path => {
    const html = readFileSync(path, 'utf8');
    const anchors = [...html.matchAll(/\sid="([A-Za-z][\w-]*)"/g)].filter(one => one.index > html.length / 2);
    return [path, anchors.length > 0 ? '#' + anchors[0][1] : ''];
  });
}

const work = mkdtempSync(tmpdir() + '/ypomna-documentation-');
const server = createServer((request, response) => {
  try {
    const path = realpathSync(decodeURIComponent(new URL(request.url, 'http://x').pathname));
    response.writeHead(200, { 'Content-Type': types[extname(path)] ?? 'application/octet-stream' }).end(readFileSync(path));
  } catch {
    response.writeHead(404).end();
  }
});
const port = await new Promise(done => server.listen(0, '127.0.0.1', () => done(server.address().port)));
const browser = await browserOf(`MAP *:80 127.0.0.1:${port}`),
  empty = await browser.newPage();
const isFolder = path => {
  try {
    return statSync(path).isDirectory();
  } catch {
    return false;
  }
};
const sites = folders
  .flatMap(folder =>
    readdirSync(folder)
      .sort()
      .map(name => join(folder, name)),
  )
  .filter(isFolder);
let all = 0,
  right = 0;
for (const site of sites) {
  const pages = pagesOf(site);
  if (pages.length === 0) continue;
  for (const [path, anchor] of chosen(pages)) {
    const address = 'http://documentation.test' + encodeURI(path) + anchor,
      file = `${work}/${++all}.warc.gz`,
      wrong = [];
    let said;
    try {
      const command = [
        root + 'bin/ypomna',
        'capture',
        address,
        '--out',
        file,
        '--json',
        '--resolve',
        `documentation.test:80:127.0.0.1:${port}`,
      ];
      said = JSON.parse((await promisify(execFile)('php', command, { timeout: 300_000 })).stdout);
    } catch (e) {
      try {
        said = JSON.parse(e.stdout);
      } catch {
        said = { verdict: 'nothing', reason: (e.stderr ?? e.message).trim() };
      }
    }
    const missing = (said.gaps ?? []).filter(gap => !['status', 'unreachable'].includes(gap.reason)).map(gap => gap.reason);
    // Parts on hosts that this machine cannot reach are missing live, too.
    if (said.verdict !== 'whole' && !(said.reason === 'gaps' && missing.length === 0)) {
      wrong.push(`${said.verdict} (${said.reason ?? said.troubles}) ${missing}`);
    }
    const replay = spawn('php', [root + 'bin/ypomna', 'replay', file], { stdio: ['ignore', 'pipe', 'ignore'] }),
      lines = [];
    for await (const line of createInterface(replay.stdout)) {
      const one = JSON.parse(line);
      if (one.ready) break;
      lines.push(one);
    }
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    try {
      const page = await context.newPage(),
        live = await context.newPage();
      await page.goto(lines[0].open);
      await live.setViewportSize(await frameSize(page));
      await live.goto(address);
      await page.waitForTimeout(1_500);
      const frame = await (await page.locator('#page').elementHandle()).contentFrame();
      const place = one => one.evaluate(() => Math.round(scrollY));
      const [textLive, text] = [await shown(live.mainFrame()), await shown(page.mainFrame().childFrames()[0])];
      if (textLive !== text) wrong.push(`text (${textLive.length} and ${text.length} signs)`);
      const [there, here] = [await place(live), await place(frame)];
      if (Math.abs(there - here) > 2) wrong.push(`place (${there} and ${here})`);
      const looks = [await live.screenshot({ animations: 'disabled' }), await page.locator('#page').screenshot({ animations: 'disabled' })];
      const share = await difference(empty, ...looks);
      if (share > 0.0002) wrong.push(`picture (${(100 * share).toFixed(2)} % of the pixels)`);
    } catch (e) {
      wrong.push(e.message.split('\n')[0]);
    }
    await context.close();
    replay.kill('SIGTERM');
    rmSync(file, { force: true });
    right += wrong.length === 0 ? 1 : 0;
    console.log(`${wrong.length === 0 ? 'right' : 'WRONG'} ${path}${anchor}${wrong.length ? ': ' + wrong.join('; ') : ''}`);
  }
}
await browser.close();
server.close();
rmSync(work, { recursive: true, force: true });
console.log(`${right} of ${all} pages are kept whole and read as they are.`);
