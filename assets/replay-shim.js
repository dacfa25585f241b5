function (facts) {
  'use strict';
  // Tells our window which capture is being read; it takes this for a hint and asks the server for everything else.
  try { if (parent !== window) parent.postMessage({ ypomna: 'reading', code: facts.code, url: facts.url }, '*'); } catch (e) { /* no window around it */ }

  // Parts that were not kept, or come from another moment, are told to our window, and marked in their place.
  const original = address => {
    try {
      const url = new URL(address, location.href);
      const at = url.hostname.endsWith(facts.suffix) ? url.hostname.slice(0, -facts.suffix.length) : '';
      const [, scheme, port, host] = at.match(/^(https?)(?:-(\d+))?\.(.+)$/) || [];
      return scheme ? scheme + '://' + host + (port ? ':' + port : '') + url.pathname + url.search : null;
    } catch (e) { return null; }
  };
  const post = top.postMessage.bind(top);
  const tell = (kind, address, from) => { const url = original(address); if (url && top !== window) post({ ypomna: kind, code: facts.code, url: url.slice(0, 2000), from }, '*'); };
  try {
    new PerformanceObserver(list => {
      for (const entry of list.getEntries()) for (const sign of entry.serverTiming || []) {
        if (sign.name === 'gap') tell('gap', entry.name);
        if (sign.name === 'from') tell('elsewhen', entry.name, sign.description);
      }
    }).observe({ type: 'resource', buffered: true });
  } catch (e) { /* a browser without it shows the gaps in their place only */ }
  document.addEventListener('error', event => {
    const part = event.target;
    if (!(part instanceof HTMLImageElement)) return;
    tell('gap', part.currentSrc || part.src);
    part.style.setProperty('outline', '1px dashed #9c2318');
    part.title = facts.words.notKept;
    if (!part.hasAttribute('alt') && !(part.width > 0 && part.width < 24)) part.alt = facts.words.notKept;
  }, true);
  if (!facts.alive) return;

  // Absolute addresses that scripts make up lead to the archive, as those in the markup do. The wall stands without this.
  const page = new URL(facts.url);
  const map = value => {
    try {
      const text = String(value).trim();
      if (!/^(?:https?:|wss?:)?\/\//i.test(text)) return value;
      const url = new URL(text, page);
      if (url.hostname.endsWith(facts.suffix)) return value;
      return location.protocol + '//' + url.protocol.replace('ws', 'http').slice(0, -1) + (url.port ? '-' + url.port : '') + '.' + url.hostname + facts.suffix
        + (location.port ? ':' + location.port : '') + url.pathname + url.search + url.hash;
    } catch (e) { return value; }
  };
  const fetchPage = window.fetch;
  window.fetch = function (what, options) {
    if (what instanceof Request) return fetchPage.call(this, new Request(map(what.url), what), options);
    return fetchPage.call(this, map(what), options);
  };
  const open = XMLHttpRequest.prototype.open;
  XMLHttpRequest.prototype.open = function (method, url, ...rest) { return open.call(this, method, map(url), ...rest); };
  const through = (type, name) => {
    const of = type && Object.getOwnPropertyDescriptor(type.prototype, name);
    if (of && of.set) Object.defineProperty(type.prototype, name, { ...of, set(value) { of.set.call(this, map(value)); } });
  };
  for (const type of [HTMLImageElement, HTMLScriptElement, HTMLIFrameElement, HTMLMediaElement, HTMLSourceElement, HTMLEmbedElement, HTMLInputElement]) through(type, 'src');
  for (const type of [HTMLLinkElement, HTMLAnchorElement]) through(type, 'href');
  const setAttribute = Element.prototype.setAttribute;
  Element.prototype.setAttribute = function (name, value) {
    return setAttribute.call(this, name, /^(?:src|href|data|poster|action)$/i.test(name) ? map(value) : value);
  };

  // The sandbox withholds storage and cookies; a page that asks for them gets empty ones of its own.
  const storage = () => {
    const held = new Map();
    return { getItem: k => held.has(String(k)) ? held.get(String(k)) : null, setItem: (k, v) => { held.set(String(k), String(v)); }, removeItem: k => { held.delete(String(k)); },
      clear: () => held.clear(), key: i => [...held.keys()][i] ?? null, get length() { return held.size; } };
  };
  for (const name of ['localStorage', 'sessionStorage']) {
    const own = storage();
    try { Object.defineProperty(window, name, { configurable: true, get: () => own }); } catch (e) { /* defined otherwise */ }
  }
  let jar = [];
  try {
    Object.defineProperty(document, 'cookie', { configurable: true, get: () => jar.join('; '), set(text) {
      const pair = String(text).split(';')[0].trim();
      jar = jar.filter(held => held.split('=')[0] !== pair.split('=')[0]);
      if (pair) jar.push(pair);
    } });
  } catch (e) { /* defined otherwise */ }
}
