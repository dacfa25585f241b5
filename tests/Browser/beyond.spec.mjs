// The application as people on other machines meet it: names of its own, TLS, certificates of the stand-in's authority.
import { test, expect, chromium, request } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { engine } from './engine.mjs';
import { names, readAll } from './canary/hostile.mjs';
import { root } from './help.mjs';
import { signedIn } from './sign-in.mjs';

const folder = mkdtempSync((process.env.YPOMNA_TEST_TMP ?? tmpdir()) + '/beyond-'),
  data = `${folder}/data`,
  home = `${folder}/home`,
  long = 'https://pictures-and-other-parts-of-pages.delivered-from-everywhere.by-a-name-of-great-length.test';
const php = (code, ...words) =>
  execFileSync('php', ['-r', `require '${root}vendor/autoload.php'; ${code}`, ...words], { encoding: 'utf8' });
const ypomna = (words, input = '') =>
  execFileSync('php', [root + 'bin/ypomna', ...words], { encoding: 'utf8', input, env: { ...process.env, YPOMNA_DATA: data } });
let base, local, browser, context, near;

test.beforeAll(async () => {
  test.setTimeout(120_000);
  execFileSync('chmod', ['755', folder]);
  const port = Number(php('echo Ypomna\\Tests\\Support\\FreePort::row();'));
  local = `http://localhost:${port}`;
  base = `https://ypomna.test:${port + 4}`;
  const certificate = php(
    '$a = new Ypomna\\Standin\\Web\\Authority($argv[1]); $p = $a->issue(["ypomna.test", "*.pages.ypomna.test"]); chmod($p, 0644); echo $p;',
    `${folder}/authority`,
  );
  execFileSync(root + 'bin/start', ['--empty', '--data', data, '--port', String(port)], {
    stdio: 'ignore',
    env: { ...process.env, PUBLIC_URL: base, LISTEN: '127.0.0.1', TLS_CERTIFICATE: certificate, TLS_KEY: certificate },
  });
  ypomna(['person:add', 'Dana Brandt', '--role', 'custodian', '--password-stdin'], 'what nobody guesses\n');
  // A browser that trusts that authority, and knows where the names lead.
  mkdirSync(`${home}/.pki/nssdb`, { recursive: true });
  const trust = (...words) => execFileSync('certutil', ['-d', `sql:${home}/.pki/nssdb`, ...words]);
  trust('-N', '--empty-password');
  trust('-A', '-t', 'C,,', '-n', 'stand-in', '-i', `${folder}/authority/authority.pem`);
  browser = await chromium.launch({
    executablePath: engine,
    args: ['--no-sandbox', '--host-resolver-rules=MAP ypomna.test 127.0.0.1, MAP *.ypomna.test 127.0.0.1'],
    env: { ...process.env, HOME: home },
  });
  context = await browser.newContext({ storageState: { cookies: [], origins: [] } });
});

test.afterAll(async () => {
  await browser?.close();
  execFileSync(root + 'bin/stop', ['--data', data], { stdio: 'ignore' });
});

/** What is said of an address on this machine itself, where requests need no browser that knows the names. */
async function find(url) {
  near ??= await request.newContext({ baseURL: local, storageState: await signedIn(local, 'Dana Brandt', 'what nobody guesses') });
  return (await near.get('/find?q=' + encodeURIComponent(url))).text();
}

/** Takes in one page with its parts. */
function takeIn(name, exchanges) {
  const file = `${folder}/${name}.warc`;
  php(
    '$w = new Ypomna\\Tests\\Support\\WarcBuilder($argv[1]); foreach (json_decode($argv[3], true) as $n => [$u, $b, $t])' +
      ' $w->exchange($u, "2024-11-03T10:00:00Z", $b, $t, destination: $n ? "empty" : "document");' +
      ' file_put_contents($argv[2], $w->bytes());',
    name,
    file,
    JSON.stringify(exchanges),
  );
  execFileSync('chmod', ['644', file]);
  ypomna(['import', file]);
}

async function signIn(page) {
  await page.getByLabel('Name').fill('Dana Brandt');
  await page.getByLabel('Password').fill('what nobody guesses');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(base + '/');
}

/** A window of somebody who has signed in. */
async function entered() {
  const page = await context.newPage();
  await page.goto(base + '/');
  if (page.url() !== base + '/') await signIn(page);
  return page;
}

test('signing in over TLS: cookies are for this name, this way and no script', async () => {
  const page = await context.newPage();
  const answer = await page.goto(base + '/');
  expect(answer.url()).toBe(base + '/sign-in');
  expect(answer.headers()['strict-transport-security']).toBe('max-age=31536000');
  await signIn(page);
  for (const cookie of await context.cookies()) {
    expect(cookie).toMatchObject({ secure: true, domain: 'ypomna.test' });
    if (cookie.name === 'ypomna') expect(cookie).toMatchObject({ httpOnly: true, sameSite: 'Lax' });
  }
  // No other name is shown a certificate.
  await expect(page.goto(base.replace('ypomna.test', 'other.ypomna.test'))).rejects.toThrow(/ERR_SSL/);
  await page.close();
});

test('pages are read at hosts of one label, whatever the length of their names', async () => {
  takeIn('long', [
    [
      `${long}/a`,
      `<!doctype html><title>Long</title><p>x</p><img src="b.svg"><script>const i = new Image(); i.src = "https://cdn.long.test/c.svg";` +
        ` i.onload = () => fetch("${long.replace('by-a', 'by-another')}/d").then(r => r.text()).then(t =>` +
        ` { document.querySelector("p").textContent = t + i.naturalWidth })</script>`,
      'text/html',
    ],
    [`${long}/b.svg`, '<svg xmlns="http://www.w3.org/2000/svg" width="31" height="9"/>', 'image/svg+xml'],
    ['https://cdn.long.test/c.svg', '<svg xmlns="http://www.w3.org/2000/svg" width="32" height="9"/>', 'image/svg+xml'],
    [`${long.replace('by-a', 'by-another')}/d`, 'told', 'text/plain'],
  ]);
  const page = await entered();
  const hosts = new Set(),
    failed = [];
  page.on('request', asked => hosts.add(new URL(asked.url()).hostname));
  page.on('requestfailed', asked => failed.push(asked.url() + ' ' + asked.failure().errorText));
  const found = /\/c\/[2-9a-hjkmnp-z]{12}/.exec(await find(long + '/a'))[0];
  await page.goto(base + found);
  const frame = page.frameLocator('#page');
  await expect(frame.locator('p')).toHaveText('told32');
  await expect.poll(() => frame.locator('img').evaluate(picture => picture.naturalWidth)).toBe(31);
  expect(failed).toEqual([]);
  const archived = [...hosts].filter(host => host !== 'ypomna.test');
  expect(archived.length).toBeGreaterThanOrEqual(3);
  for (const host of archived) expect(host).toMatch(/^[a-z2-7]{26}[asop][htwv]-[a-z0-9-]{1,34}\.pages\.ypomna\.test$/);
  // The permanent address that is copied leads here from everywhere.
  await expect(page.locator(`[data-copy="${base + found}"]`)).toHaveCount(1);
  // The page's host alone is the right, and it ends with the session.
  const address = page.frames()[1].url();
  const strangersStatus = async () => {
    const stranger = await browser.newContext({ storageState: { cookies: [], origins: [] } });
    const status = (await (await stranger.newPage()).goto(address)).status();
    await stranger.close();
    return status;
  };
  expect(await strangersStatus()).toBe(200);
  await page.goto(base + '/me');
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await expect(page).toHaveURL(/\/sign-in/);
  expect(await strangersStatus()).toBe(404);
  await page.close();
});

test('a hostile page reaches nothing there either', async () => {
  test.setTimeout(420_000);
  await (await entered()).close();
  const { leaks, shown } = await readAll(base, file => ypomna(['import', file]), find, { cookies: await context.cookies(), home });
  expect(shown).toEqual({ alive: names, still: names });
  expect(leaks).toEqual({ alive: [], still: [] });
});
