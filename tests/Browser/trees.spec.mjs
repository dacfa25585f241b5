import { test, expect } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

// Broken markup, put together by chance, becomes the same tree here as in the browser.

const PIECES = [
  '<p>',
  '</p>',
  '<div>',
  '</div>',
  '<b>',
  '</b>',
  '<i>',
  '</i>',
  '<a href=x>',
  '</a>',
  '<table>',
  '</table>',
  '<tr>',
  '<td>',
  '</td>',
  '</tr>',
  '<tbody>',
  '</tbody>',
  '<th>',
  '<caption>',
  '</caption>',
  '<ul>',
  '<li>',
  '</li>',
  '</ul>',
  '<h1>',
  '</h1>',
  '<h2>',
  'text ',
  'x',
  '&amp;',
  '&copy',
  '&notit;',
  '&#128;',
  '&#x41',
  '<br>',
  '</br>',
  '<hr>',
  '<!-- c -->',
  '<!-->',
  '<!--->',
  '<?xml a?>',
  '<!x>',
  '</ >',
  '<span>',
  '</span>',
  '<pre>',
  '</pre>',
  '\n',
  '<title>t</title>',
  '<style>s</style>',
  '<form>',
  '</form>',
  '<button>',
  '</button>',
  '<svg>',
  '</svg>',
  '<math>',
  '</math>',
  '<mi>',
  '</mi>',
  '<foreignObject>',
  '<svg><title>',
  '<dl>',
  '<dt>',
  '<dd>',
  '</dl>',
  '<template>',
  '</template>',
  '<option>',
  '<nobr>',
  '</nobr>',
  '<em>',
  '</em>',
  '<body class=k>',
  '<html lang=e>',
  '<head>',
  '</head>',
  '<body>',
  '</body>',
  '</html>',
  '<img src=i>',
  '<input>',
  '<textarea>',
  '</textarea>',
  '<center>',
  '<font color=r>',
  '</font>',
  '<thead>',
  '<col>',
  '<colgroup>',
  '<noscript>n</noscript>',
  '<iframe>f</iframe>',
  '<xmp>',
  '</xmp>',
  '<details>',
  '<summary>',
  '<section>',
  '<object>',
  '</object>',
  '<marquee>',
  '<ruby>',
  '<rt>',
  '<rp>',
  '</ruby>',
  '<![CDATA[q]]>',
  '<plaintext>',
  '<base>',
  '<meta>',
  '<link>',
  'a\0b',
  '<b>\0',
  '\v',
  '\f',
  '<frameset>',
  '<frameset rows=1>',
  '</frameset>',
  '<frame>',
  '<noframes>n</noframes>',
  '<script>s</script>',
  '<script><!--',
  '-->',
  '</script>',
  '<title>',
  '<style>',
  '<textarea>\n',
  '<pre>\n\n',
  '<svg />',
  '<math></math>',
  '<p\vx>',
  '<p x\v=y>',
  '<p/x>',
  '<p =x>',
  '</p/>',
  '<select>',
  '<option>o',
  '</select>',
  '<optgroup>',
  '<hr>',
  '<input type=hidden>',
  'x&#0;',
  '&#xD;',
  '&NotEqualTilde;',
  '&lang;',
  '&amp',
  '&ltx',
  '<a href="&ltx&lt=&lt;">',
  '<svg><desc>',
  '<svg><foreignObject>',
  '<mtext>',
  '<annotation-xml encoding=text/html>',
  '<font size=1>',
  '</svg>',
  '<embed>',
  '</body>',
  '</html>',
  '<listing>\n',
  '<dir>',
  '\r\n',
  '<image>',
  '<keygen>',
  '<wbr>',
  '<table><tr><td>',
  '<table><caption>',
  '<table>x',
  '<tr>x',
  '</th>',
  '</caption>',
  '<noscript>',
  '</noscript>',
  '<base href=x>',
  '<div></div>',
  '<h1><h2>',
  '<button><button>',
  '<a><a>',
  '<nobr><nobr>',
  '<b><p>',
  '<i><div>',
  '<address>',
  '<blockquote>',
  '</blockquote>',
  ' <',
  '"',
  '<p title="a>b">',
  '<a href="?x&copy=1&amp;y">',
];
const DOCTYPES = [
  '<!doctype html>',
  '<!doctype html>',
  '<!DOCTYPE html SYSTEM "about:legacy-compat">',
  '<!doctype html public "-//W3C//DTD HTML 4.01//EN" "http://www.w3.example/strict.dtd">',
  '<!doctype html public "-//W3C//DTD HTML 4.01 Transitional//EN">',
  '<!doctype html public "-//W3C//DTD HTML 4.01 Transitional//EN" "x">',
  "<!doctype html system 'http://www.ibm.com/data/dtd/v11/ibmxhtml1-transitional.dtd'>",
  '<!doctype html nonsense>',
  '<!doctype potato>',
  '<!doctype>',
  ' <!-- c --> <!doctype html>',
  '',
  '',
  '',
];
const COUNT = 1500;

test('pages are parsed as the browser parses them', async ({ page }) => {
  let seed = 20260301;
  const chance = n => {
    seed = (seed + 0x6d2b79f5) | 0;
    let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) % n;
  };
  const pages = [];
  while (pages.length < COUNT) {
    let html = DOCTYPES[chance(DOCTYPES.length)];
    for (let i = 1 + chance(14); i > 0; --i) {
      html += PIECES[chance(PIECES.length)];
    }
    pages.push(html);
  }
  await page.goto('about:blank');
  const wanted = await page.evaluate(all => {
    const write = (node, depth) => {
      let out = '';
      const inside = node.localName === 'template' && node.content ? node.content : node;
      for (const child of inside.childNodes) {
        const indent = ' '.repeat(depth);
        if (child.nodeType === 3 || child.nodeType === 4) {
          out += `${indent}"${child.data.replaceAll('\n', '⏎')}"\n`;
        } else if (child.nodeType === 1) {
          const attributes = [...child.attributes]
            .map(a => ` ${a.name}=${a.value}`)
            .sort()
            .join('');
          out += `${indent}<${child.localName.toLowerCase()}${attributes}>\n${write(child, depth + 1)}`;
        }
      }
      return out;
    };
    // One frame, written anew for each: making frames takes longer than reading pages.
    const frame = document.createElement('iframe');
    document.body.append(frame);
    return all.map(html => {
      const inside = frame.contentDocument;
      inside.open();
      inside.write(html);
      inside.close();
      return write(inside, 0);
    });
  }, pages);
  const got = JSON.parse(
    execFileSync('php', [fileURLToPath(new URL('../Support/trees.php', import.meta.url))], {
      input: JSON.stringify(pages),
      maxBuffer: 1e9,
      encoding: 'utf8',
    }),
  );
  // Whether one text stands in one piece or two is nobody's concern.
  const joined = tree => tree.replace(/"\n *"/g, '');
  const others = pages.filter((html, i) => joined(got[i]) !== joined(wanted[i]));
  expect(others.slice(0, 5)).toEqual([]);
});
