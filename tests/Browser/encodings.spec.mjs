import { test, expect } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

// Bytes put together by chance become the same text here as in the browser, whatever the encoding.

const ENCODINGS = [
  'utf-8',
  'utf-16le',
  'utf-16be',
  'gbk',
  'gb18030',
  'big5',
  'euc-jp',
  'iso-2022-jp',
  'shift_jis',
  'euc-kr',
  'ibm866',
  'iso-8859-2',
  'iso-8859-3',
  'iso-8859-4',
  'iso-8859-5',
  'iso-8859-6',
  'iso-8859-7',
  'iso-8859-8',
  'iso-8859-8-i',
  'iso-8859-10',
  'iso-8859-13',
  'iso-8859-14',
  'iso-8859-15',
  'iso-8859-16',
  'koi8-r',
  'koi8-u',
  'macintosh',
  'windows-874',
  'windows-1250',
  'windows-1251',
  'windows-1252',
  'windows-1253',
  'windows-1254',
  'windows-1255',
  'windows-1256',
  'windows-1257',
  'windows-1258',
  'x-mac-cyrillic',
  'x-user-defined',
];
const PIECES = [
  [0x1b, 0x24, 0x42],
  [0x1b, 0x28, 0x42],
  [0x1b, 0x28, 0x4a],
  [0x1b, 0x28, 0x49],
  [0x1b, 0x24],
  [0x1b],
  [0x0e],
  [0x8f, 0xa2, 0xaf],
  [0x8e, 0xb1],
  [0x81, 0x30, 0x81, 0x30],
  [0x84, 0x31, 0xa4, 0x37],
  [0x90, 0x30, 0x81, 0x30],
  [0xe3, 0x32, 0x9a, 0x35],
  [0xd8, 0x00],
  [0x00, 0xdc],
  [0xe2, 0x82, 0xac],
  [0xf0, 0x9f, 0x8c, 0x8a],
  [0xf0, 0x9f],
  [0xed, 0xa0, 0x80],
  [0xc0, 0x80],
  [0x20],
  [0x41],
  [0x5c, 0x7e],
];
const COUNT = 250;

// Where this browser leaves the standard, and we do not: four pairs of Big5 that are two characters; a sequence of three bytes in EUC-JP
// without its third; what follows half an escape in ISO-2022-JP.
// eslint-disable-next-line no-control-regex -- escapes are what it is about
const UNLIKE = { big5: /\x88[\x62\x64\xa3\xa5]/, 'euc-jp': /\x8f[\xa1-\xfe][^\xa1-\xfe]/, 'iso-2022-jp': /\x1b[$(][\x1b\x80-\xff]/ };

test('bytes become the text that the browser makes of them', async ({ page }) => {
  let seed = 20261130;
  const chance = n => {
    seed = (seed + 0x6d2b79f5) | 0;
    let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) % n;
  };
  const cases = [];
  for (const encoding of ENCODINGS) {
    for (let i = 0; i < COUNT; ++i) {
      const bytes = [];
      for (let j = chance(24); j >= 0; --j) {
        const kind = chance(4);
        bytes.push(
          ...(0 === kind ? PIECES[chance(PIECES.length)] : 1 === kind ? [0x21 + chance(0x5e)] : [0x80 + chance(0x80), chance(0x100)]),
        );
      }
      if (!UNLIKE[encoding]?.test(Buffer.from(bytes).toString('latin1'))) {
        cases.push([encoding, bytes]);
      }
    }
  }
  await page.goto('about:blank');
  const wanted = await page.evaluate(all => all.map(([encoding, bytes]) => new TextDecoder(encoding).decode(new Uint8Array(bytes))), cases);
  const got = execFileSync('php', [fileURLToPath(new URL('../Support/decode.php', import.meta.url))], {
    input: cases.map(([encoding, bytes]) => `${encoding} ${Buffer.from(bytes).toString('base64')}\n`).join(''),
    maxBuffer: 1 << 26,
  })
    .toString()
    .trimEnd()
    .split('\n')
    .map(line => Buffer.from(line, 'base64').toString());
  const wrong = [];
  cases.forEach(
    ([encoding, bytes], i) =>
      got[i] !== wanted[i].toWellFormed() && wrong.push([encoding, Buffer.from(bytes).toString('hex'), wanted[i], got[i]]),
  );
  expect(wrong.slice(0, 5)).toEqual([]);
  expect(got.length).toBe(cases.length);
});
