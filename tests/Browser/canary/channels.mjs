// Every way known to us in which a page can make a browser ask somebody else. Each channel is a page of its own that tries
// to reach HOST (a name) and IP (an address), both its own, so that a hit tells which channel it came through.
const script = code => `<script>try { ${code} } catch (e) {}</script>`;
const later = code => script(`setTimeout(() => { try { ${code} } catch (e) {} }, 50)`);

export const channels = {
  image: '<img src="http://HOST/a.png"><img src="http://IP/a.png">',
  'image set': '<img srcset="http://HOST/a.png 1x, http://IP/b.png 2x">',
  picture: '<picture><source srcset="http://HOST/a.webp"><img src="http://IP/a.png"></picture>',
  'image input': '<form><input type="image" src="http://HOST/a.png"></form>',
  background: '<body background="http://HOST/a.png"><table background="http://IP/t.png"><tr><td>x</table>',
  'style sheet': '<link rel="stylesheet" href="http://HOST/a.css">',
  'style import': '<style>@import "http://HOST/a.css"; @import url(http://IP/b.css);</style>',
  'style url': '<style>p{background:url(http://HOST/a.png)}p::after{content:url("http://IP/b.png")}</style><p>x',
  'style image-set': '<style>p{background:image-set("http://HOST/a.png" 1x)}</style><p>x',
  'style attribute': '<p style="background:url(http://HOST/a.png);list-style-image:url(http://IP/b.png)">x',
  'style escapes': '<style>p{background:u\\72l(http://HOST/a.png)}</style><p>x',
  'style made by script': later('document.body.style.backgroundImage = "url(http://HOST/a.png)"'),
  font: '<style>@font-face{font-family:f;src:url(http://HOST/a.woff2)}p{font-family:f}</style><p>x',
  'font face made by script': later('new FontFace("f", "url(http://HOST/a.woff2)").load()'),
  cursor: '<style>*{cursor:url(http://HOST/a.cur),auto}</style>',
  script: '<script src="http://HOST/a.js"></script>',
  'module script': '<script type="module" src="http://HOST/a.js"></script>',
  'static import': '<script type="module">import "http://HOST/a.js";</script>',
  'dynamic import': later('import("http://HOST/a.js").catch(() => {})'),
  preload: '<link rel="preload" as="image" href="http://HOST/a.png"><link rel="modulepreload" href="http://IP/a.js">',
  prefetch: '<link rel="prefetch" href="http://HOST/a"><link rel="prerender" href="http://IP/a">',
  preconnect: '<link rel="preconnect" href="http://HOST/"><link rel="preconnect" href="http://IP/">',
  'preconnect made by script': later(
    'for (const h of ["HOST", "IP"]) { const l = document.createElement("link"); l.rel = "preconnect"; l.href = "http://" + h + "/";' +
      ' document.head.append(l); }',
  ),
  'dns-prefetch': '<link rel="dns-prefetch" href="//HOST">',
  'dns-prefetch of links': '<meta http-equiv="x-dns-prefetch-control" content="on"><a href="http://HOST/">x</a>',
  'speculation rules':
    '<script type="speculationrules">{"prefetch":[{"source":"list","urls":["http://HOST/a"]}],"prerender":[{"source":"list",' +
    '"urls":["http://HOST/b"]}]}</script>',
  icon: '<link rel="icon" href="http://HOST/a.ico"><link rel="apple-touch-icon" href="http://IP/a.png">',
  manifest: '<link rel="manifest" href="http://HOST/a.json">',
  frame: '<iframe src="http://HOST/"></iframe><iframe src="http://IP/"></iframe>',
  frameset: '<html><frameset cols="50%,50%"><frame src="http://HOST/"><frame src="http://IP/"></frameset></html>',
  'frame of a document':
    '<iframe srcdoc="&lt;img src=&quot;http://HOST/a.png&quot;&gt;&lt;script&gt;fetch(&quot;http://IP/&quot;)&lt;/script&gt;"></iframe>',
  'data frame': '<iframe src="data:text/html,<img src=http://HOST/a.png><script>fetch(\'http://IP/\')</script>"></iframe>',
  'blob frame': later(
    'const f = document.createElement("iframe"); f.src = URL.createObjectURL(new Blob(["<img src=http://HOST/a.png>"], {type:' +
      ' "text/html"})); document.body.append(f)',
  ),
  'blank frame': later(
    'const f = document.createElement("iframe"); document.body.append(f); f.contentWindow.fetch("http://HOST/"); new' +
      ' f.contentWindow.Image().src = "http://IP/a.png"',
  ),
  'frame made by script': later('const f = document.createElement("iframe"); f.src = "http://HOST/"; document.body.append(f)'),
  'frame led away': later('const f = document.createElement("iframe"); document.body.append(f); f.contentWindow.location = "http://HOST/"'),
  'script address of a frame': '<iframe src="javascript:\'<img src=http://HOST/a.png>\'"></iframe>',
  object: '<object data="http://HOST/a.swf"></object><object data="http://IP/a.svg" type="image/svg+xml"></object>',
  embed: '<embed src="http://HOST/a.pdf"><embed src="http://IP/a.swf">',
  video: '<video src="http://HOST/a.mp4" poster="http://IP/a.png" autoplay muted></video>',
  audio: '<audio src="http://HOST/a.mp3" preload="auto"></audio><audio><source src="http://IP/a.ogg"></audio>',
  track: '<video src="data:video/mp4;base64,AA=="><track default kind="captions" src="http://HOST/a.vtt"></video>',
  svg: '<svg><image href="http://HOST/a.png"/><use href="http://IP/a.svg#x"/></svg>',
  'svg filter': '<svg><filter id="f"><feImage href="http://HOST/a.png"/></filter><rect filter="url(#f)" width="9" height="9"/></svg>',
  'svg picture': "<img src=\"data:image/svg+xml,<svg xmlns='http://www.w3.org/2000/svg'><image href='http://HOST/a.png'/></svg>\">",
  base: '<base href="http://HOST/"><img src="a.png"><link rel="stylesheet" href="b.css">',
  'base made by script': script(
    'const b = document.createElement("base"); b.href = "http://HOST/"; document.head.append(b); new Image().src = "a.png"; fetch("b")',
  ),
  fetch: later('fetch("http://HOST/", {mode: "no-cors"}); fetch("http://IP/", {mode: "no-cors", method: "POST", body: "x"})'),
  'kept-alive fetch': later('fetch("http://HOST/", {mode: "no-cors", keepalive: true, method: "POST", body: "x"})'),
  'request object': later('fetch(new Request("http://HOST/", {mode: "no-cors"}))'),
  xhr: later('const x = new XMLHttpRequest(); x.open("GET", "http://HOST/"); x.send()'),
  'waiting xhr': later('const x = new XMLHttpRequest(); x.open("GET", "http://HOST/", false); x.send()'),
  beacon: later('navigator.sendBeacon("http://HOST/", "x"); navigator.sendBeacon("http://IP/", "x")'),
  'beacon on leaving':
    script('addEventListener("pagehide", () => navigator.sendBeacon("http://HOST/", "x"))') + later('location = "about:blank"'),
  'event source': later('new EventSource("http://HOST/")'),
  'web socket': later('new WebSocket("ws://HOST/"); new WebSocket("ws://IP/")'),
  'web transport': later('new WebTransport("https://HOST:443/")'),
  'peer connection': later(
    'const p = new RTCPeerConnection({iceServers: [{urls: ["stun:HOST:3478", "stun:IP:3478"]}]}); p.createDataChannel("x");' +
      ' p.createOffer().then(o => p.setLocalDescription(o))',
  ),
  'peer connection in a frame': later(
    'const f = document.createElement("iframe"); f.srcdoc = "x"; document.body.append(f); f.onload = () => { const p = new' +
      ' f.contentWindow.RTCPeerConnection({iceServers: [{urls: ["stun:HOST:3478", "stun:IP:3478"]}]}); p.createDataChannel("x");' +
      ' p.createOffer().then(o => p.setLocalDescription(o)); }',
  ),
  worker: later(
    "new Worker(URL.createObjectURL(new Blob([\"fetch('http://HOST/', {mode: 'no-cors'}); importScripts('http://IP/a.js')\"])))",
  ),
  'shared worker': later("new SharedWorker(URL.createObjectURL(new Blob([\"fetch('http://HOST/', {mode: 'no-cors'})\"])))"),
  'nested worker': later(
    'new Worker(URL.createObjectURL(new Blob(["new Worker(URL.createObjectURL(new Blob([\\"fetch(\'http://HOST/\', {mode:' +
      ' \'no-cors\'})\\"])))"])))',
  ),
  'service worker': later('navigator.serviceWorker.register("/sw.js")') + '<img src="http://HOST/a.png">',
  worklet: later(
    'CSS.paintWorklet && CSS.paintWorklet.addModule("http://HOST/a.js"); new AudioContext().audioWorklet.addModule("http://IP/a.js")',
  ),
  'form by script': '<form method="post" action="http://HOST/"><input name="a" value="b"></form>' + later('document.forms[0].submit()'),
  'form to another window': '<form target="_blank" action="http://HOST/"></form>' + later('document.forms[0].submit()'),
  'form to the top': '<form target="_top" action="http://HOST/"><button>x</button></form>' + later('document.forms[0].requestSubmit()'),
  refresh: '<meta http-equiv="refresh" content="0;url=http://HOST/">',
  'refresh in odd spelling': '<META HTTP-EQUIV="Refresh" CONTENT="0 ; URL = \'http://IP/\'">',
  location: later('location = "http://HOST/"'),
  'location replaced': later('location.replace("http://IP/")'),
  'location of the top': later('top.location = "http://HOST/"'),
  'location of the parent': later('parent.location.href = "http://HOST/"'),
  'window opened': later('open("http://HOST/"); open("http://IP/", "_blank", "noopener")'),
  'link clicked by script': '<a href="http://HOST/" id="a">x</a>' + later('document.getElementById("a").click()'),
  'link to the top clicked': '<a href="http://HOST/" target="_top" id="a">x</a>' + later('document.getElementById("a").click()'),
  'link to a window clicked': '<a href="http://HOST/" target="_blank" id="a">x</a>' + later('document.getElementById("a").click()'),
  'link with a ping clicked': '<a href="#x" ping="http://HOST/ http://IP/" id="a">x</a>' + later('document.getElementById("a").click()'),
  'download clicked': '<a href="http://HOST/a.zip" download id="a">x</a>' + later('document.getElementById("a").click()'),
  'written document': script('document.write("<img src=http://HOST/a.png><script src=http://IP/a.js></" + "script>")'),
  'markup in a shadow root': later('document.body.attachShadow({mode: "open"}).innerHTML = "<img src=http://HOST/a.png>"'),
  'declared shadow root': '<div><template shadowrootmode="open"><img src="http://HOST/a.png"></template></div>',
  'upper case and line ends': '<IMG SRC="HTTP://HO&#10;ST/a.png"><img src="\thttp://IP/a.png">',
  'no scheme': '<img src="//HOST/a.png"><script src="//IP/a.js"></script><img src="/\\HOST/b.png">',
  'broken markup': '<img src=http://HOST/a.png"<p title="><img src=http://IP/b.png>',
  'comment tricks': '<!--><img src="http://HOST/a.png">--><!--x--!><img src="http://IP/a.png">',
  'noscript tricks': '<noscript><p title="</noscript><img src=http://HOST/a.png>"></noscript>',
  'textarea tricks': '<textarea></textarea/><img src="http://HOST/a.png"><title></title x><img src="http://IP/a.png">',
  'foreign content': '<math><mtext><table><mglyph><style><!--</style><img title="--><img src=http://HOST/a.png>">',
  'xml style sheet': later(
    'const f = document.createElement("iframe"); f.src = URL.createObjectURL(new Blob([\'<?xml version="1.0"?><?xml-stylesheet' +
      ' type="text/xsl" href="http://HOST/a.xsl"?><!DOCTYPE a SYSTEM "http://IP/a.dtd"><a/>\'], {type: "text/xml"}));' +
      ' document.body.append(f)',
  ),
  'policy reports': '<meta http-equiv="Content-Security-Policy" content="img-src \'none\'; report-uri http://HOST/r"><img src="x.png">',
  'import map': '<script type="importmap">{"imports":{"x":"http://HOST/a.js"}}</script><script type="module">import "x";</script>',
  'clean prototypes from a frame': later(
    'const f = document.createElement("iframe"); document.body.append(f); window.fetch = f.contentWindow.fetch;' +
      ' f.contentWindow.fetch.call(window, "http://HOST/", {mode: "no-cors"}); f.contentWindow.Image && (new' +
      ' f.contentWindow.Image().src = "http://IP/a.png")',
  ),
};

export const hostOf = number => `c${number}.canary.example`;
export const addressOf = number => `203.0.113.${number + 1}`;

export function pageOf(name) {
  const number = Object.keys(channels).indexOf(name);
  const html = channels[name]
    .replaceAll('HO&#10;ST', `&#10;${hostOf(number)}`)
    .replaceAll('HOST', hostOf(number))
    .replaceAll('IP', addressOf(number));
  return /<html>|<frameset/.test(html) ? html : `<!DOCTYPE html><html><head><title>${name}</title></head><body>${html}</body></html>`;
}
