import { chromium } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { appendFileSync, cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from './help.mjs';

/**
 * The companion as somebody has it who has allowed what it asks for: a browser without a window cannot be asked. All else is as it is
 * packed.
 */
function allowed(folder) {
  cpSync(join(root, 'companion'), folder, { recursive: true });
  const file = join(folder, 'manifest.json');
  const manifest = JSON.parse(readFileSync(file, 'utf8'));
  manifest.permissions.push(...manifest.optional_permissions);
  manifest.host_permissions = ['<all_urls>'];
  delete manifest.optional_permissions;
  delete manifest.optional_host_permissions;
  writeFileSync(file, JSON.stringify(manifest));
  // A browser that is watched never stops a worker by itself: what it forgets then is taken away by hand.
  appendFileSync(join(folder, 'background.js'), '\nself.openLines = lines;\n');
}

const late = Symbol('late');
async function inTime(promise, milliseconds) {
  let timer;
  const waited = new Promise(done => (timer = setTimeout(done, milliseconds, late)));
  return Promise.race([promise, waited]).finally(() => clearTimeout(timer));
}

/** Where the stand-in web is, as a browser's rule. */
export function standin(data) {
  const detour = /^WEB_DETOURS="\S+=(\S+?)[ "]/m.exec(readFileSync(join(data, 'ypomna.env'), 'utf8'));
  return detour[1];
}

/** A browser of somebody's own, with the companion in it. */
export class OwnBrowser {
  constructor() {
    this.folder = mkdtempSync(join(tmpdir(), 'companion-'));
    allowed(join(this.folder, 'companion'));
  }

  /**
   * @param {string[]} rules of host names
   * @param {string[]} more arguments
   * @param {string[]} others folders of other extensions
   */
  async start(rules, more = [], others = []) {
    const companion = [join(this.folder, 'companion'), ...others].join(',');
    this.context = await chromium.launchPersistentContext(join(this.folder, 'profile'), {
      executablePath: '/usr/bin/chromium',
      viewport: { width: 1280, height: 800 },
      locale: 'en-GB',
      timezoneId: 'UTC',
      ignoreHTTPSErrors: true,
      args: [
        '--headless=new',
        '--no-sandbox',
        `--load-extension=${companion}`,
        `--disable-extensions-except=${companion}`,
        `--host-resolver-rules=${rules.join(', ')}, EXCLUDE localhost`,
        ...more,
      ],
    });
    const isOurs = one => one.url().endsWith('/background.js');
    this.worker =
      this.context.serviceWorkers().find(isOurs) ??
      (await this.context.waitForEvent('serviceworker', { predicate: isOurs, timeout: 20_000 }));
    this.id = new URL(this.worker.url()).host;
    return this;
  }

  /** A browser that does not end by itself is ended: what it has to keep must have been kept before that anyway. */
  async stop() {
    const ended = this.context?.close();
    this.context = null;
    if (ended && (await inTime(ended, 20_000)) === late) {
      spawnSync('pkill', ['-KILL', '-f', '--', `--user-data-dir=${join(this.folder, 'profile')}`]);
      await inTime(ended, 10_000);
    }
  }

  async away() {
    await this.stop();
    rmSync(this.folder, { recursive: true, force: true });
  }

  /** Nothing waits any more. */
  async clear() {
    await this.worker.evaluate(
      () =>
        new Promise(done => {
          const asked = indexedDB.open('ypomna', 1);
          asked.onupgradeneeded = () => asked.result.createObjectStore('waiting', { keyPath: 'id' });
          asked.onsuccess = () => {
            const transaction = asked.result.transaction('waiting', 'readwrite');
            transaction.objectStore('waiting').clear();
            transaction.oncomplete = () => {
              asked.result.close();
              done();
            };
          };
        }),
    );
  }

  own(path) {
    return `chrome-extension://${this.id}/${path}`;
  }

  /** The button beside the address line. */
  async press(page, url = page.url()) {
    const pressed = this.worker.evaluate(async address => {
      for (let tries = 0; tries < 60; ++tries) {
        const tabs = (await chrome.tabs.query({})).filter(one => one.url === address);
        if (tabs.length > 0) {
          chrome.action.onClicked.dispatch(tabs.find(one => one.active) ?? tabs[0]);
          return;
        }
        await new Promise(done => setTimeout(done, 50));
      }
      throw new Error('No tab shows ' + address);
    }, url);
    if ((await inTime(pressed, 20_000)) === late) {
      throw new Error('The companion does not answer on ' + url);
    }
  }

  /** The line at the foot of a page. */
  async line(page, timeout = 5_000) {
    const until = Date.now() + timeout;
    while (Date.now() < until) {
      const frame = page.frames().find(one => one.url().includes('/line/line.html') || /^chrome-extension:/.test(one.url()));
      if (frame) {
        return frame;
      }
      await page.waitForTimeout(10);
    }
    throw new Error('There is no line in ' + page.url());
  }

  /** The line is gone before the press that closes it has ended: that is not waited for. */
  async shut(page, line) {
    const gone = page.waitForEvent('framedetached', { timeout: 30_000 });
    line
      .locator('#close')
      .click()
      .catch(() => {});
    await gone;
  }

  async pair(base, code) {
    const home = await this.context.newPage();
    await home.goto(this.own('home/home.html'));
    await home.locator('#server').fill(base);
    await home.locator('#code').fill(code);
    await home.locator('#pair-now').click();
    await home.getByText('Paired.').waitFor();
    await home.close();
  }
}

/** A code from one's own page. */
export async function pairingCode(request) {
  const me = await (await request.get('/me')).text();
  const token = /action="\/me\/pairing">\s*<input type="hidden" name="_token" value="([^"]+)"/.exec(me)[1];
  const shown = await (await request.post('/me/pairing', { form: { _token: token } })).text();
  return /<code class="large">([^<]+)</.exec(shown)[1];
}
