import { createServer } from 'node:http';

const page = (body, head = '') =>
  `<!doctype html><html><head><meta charset="utf-8"><title>Notice</title>${head}</head><body>${body}</body></html>`;
const words = n => Array.from({ length: n }, (_, i) => `<p>Passage ${i} of the notice about the stern door.</p>`).join('');
const svg = '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="40"><rect width="40" height="40" fill="teal"/></svg>';
const pdf =
  '%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj 2 0 obj<</Type/Pages/Kids[3 0 R]/Count 1>>endobj' +
  ' 3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 200 200]>>endobj\ntrailer<</Root 1 0 R>>\n%%EOF\n';
const html = { 'Content-Type': 'text/html; charset=utf-8' };

/** Pages as the web has them, by path: body, head fields, status; `alone` where no line is possible in them. */
export const pages = {
  plain: [page(words(40))],
  short: [page('<p>One line.</p>')],
  'strict-policy': [
    page(words(5)),
    { 'Content-Security-Policy': "default-src 'none'; frame-src 'none'; style-src 'none'; script-src 'none'" },
  ],
  isolated: [page(words(5)), { 'Cross-Origin-Embedder-Policy': 'require-corp', 'Cross-Origin-Opener-Policy': 'same-origin' }],
  'trusted-types': [page(words(5)), { 'Content-Security-Policy': "require-trusted-types-for 'script'; trusted-types 'none'" }],
  frames: [page('<iframe src="/plain"></iframe><iframe srcdoc="<p>inside"></iframe>' + words(5))],
  frameset: [
    '<!doctype html><html><head><title>Frames</title></head><frameset cols="50%,50%"><frame src="/plain">' +
      '<frame src="/short"></frameset></html>',
  ],
  'shadow-roots': [
    page('<div><template shadowrootmode="open"><style>p{color:teal}</style><p>In the shadow</p></template></div>' + words(5)),
  ],
  'very-long': [page(words(900))],
  sticky: [
    page(
      '<header style="position:sticky;top:0;background:#fff">Top</header><div style="position:fixed;bottom:0;right:0">Foot</div>' +
        words(80),
    ),
  ],
  dark: [page(words(10), '<style>body{background:#111;color:#eee}</style><meta name="color-scheme" content="dark">')],
  'right-to-left': [
    '<!doctype html><html dir="rtl" lang="ar"><head><meta charset="utf-8"><title>إعلان</title></head>' +
      '<body><p>إعلان عن الباب الخلفي</p></body></html>',
  ],
  zoomed: [page(words(10), '<style>html{zoom:2}</style>')],
  transformed: [page(words(10), '<style>html{transform:scale(.9);filter:contrast(1.1)}</style>')],
  unset: [page(words(10), '<style>body *,aside{display:none!important;visibility:hidden!important;opacity:0!important}</style>')],
  window: [page('<dialog id="d"><p>Accept</p><button>Yes</button></dialog>' + words(10) + '<script>d.showModal()</script>')],
  'throws-out-twice': [
    page(
      words(5) +
        '<script>let n=0;new MutationObserver(m=>{for(const r of m)for(const e of r.addedNodes)' +
        'if(n<2&&e.localName==="aside"){n++;e.remove()}}).observe(document.documentElement,{childList:true})</script>',
    ),
  ],
  xhtml: [
    '<?xml version="1.0"?><html xmlns="http://www.w3.org/1999/xhtml"><head><title>Notice</title></head><body><p>As XML.</p></body></html>',
    { 'Content-Type': 'application/xhtml+xml' },
  ],
  text: ['Notice\nThe stern door.\n', { 'Content-Type': 'text/plain; charset=utf-8' }],
  'inner-scroller': [page(`<main style="height:400px;overflow:auto">${words(100)}</main>`)],
  'lazy-pictures': [
    page(
      Array.from(
        { length: 12 },
        (_, i) => `<p style="height:600px"><img loading="lazy" width="40" height="40" alt="" src="/picture?${i}"></p>`,
      ).join(''),
    ),
  ],
  focused: [page('<input id="i" autofocus value="typed so far"><script>i.focus();i.setSelectionRange(2,5)</script>' + words(5))],
  'large-tree': [page(Array.from({ length: 20_000 }, (_, i) => `<i>${i}</i> `).join(''))],
  gone: [page('<h1>Not found</h1>').replace('Notice', 'Not found'), {}, 404],
  withdrawn: [page('<h1>Withdrawn</h1>'), {}, 410],
  'long-words': [page(`<p>${'x'.repeat(4_000)}</p>`)],
  fields: [page(words(3)), { 'X-Desk': '4', 'Last-Modified': 'Mon, 02 Mar 2026 10:00:00 GMT', 'Set-Cookie': 'desk=4' }],
  'not-stored': [page(words(3)), { 'X-Desk': '4', 'Cache-Control': 'no-store' }],
  'own-worker': [page(words(3) + '<script>navigator.serviceWorker?.register("/worker.js")</script>'), { 'X-Desk': '4' }],
  'with-keys': [
    page(words(5) + '<script>addEventListener("keydown",e=>{e.preventDefault();document.title="pressed "+e.key},true)</script>'),
  ],
};

/** Where no frame of ours can be: the line has a tab of its own there. */
export const alone = {
  'not-shown': [page(words(10), '<style>*{display:none!important}</style>')],
  sandboxed: [page(words(5)), { 'Content-Security-Policy': 'sandbox allow-scripts' }],
  'throws-out': [
    page(
      words(5) +
        '<script>new MutationObserver(()=>document.querySelectorAll("aside").forEach(e=>e.remove()))' +
        '.observe(document.documentElement,{childList:true})</script>',
    ),
  ],
  'the-document.pdf': [pdf, { 'Content-Type': 'application/pdf' }],
  'picture.svg': [svg, { 'Content-Type': 'image/svg+xml' }],
};

/** Serves them, and pages of one's own that a test adds. */
export async function servePages(more = {}) {
  const asked = [];
  const server = createServer((request, response) => {
    const path = request.url.slice(1).split('?')[0];
    asked.push(request.url);
    if (path === 'picture') {
      response.writeHead(200, { 'Content-Type': 'image/svg+xml' }).end(svg);
      return;
    }
    if (path === 'worker.js') {
      response.writeHead(200, { 'Content-Type': 'text/javascript' });
      response.end('onactivate=()=>clients.claim();onfetch=e=>e.respondWith(new Response("played",{headers:{"X-Desk":"5"}}))');
      return;
    }
    if (path === 'members') {
      const isIn = /seat=4/.test(request.headers.cookie ?? '');
      response.writeHead(200, { ...html, ...(isIn ? {} : { 'Set-Cookie': 'none=1' }) });
      response.end(isIn ? page('<h1>Members</h1><p>Said in confidence.</p>') : page('<h1>Log in</h1>'));
      return;
    }
    const [body, fields = {}, status = 200] = { ...pages, ...alone, ...more }[path] ?? [page('Nothing'), {}, 404];
    response.writeHead(status, { ...html, ...fields }).end(body);
  });
  await new Promise(done => server.listen(0, '127.0.0.1', done));
  return { port: server.address().port, asked, stop: () => new Promise(done => (server.closeAllConnections(), server.close(done))) };
}

/** What answers in place of Ypomna: as it does, or as a test wants it. */
export async function serveApi() {
  const code = n => 'abcdefghjkm' + '23456789abcdefghjkmnp'[n % 20];
  const api = { asked: [], kept: [], uploads: new Map(), items: [], answer: null, down: false, held: 0 };
  const server = createServer(async (request, response) => {
    const pieces = [];
    for await (const piece of request) pieces.push(piece);
    const body = Buffer.concat(pieces);
    api.asked.push({ method: request.method, url: request.url, head: request.headers, body });
    const say = (status, said, fields = {}) =>
      response.writeHead(status, { 'Content-Type': 'application/json', ...fields }).end(said === null ? '' : JSON.stringify(said));
    if (api.down) return response.destroy();
    if (api.answer?.(request, response, body)) return undefined;
    const [path, query] = request.url.split('?');
    const json = () => JSON.parse(body.toString());
    if (path === '/pair') return say(201, { token: 'ypomna_' + 't'.repeat(43), person: 'Ilse Varga' });
    if (path === '/api/me/token') return say(204, null);
    if (path === '/api/addresses')
      return say(200, {
        url: decodeURIComponent(query.slice(4)),
        code: api.held ? code(9) : null,
        held: api.held,
        last: api.held ? '2025-04-04T10:00:00.000000Z' : null,
      });
    if (/captures$/.test(path) && path !== '/api/captures')
      return say(200, { items: [{ code: code(8), status: 200, capturedAt: '2025-04-04T10:00:00.000000Z' }], next: null });
    if (/\/text$/.test(path)) return response.writeHead(200, { 'Content-Type': 'text/plain' }).end('Other words altogether');
    if (path === '/api/captures') {
      api.kept.push(json());
      return say(202, { job: code(api.kept.length) }, { Location: '/api/jobs/' + code(api.kept.length) });
    }
    if (path.startsWith('/api/jobs/'))
      return say(200, {
        job: path.slice(10),
        state: 'kept',
        stage: 'done',
        capture: code(5),
        item: code(6),
        verdict: 'whole',
        reason: null,
      });
    if (path === '/api/arrivals/upload') {
      const id = code(10 + api.uploads.size);
      api.uploads.set(id, { ...json(), have: Buffer.alloc(0) });
      return say(201, { upload: id, offset: 0 }, { Location: '/api/arrivals/upload/' + id });
    }
    const upload = api.uploads.get(path.split('/').pop());
    if (path.startsWith('/api/arrivals/upload/') && upload) {
      if (request.method === 'HEAD') return say(200, null, { 'Upload-Offset': String(upload.have.length) });
      upload.have = Buffer.concat([upload.have, body]);
      const isWhole = upload.have.length === upload.bytes && !upload.fields.beside;
      return say(isWhole ? 202 : 204, isWhole ? { job: path.split('/').pop() } : null, { 'Upload-Offset': String(upload.have.length) });
    }
    if (path === '/api/items') {
      api.items.push(json());
      return say(201, { code: code(15) }, { Location: '/api/items/' + code(15) });
    }
    if (/links$/.test(path)) return say(201, { code: code(16) });
    if (path === '/api/tags') return say(200, { items: [{ name: 'doors' }, { name: 'seals' }], next: null });
    if (path === '/api/dossiers') return say(200, { items: [{ name: 'Stern door', code: code(17) }], next: null });
    if (path.startsWith('/api/held/')) return say(200, { items: [], next: null });
    return say(404, { status: 404, detail: 'Nothing' });
  });
  await new Promise(done => server.listen(0, '127.0.0.1', done));
  api.base = `http://localhost:${server.address().port}/`;
  api.stop = () => new Promise(done => (server.closeAllConnections(), server.close(done)));
  return api;
}
