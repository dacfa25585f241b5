// Constructs of pages: each a document and its parts at lantern.test and cdn.test, and what a reader must find afterwards.
// `check` runs in the page's own document once it has loaded; it gives true, or says what is wrong. The same holds of the page
// alive, and text and picture are the same there, except for what `explained` says.
import { createHash } from 'node:crypto';

const pngSize = (w, h) => `<svg xmlns="http://www.w3.org/2000/svg" width="${w}" height="${h}"/>`;
const L = 'http://lantern.test',
  C = 'https://cdn.test',
  W = 'https://pictures-and-other-parts-of-pages.delivered-from-everywhere.by-a-name-of-great-length.cdn.test';
const html = body => `<!doctype html><meta charset="utf-8"><title>x</title>${body}`;
const digest = (algorithm, text) => algorithm + '-' + createHash(algorithm).update(text).digest('base64');
const loaded = 'document.querySelector("img").naturalWidth > 0';

const icons =
  '<svg xmlns="http://www.w3.org/2000/svg"><style>.boat{fill:#246}</style><symbol id="boat">' +
  '<rect class="boat" width="90" height="50"/></symbol></svg>';
const boat = 'document.querySelector("use").getBBox().width === 90';

/** Sounds of three seconds, without anything to hear: as samples, as frames of one rate, as pages the last of which says how long it is. */
const wave = () => {
  const head = Buffer.alloc(44);
  for (const [at, text] of [
    [0, 'RIFF'],
    [8, 'WAVEfmt '],
    [36, 'data'],
  ])
    head.write(text, at);
  for (const [at, number] of [
    [4, 36 + 24_000],
    [16, 16],
    [24, 8_000],
    [28, 8_000],
    [40, 24_000],
  ])
    head.writeUInt32LE(number, at);
  for (const [at, number] of [
    [20, 1],
    [22, 1],
    [32, 1],
    [34, 8],
  ])
    head.writeUInt16LE(number, at);
  return Buffer.concat([head, Buffer.alloc(24_000, 128)]);
};
const frames = () => Buffer.concat(Array(115).fill(Buffer.concat([Buffer.from([0xff, 0xfb, 0x90, 0xc4]), Buffer.alloc(413)])));
const pages = () => {
  const sum = bytes => {
    let crc = 0;
    for (const byte of bytes) {
      crc ^= byte << 24;
      for (let k = 0; k < 8; k++) crc = crc & 0x80000000 ? (crc << 1) ^ 0x04c11db7 : crc << 1;
    }
    return crc >>> 0;
  };
  const page = (kind, granule, n, packets) => {
    const sizes = packets.flatMap(packet => [...Array(Math.floor(packet.length / 255)).fill(255), packet.length % 255]);
    const head = Buffer.alloc(27);
    head.write('OggS', 0);
    [head[5], head[26]] = [kind, sizes.length];
    head.writeBigUInt64LE(BigInt(granule), 6);
    head.writeUInt32LE(7, 14);
    head.writeUInt32LE(n, 18);
    const all = Buffer.concat([head, Buffer.from(sizes), ...packets]);
    all.writeUInt32LE(sum(all), 22);
    return all;
  };
  const begin = Buffer.from('OpusHead\x01\x01\x00\x00\x80\xbb\x00\x00\x00\x00\x00', 'latin1');
  const tags = Buffer.concat([Buffer.from('OpusTags'), Buffer.alloc(8)]);
  const silence = Buffer.concat([Buffer.from([0xf8, 0xff, 0xfe]), Buffer.alloc(240)]);
  const sounds = [1, 2, 3].map(n => page(n === 3 ? 4 : 0, n * 48_000, n + 1, Array(50).fill(silence)));
  return Buffer.concat([page(2, 0, 0, [begin]), page(0, 0, 1, [tags]), ...sounds]);
};
// How long a sound lasts that came in one piece is known for good when its end is there.
const sound = html(
  '<p>x</p><audio src="/s"></audio><script>for (const it of ["loadedmetadata", "durationchange"])' +
    ' document.querySelector("audio").addEventListener(it, e => document.querySelector("p").textContent = "lasts " +' +
    ' e.target.duration.toFixed(2))</script>',
);
const lasts = 'document.querySelector("p").textContent';
const sounds = { samples: ['audio/wav', wave()], 'frames of one rate': ['audio/mpeg', frames()], pages: ['audio/ogg', pages()] };

export const constructs = {
  'pieces of a drawing': {
    page: html('<svg width=100 height=60><use href="/i.svg#boat"></use></svg>'),
    parts: { [`${L}/i.svg`]: ['image/svg+xml', icons] },
    check: boat,
  },
  'pieces of a drawing, of the older kind': {
    page: html('<base href="/d/"><svg width=100 height=60><use xlink:href="i.svg?v=1#boat"/></svg>'),
    parts: { [`${L}/d/i.svg?v=1`]: ['image/svg+xml', icons] },
    check: boat,
  },
  'pieces of a drawing that a script sets': {
    page: html(
      '<svg width=100 height=60></svg><script>setTimeout(() => { document.querySelector("svg").innerHTML = \'<use href="/i.svg#ship">\';' +
        ' document.querySelector("use").setAttribute("href", "/i.svg#boat"); }, 100)</script>',
    ),
    parts: { [`${L}/i.svg`]: ['image/svg+xml', icons] },
    check: boat,
  },
  'pieces of a drawing on another host': {
    page: html(`<svg width=100 height=60><use href="${C}/i.svg#boat"></use></svg>`),
    parts: { [`${C}/i.svg`]: ['image/svg+xml', icons] },
    check: 'document.querySelector("use").getBBox().width === 0',
  },
  ...Object.fromEntries(
    Object.entries(sounds).flatMap(([name, [type, body]]) => [
      [
        `sound as ${name}, in ranges`,
        {
          page: sound,
          parts: { [`${L}/s`]: [type, body, undefined, 200, 'Accept-Ranges: bytes'] },
          check: lasts + '.startsWith("lasts 3.0")',
        },
      ],
      [`sound as ${name}, in one piece`, { page: sound, parts: { [`${L}/s`]: [type, body] }, check: lasts + '.startsWith("lasts ")' }],
    ]),
  ),
  'relative picture': { page: html('<img src="a.svg">'), parts: { [`${L}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] }, check: loaded },
  'absolute picture on another host': {
    page: html(`<img src="${C}/a.svg">`),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: loaded,
  },
  'address without scheme': {
    page: html('<img src="//cdn.test/a.svg">'),
    parts: { 'http://cdn.test/a.svg': ['image/svg+xml', pngSize(3, 3)] },
    check: loaded,
  },
  'picture kept over https, asked for over http': {
    page: html('<img src="http://cdn.test/a.svg">'),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: loaded,
  },
  srcset: {
    page: html(`<img srcset="${C}/a.svg 1x, ${C}/b.svg 2x">`),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: loaded,
  },
  'picture element': {
    page: html(`<picture><source srcset="${C}/a.svg" type="image/svg+xml"><img></picture>`),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: loaded,
  },
  'base for another host': {
    page: html(`<base href="${C}/d/"><img src="a.svg">`),
    parts: { [`${C}/d/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: loaded,
  },
  'style sheet with integrity': {
    page: html(`<link rel=stylesheet integrity="${digest('sha256', 'p{color:rgb(1,2,3)}')}" crossorigin href="${C}/a.css"><p>x`),
    parts: { [`${C}/a.css`]: ['text/css', 'p{color:rgb(1,2,3)}'] },
    check: 'getComputedStyle(document.querySelector("p")).color === "rgb(1, 2, 3)"',
  },
  'imported style sheet': {
    page: html(`<style>@import url(${C}/a.css);</style><p>x`),
    parts: { [`${C}/a.css`]: ['text/css', '@import "b.css";'], [`${C}/b.css`]: ['text/css', 'p{color:rgb(1,2,3)}'] },
    check: 'getComputedStyle(document.querySelector("p")).color === "rgb(1, 2, 3)"',
  },
  'style sheet in another encoding': {
    page: html(`<link rel=stylesheet href="${L}/a.css"><p>x`),
    parts: { [`${L}/a.css`]: ['text/css', Buffer.from('@charset "iso-8859-7";p::after{content:"\xe1"}', 'latin1')] },
    check: 'getComputedStyle(document.querySelector("p"), "::after").content === "\\"α\\""',
  },
  'inline script': {
    page: html('<p>x<script>document.querySelector("p").textContent = "done"</script>'),
    check: 'document.querySelector("p").textContent === "done"',
  },
  'script on another host with integrity': {
    page: html(
      `<p>x</p><script src="${C}/a.js" integrity="${digest('sha384', 'document.querySelector("p").textContent = "done"')}"` +
        ` crossorigin></script>`,
    ),
    parts: { [`${C}/a.js`]: ['text/javascript', 'document.querySelector("p").textContent = "done"'] },
    check: 'document.querySelector("p").textContent === "done"',
  },
  'module with a relative import': {
    page: html('<p>x</p><script type=module src="/m/a.js"></script>'),
    parts: {
      [`${L}/m/a.js`]: ['text/javascript', 'import {word} from "./b.js"; document.querySelector("p").textContent = word'],
      [`${L}/m/b.js`]: ['text/javascript', 'export const word = "done"'],
    },
    check: 'document.querySelector("p").textContent === "done"',
  },
  'module with an absolute import': {
    page: html(`<p>x</p><script type=module>import {word} from "${C}/b.js"; document.querySelector("p").textContent = word</script>`),
    parts: {
      [`${C}/b.js`]: ['text/javascript', `export {word} from "${C}/c.js"`],
      [`${C}/c.js`]: ['text/javascript', 'export const word = "done"'],
    },
    check: 'document.querySelector("p").textContent === "done"',
  },
  'import map': {
    page: html(
      `<p>x</p><script type=importmap>{"imports":{"lib":"${C}/b.js"}}</script><script type=module>import {word} from "lib";` +
        ` document.querySelector("p").textContent = word</script>`,
    ),
    parts: { [`${C}/b.js`]: ['text/javascript', 'export const word = "done"'] },
    check: 'document.querySelector("p").textContent === "done"',
  },
  'dynamic import': {
    page: html(`<p>x</p><script>import("${C}/b.js").then(m => document.querySelector("p").textContent = m.word)</script>`),
    parts: { [`${C}/b.js`]: ['text/javascript', 'export const word = "done"'] },
    check: 'document.querySelector("p").textContent === "done"',
  },
  'fetch, relative': {
    page: html(
      '<p>x</p><script>fetch("data.json?q=ä").then(r => r.json()).then(d => document.querySelector("p").textContent = d.word)</script>',
    ),
    parts: { [`${L}/data.json?q=%C3%A4`]: ['application/json', '{"word":"done"}'] },
    check: 'document.querySelector("p").textContent === "done"',
  },
  'fetch with credentials': {
    page: html(
      `<p>x</p><script>fetch("${C}/data.json", {credentials: "include", headers: {"X-Own": "1"}}).then(r => r.json()).then(d =>` +
        ` document.querySelector("p").textContent = d.word)</script>`,
    ),
    parts: { [`${C}/data.json`]: ['application/json', '{"word":"done"}'] },
    check: 'document.querySelector("p").textContent === "done"',
  },
  'fetch, same origin only': {
    page: html(
      '<p>x</p><script>fetch(new Request("/data.json", {mode: "same-origin"})).then(r => r.json()).then(d =>' +
        ' document.querySelector("p").textContent = d.word)</script>',
    ),
    parts: { [`${L}/data.json`]: ['application/json', '{"word":"done"}'] },
    check: 'document.querySelector("p").textContent === "done"',
  },
  'request of the older kind': {
    page: html(
      `<p>x</p><script>const x = new XMLHttpRequest; x.open("GET", "${C}/data.txt", false); x.send();` +
        ` document.querySelector("p").textContent = x.responseText</script>`,
    ),
    parts: { [`${C}/data.txt`]: ['text/plain', 'done'] },
    check: 'document.querySelector("p").textContent === "done"',
  },
  'posts told apart by what was sent': {
    page: html(
      '<p>x</p><script>const ask = q => fetch("/ask", {method: "POST", body: q, headers: {"Content-Type":' +
        ' "application/json"}}).then(r => r.text()); Promise.all([ask("two"), ask("one"), ask("other")]).then(all =>' +
        ' document.querySelector("p").textContent = all.join())</script>',
    ),
    parts: {
      [`${L}/ask`]: [
        ['text/plain', 'first', 'one'],
        ['text/plain', 'second', 'two'],
      ],
    },
    check: '/^second,first,(first|second)$/.test(document.querySelector("p").textContent)',
  },
  worker: {
    page: html(
      '<p>x</p><script>const w = new Worker("/w/w.js"); w.onmessage = e => document.querySelector("p").textContent = e.data</script>',
    ),
    parts: {
      [`${L}/w/w.js`]: [
        'text/javascript',
        'importScripts("part.js"); fetch("data.txt").then(r => r.text()).then(t => postMessage(word + t))',
      ],
      [`${L}/w/part.js`]: ['text/javascript', 'var word = "do"'],
      [`${L}/w/data.txt`]: ['text/plain', 'ne'],
    },
    check: 'document.querySelector("p").textContent === "done"',
  },
  'module worker': {
    page: html(
      '<p>x</p><script>const w = new Worker("/w/w.js", {type: "module"}); w.onmessage = e => document.querySelector("p").textContent' +
        ' = e.data</script>',
    ),
    parts: {
      [`${L}/w/w.js`]: ['text/javascript', 'import {word} from "./part.js"; postMessage(word)'],
      [`${L}/w/part.js`]: ['text/javascript', 'export const word = "done"'],
    },
    check: 'document.querySelector("p").textContent === "done"',
  },
  'parts at hosts whose names are too long for a label': {
    page: html(
      `<link rel="stylesheet" href="${W}/s/style.css"><p>x</p><i></i><img src="${W}/a.svg"><iframe src="${W}/f/inner.html"></iframe>` +
        '<script>const said = {}, say = (what, value) => { said[what] = value; document.querySelector("p").textContent =' +
        ' Object.keys(said).sort().map(k => k + "=" + said[k]).join() };' +
        ' addEventListener("message", e => typeof e.data === "string" && say("frame", e.data));' +
        ` const i = new Image(); i.onload = () => say("picture", i.naturalWidth); i.src = "${W}/made.svg";` +
        ` fetch("${W}/data.txt?a=b&c").then(r => r.text()).then(t => say("asked", t));` +
        ` const s = document.createElement("script"); s.src = "${W}/s/more.js"; document.body.append(s);` +
        ` new Worker("/w.js").onmessage = e => say("worker", e.data);` +
        ` import("${W}/m/module.js").then(m => say("module", m.word))</script>`,
    ),
    parts: {
      [`${W}/s/style.css`]: ['text/css', '@import "more.css"; i{display:block;height:20px;background:url(../a.svg)}'],
      [`${W}/s/more.css`]: ['text/css', 'i{width:33px}'],
      [`${W}/a.svg`]: ['image/svg+xml', pngSize(21, 21)],
      [`${W}/made.svg`]: ['image/svg+xml', pngSize(22, 22)],
      [`${W}/data.txt?a=b&c`]: ['text/plain', 'here', undefined, 200, 'Access-Control-Allow-Origin: *'],
      [`${W}/s/more.js`]: ['text/javascript', 'say("script", "run")'],
      [`${L}/w.js`]: ['text/javascript', `importScripts("${W}/w/part.js"); postMessage(word)`],
      [`${W}/w/part.js`]: ['text/javascript', 'var word = "done"'],
      [`${W}/m/module.js`]: ['text/javascript', 'export {word} from "./inner.js"', undefined, 200, 'Access-Control-Allow-Origin: *'],
      [`${W}/m/inner.js`]: ['text/javascript', 'export const word = "deep"', undefined, 200, 'Access-Control-Allow-Origin: *'],
      [`${W}/f/inner.html`]: [
        'text/html',
        `<p>in</p><script>fetch("${W}/f/own.txt").then(r => r.text()).then(a => fetch("/f/own.txt").then(r => r.text())` +
          '.then(b => parent.postMessage(a + b, "*")))</script>',
      ],
      [`${W}/f/own.txt`]: ['text/plain', 'own'],
    },
    check:
      'document.querySelector("p").textContent ===' +
      ' "asked=here,frame=ownown,module=deep,picture=22,script=run,worker=done" && document.querySelector("i").offsetWidth === 33 &&' +
      ' document.querySelector("img").naturalWidth === 21 || document.querySelector("p").textContent',
    frames: 'in',
  },
  storage: {
    page: html(
      '<p>x</p><script>localStorage.setItem("a", 1); localStorage.b = 2; sessionStorage["c"] = 3;' +
        ' document.querySelector("p").textContent = [localStorage.a, localStorage.getItem("b"), sessionStorage.c,' +
        ' localStorage.length, Object.keys(localStorage), "a" in localStorage].join()</script>',
    ),
    check: 'document.querySelector("p").textContent === "1,2,3,2,a,b,true"',
  },
  'storage by its prototype': {
    page: html(
      '<p>x</p><script>try { Storage.prototype.setItem.call(localStorage, "a", 1); const s = window["localStorage"]; s.setItem("__t",' +
        ' "__t"); s.removeItem("__t");' +
        ' document.querySelector("p").textContent = [localStorage instanceof Storage, Object.prototype.toString.call(sessionStorage),' +
        ' s.getItem("a"), s.key(0), JSON.stringify(s)].join() } catch (e) {}</script>',
    ),
    check: 'document.querySelector("p").textContent === "true,[object Storage],1,a,{\\"a\\":\\"1\\"}"',
  },
  'storage that is full': {
    page: html(
      '<p>x</p><script>try { for (let i = 0; i < 99; i++) localStorage["k" + i] = "x".repeat(1e6) } catch (e) {' +
        ' document.querySelector("p").textContent = e.name; localStorage.clear() }</script>',
    ),
    check: 'document.querySelector("p").textContent === "QuotaExceededError"',
  },
  'written into a blank frame': {
    page: html(
      '<iframe></iframe><script>const d = document.querySelector("iframe").contentWindow.document; d.open(); d.write("<p>written' +
        ' in"); d.write(" the frame</p>"); d.close()</script>',
    ),
    frames: 'written in the frame',
    explained: { picture: 'a frame with its markup in an attribute has no quirks mode: margins differ' },
  },
  'made in a blank frame': {
    page: html(
      '<p>x</p><script>const f = document.createElement("iframe"); document.body.append(f); f.contentDocument.body.innerHTML = "<p>' +
        'made in it</p>"; f.contentDocument.body.append("and more")</script>',
    ),
    frames: 'and more',
    explained: { picture: 'the same' },
  },
  'its own address': {
    page: html('<p>x</p><script>document.querySelector("p").textContent = document.URL.replace(/page-.*/, "")</script>'),
    check: `document.querySelector("p").textContent === "${L}/"`,
  },
  'script in another encoding': {
    type: 'text/html; charset=gbk',
    page: Buffer.from('3c21646f63747970652068746d6c3e3c703e783c2f703e3c736372697074207372633d612e6a733e3c2f7363726970743e', 'hex'),
    parts: {
      [`${L}/a.js`]: [
        'text/javascript',
        Buffer.concat([
          Buffer.from('document.querySelector("p").textContent = "'),
          Buffer.from('b6c9c2d6cda3d4dab8dbbfda', 'hex'),
          Buffer.from('"'),
        ]),
      ],
    },
    check: 'document.querySelector("p").textContent === "渡轮停在港口"',
  },
  cookies: {
    page: html(
      '<p>x</p><script>document.cookie = "a=1; path=/"; document.cookie = "b=2; max-age=60"; document.cookie = "a=; expires=Thu, 01' +
        ' Jan 1970 00:00:00 GMT"; document.querySelector("p").textContent = document.cookie</script>',
    ),
    check: 'document.querySelector("p").textContent === "b=2"',
  },
  dates: {
    page: html(
      '<p>x</p><script>const d = new Date; document.querySelector("p").textContent = [d.getFullYear(), new Date(0).getTime(), d' +
        ' instanceof Date, typeof Date(), Date.now() - d < 1000, new Intl.DateTimeFormat("en", {year:' +
        ' "numeric"}).format()].join()</script>',
    ),
    check: 'document.querySelector("p").textContent === "2024,0,true,string,true,2024"',
  },
  'history of an application': {
    page: html(
      '<p>x</p><script>history.pushState({n: 1}, "", "/other"); history.replaceState({n: 2}, "", "http://lantern.test/third");' +
        ' document.querySelector("p").textContent = "done" + history.state.n</script>',
    ),
    check: 'document.querySelector("p").textContent === "done2"',
  },
  'what the sandbox withholds': {
    page: html(
      '<p>x</p><script>(async () => { await navigator.serviceWorker.register("/sw.js").catch(() => 0); await caches.open("x");' +
        ' document.domain = "lantern.test"; document.querySelector("p").textContent = "done" + window.origin })()</script>',
    ),
    check: 'document.querySelector("p").textContent === "donehttp://lantern.test"',
    explained: {
      alive: 'over http a live page has neither caches nor service workers',
      text: 'so its script ends there',
      picture: 'so its script ends there',
    },
  },
  'written into the document': {
    page: html(`<script>document.write('<img src="${C}/a.svg"><scr' + 'ipt src="//cdn.test/b.js"></scr' + 'ipt>')</script>`),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)], 'http://cdn.test/b.js': ['text/javascript', 'document.title = "written"'] },
    check: `${loaded} && document.title === "written"`,
  },
  'markup set by a script': {
    page: html(`<div></div><script>document.querySelector("div").innerHTML = '<img src="${C}/a.svg">'</script>`),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: loaded,
  },
  'attributes set by a script': {
    page: html(`<p>x</p><script>const i = new Image; i.setAttribute("srcset", "${C}/a.svg 1x"); document.body.append(i)</script>`),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: loaded,
  },
  'style set by a script': {
    page: html(`<p>x</p><script>document.querySelector("p").style.backgroundImage = "url(${C}/a.svg)"</script>`),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check:
      '/^url\\("http:\\/\\/[a-z2-9]{12}at-cdn-test\\./.test(getComputedStyle(document.querySelector("p")).backgroundImage) &&' +
      ' performance.getEntriesByType("resource").some(e => e.name.endsWith("/a.svg") && e.encodedBodySize > 0)',
    explained: { alive: 'the check looks for the host in the archive' },
  },
  'style sheet built by a script': {
    page: html(
      `<p>x</p><script>const s = document.createElement("link"); s.rel = "stylesheet"; s.href = "//cdn.test/a.css";` +
        ` document.head.append(s)</script>`,
    ),
    parts: { 'http://cdn.test/a.css': ['text/css', 'p{color:rgb(1,2,3)}'] },
    check: 'getComputedStyle(document.querySelector("p")).color === "rgb(1, 2, 3)"',
  },
  font: {
    page: html('<style>@font-face{font-family:Own;src:url(/f.woff2)}p{font-family:Own}</style><p>x'),
    parts: { [`${L}/f.woff2`]: ['font/woff2', 'FONT'] },
    check: 'document.fonts.ready.then(() => [...document.fonts][0].status === "loaded")',
  },
  frame: {
    page: html('<iframe src="frame.html"></iframe>'),
    parts: { [`${L}/frame.html`]: ['text/html', html('<p>in the frame</p>')] },
    frames: 'in the frame',
  },
  'frame with its markup in an attribute': {
    page: html(`<iframe srcdoc="&lt;p>in the frame&lt;/p>&lt;img src=&quot;${C}/a.svg&quot;>"></iframe>`),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    frames: 'in the frame',
  },
  'old frameset': {
    page:
      '<html><head><title>x</title></head><frameset cols="50%,50%"><frame name="left" src="left.html"><frame name="right"' +
      ' src="right.html"></frameset></html>',
    parts: {
      [`${L}/left.html`]: ['text/html', '<a href="next.html" target="right">go</a>'],
      [`${L}/right.html`]: ['text/html', '<p>at first</p>'],
      [`${L}/next.html`]: ['text/html', '<p>then this</p>'],
    },
    frames: 'at first',
    click: 'go',
    then: 'then this',
  },
  'link out of a frame': {
    page: html('<iframe src="frame.html"></iframe>'),
    parts: {
      [`${L}/frame.html`]: ['text/html', '<a href="/next.html" target="_top">go</a>'],
      [`${L}/next.html`]: ['text/html', html('<p>then this</p>')],
    },
    frames: 'go',
    click: 'go',
    then: 'then this',
  },
  'window that a script opens': {
    page: html("<button onclick=\"window.open('/next.html', 'w', 'width=100')\">go</button>"),
    parts: { [`${L}/next.html`]: ['text/html', html('<p>then this</p>')] },
    click: 'go',
    then: 'then this',
  },
  'form that asks': {
    page: html('<form action="/find"><input name="q" value="door"><button>go</button></form>'),
    parts: { [`${L}/find?q=door`]: ['text/html', html('<p>then this</p>')] },
    click: 'go',
    then: 'then this',
  },
  'form that sends': {
    page: html('<form action="/send" method="post"><input name="q" value="door"><button>go</button></form>'),
    parts: {
      [`${L}/send`]: [
        ['text/html', html('<p>other</p>'), 'q=seal'],
        ['text/html', html('<p>then this</p>'), 'q=door'],
      ],
    },
    click: 'go',
    then: 'then this',
  },
  'form that a script answers': {
    page: html("<form onsubmit=\"document.querySelector('p').textContent = 'then this'; return false\"><button>go</button></form><p>x"),
    click: 'go',
    then: 'then this',
  },
  'image map': {
    page: html(
      `<img src="a.svg" width=40 height=40 usemap="#m"><map name="m"><area shape="rect" coords="0,0,40,40" href="${L}/next.html"` +
        ` alt="go"></map>`,
    ),
    parts: { [`${L}/a.svg`]: ['image/svg+xml', pngSize(40, 40)], [`${L}/next.html`]: ['text/html', html('<p>then this</p>')] },
    clickOn: 'area',
    then: 'then this',
  },
  refresh: {
    page: html(`<meta http-equiv="refresh" content="0; url=${L}/next.html">`),
    parts: { [`${L}/next.html`]: ['text/html', html('<p>then this</p>')] },
    then: 'then this',
  },
  'table with backgrounds': {
    page: `<html><body background="${C}/a.svg"><table background="//cdn.test/b.svg"><tr><td>x</table></body></html>`,
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)], 'http://cdn.test/b.svg': ['image/svg+xml', pngSize(3, 3)] },
    check: 'performance.getEntriesByType("resource").filter(e => /\\/[ab]\\.svg$/.test(e.name) && e.encodedBodySize > 0).length === 2',
    explained: { alive: 'alive, a page is not told the size of such parts' },
  },
  'svg in the page': {
    page: html(
      `<svg xmlns:xlink="http://www.w3.org/1999/xlink"><image xlink:href="${C}/a.svg" width="3" height="3"/><use href="#x"/></svg>`,
    ),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: 'performance.getEntriesByType("resource").some(e => e.name.endsWith("/a.svg") && e.encodedBodySize > 0)',
    explained: { alive: 'alive, a page is not told the size of such parts' },
  },
  'document of XHTML': {
    type: 'application/xhtml+xml',
    page:
      `<?xml version="1.0"?><!DOCTYPE html><html xmlns="http://www.w3.org/1999/xhtml"><head><title>x</title></head><body><p>` +
      `here<br/></p><img src="${C}/a.svg" alt=""/></body></html>`,
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: `${loaded} && document.querySelector("p").textContent === "here"`,
  },
  'declared shadow root': {
    page: html(`<div><template shadowrootmode="open"><img src="${C}/a.svg"></template></div>`),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: 'document.querySelector("div").shadowRoot.querySelector("img").naturalWidth > 0',
  },
  'data that looks like an address': {
    page: html(`<script type="application/ld+json">{"url":"${L}/a"}</script>`),
    check: `JSON.parse(document.querySelector("script[type*=json]").textContent).url === "${L}/a"`,
  },
  'encoding by meta': {
    type: 'text/html',
    page: Buffer.from('<!doctype html><meta charset="windows-1253"><p>\xcc\xdd\xe3\xe1</p>', 'latin1'),
    check: 'document.querySelector("p").textContent === "Μέγα"',
  },
  'encoding by header against meta': {
    type: 'text/html; charset=utf-8',
    page: '<!doctype html><meta charset="windows-1253"><p>ä</p>',
    check: 'document.querySelector("p").textContent === "ä"',
  },
  'policy of its own in the markup': {
    page: html('<meta http-equiv="Content-Security-Policy" content="default-src \'none\'"><img src="a.svg">'),
    parts: { [`${L}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: loaded,
    explained: {
      alive: 'a policy of the page is dropped: the hosts that it names are others here, and the wall stands without it',
      picture: 'so its picture shows',
    },
  },
  'redirected picture': {
    page: html('<img src="/old.svg">'),
    parts: { [`${L}/old.svg`]: ['text/html', '', null, 302, `Location: ${C}/a.svg`], [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: loaded,
  },
  'query in another order': {
    page: html('<img src="/i?b=2&a=1">'),
    parts: { [`${L}/i?a=1&b=2`]: ['image/svg+xml', pngSize(3, 3)] },
    check: loaded,
    explained: { alive: 'a server may tell the two apart; the archive answers with what it has', picture: 'so its picture shows' },
  },
  'sound with ranges': {
    page: html(
      '<p>x</p><script>fetch("/s.bin", {headers: {Range: "bytes=2-4"}}).then(async r => document.querySelector("p").textContent =' +
        ' r.status + await r.text())</script>',
    ),
    parts: { [`${L}/s.bin`]: ['application/octet-stream', '0123456789', undefined, 200, 'Accept-Ranges: bytes'] },
    check: 'document.querySelector("p").textContent === "206234"',
  },
  'stream of events that is not kept': {
    page: html(
      '<p>x</p><script>try { new EventSource("http://live.test/e"); new WebSocket("ws://live.test/w") } catch (e) {}' +
        ' navigator.sendBeacon("http://live.test/b"); document.querySelector("p").textContent = "done"</script>',
    ),
    check: 'document.querySelector("p").textContent === "done"',
  },
  'script that frames break': {
    page: html(
      '<p>x</p><script>if (top !== self) { try { top.location = self.location } catch (e) {} }' +
        ' document.querySelector("p").textContent = "done"</script>',
    ),
    check: 'document.querySelector("p").textContent === "done"',
  },
  'question to the reader': {
    page: html(
      '<p>x</p><script>alert(1); const a = confirm("?"), b = prompt("?"); document.querySelector("p").textContent = "done" + a +' +
        ' b</script>',
    ),
    check: 'document.querySelector("p").textContent === "donefalsenull"',
  },
  noscript: { page: html('<noscript><p>without</p></noscript><div>x</div>'), check: 'document.querySelector("p") === null' },
  'custom element': {
    page: html(
      `<x-y></x-y><script>customElements.define("x-y", class extends HTMLElement { connectedCallback() { this.attachShadow({mode:` +
        ` "open"}).innerHTML = '<img src="${C}/a.svg">' } })</script>`,
    ),
    parts: { [`${C}/a.svg`]: ['image/svg+xml', pngSize(3, 3)] },
    check: 'document.querySelector("x-y").shadowRoot.querySelector("img").naturalWidth > 0',
  },
};
