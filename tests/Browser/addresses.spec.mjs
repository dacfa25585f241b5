import { test, expect } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

// Addresses put together by chance are read here as in the browser, or as by the parser of Node.js: where the two differ, one of them is
// behind the URL Standard. The browser takes blanks and broken punycode in host names, Node.js does not look at the direction of letters
// and leaves “^” as it is.

const BASES = ['', 'http://lantern.test/a/b?c#d', 'https://lantern.test/x', 'http://lantern.test:8080/../y/', 'https://u:p@lantern.test/'];
const PIECES = [
  'http:',
  'https:',
  'http://',
  'https://',
  'HTTP:',
  '/',
  '//',
  '\\',
  'lantern.test',
  'Lantern.TEST',
  'a.b',
  '.',
  '..',
  '/./',
  '/../',
  '%2e',
  '%2E%2e',
  '?',
  '#',
  '@',
  ':',
  ':80',
  ':443',
  ':00080',
  ':0',
  ':65535',
  ':65536',
  ':1x',
  'u:p@',
  'u@',
  ':@',
  '@@',
  '::',
  '[::1]',
  '[1:2::3.4.5.6]',
  '[1::2::3]',
  '1.2.3.4',
  '0x7f.1',
  '127.1',
  '256',
  '1.2.3',
  '09',
  '0x',
  '.5',
  '4.',
  ' ',
  '\t',
  '\n',
  '%20',
  '%',
  '%zz',
  '%41',
  'a b',
  '"',
  '<',
  '>',
  '`',
  '{',
  '}',
  '|',
  '^',
  "'",
  '~',
  'ä',
  'ß',
  'ς',
  'αλυκή',
  'ａ．ｂ',
  '。',
  '\u200d',
  'क्\u200dष',
  '\u200c',
  '\u00ad',
  'xn--jxaf1ad4c',
  '-',
  'a-',
  '-b',
  'ab--c',
  'ä--',
  'x'.repeat(64),
  'ö'.repeat(60),
  'שלום',
  'a.שלום',
  '1שלום',
  '☃',
  '😆',
  '=',
  '&',
  ';',
  '+',
  ',',
  '!',
  '$',
  '*',
  '(',
  ')',
  '_',
  'd/e',
  'f.html',
  '?q=ä',
  '#ä "',
];
const COUNT = 8000;

test('addresses are read as the URL Standard reads them', async ({ page }) => {
  let seed = Number(process.env.SEED ?? 20261201);
  const chance = n => {
    seed = (seed + 0x6d2b79f5) | 0;
    let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) % n;
  };
  const pairs = [];
  while (pairs.length < COUNT) {
    let address = chance(3) ? ['http://', 'https://', 'http:/', 'http:', '//'][chance(5)] : '';
    for (let i = 1 + chance(6); i > 0; --i) {
      address += PIECES[chance(PIECES.length)];
    }
    pairs.push([address, BASES[chance(BASES.length)]]);
  }
  const read = all =>
    all.map(([address, base]) => {
      try {
        return new URL(address, '' === base ? undefined : base).href;
      } catch {
        return null;
      }
    });
  await page.goto('about:blank');
  const inBrowser = await page.evaluate(read, pairs);
  const inNode = read(pairs);
  const got = JSON.parse(
    execFileSync('php', [fileURLToPath(new URL('../Support/addresses.php', import.meta.url))], {
      input: JSON.stringify(pairs),
      maxBuffer: 1e9,
      encoding: 'utf8',
    }),
  );
  // Of other schemes only that they are told apart is held here.
  const isWeb = address => null === address || /^https?:/.test(address);
  const others = pairs
    .map(([address, base], i) => [address, base, inBrowser[i], inNode[i], got[i]])
    .filter(([, , browser, node, here]) => browser !== here && node !== here && isWeb(node) && isWeb(here))
    // The browser’s stroke, together with Node’s hat.
    .filter(([, , browser, , here]) => browser?.replaceAll('%7C', '|') !== here);
  expect(others.slice(0, 10)).toEqual([]);
});
