function ypomna(facts) {
  'use strict';
  // The page's own scripts come later, and find nothing of this one: what proves its words is in it.
  if (document.currentScript) document.currentScript.remove();
  // Tells our window, and nobody else who may stand around the page, which capture is being read.
  const post = (() => {
    if (top === window) return () => {};
    const send = top.postMessage.bind(top),
      outermost =
        location.ancestorOrigins && location.ancestorOrigins.length ? location.ancestorOrigins[location.ancestorOrigins.length - 1] : null;
    const windows = facts.windows.filter(one => outermost === null || one === outermost),
      { code, proof } = facts;
    return said => {
      for (let i = 0; i < windows.length; i++) send({ ...said, code, proof }, windows[i]);
    };
  })();
  if (parent === top) post({ ypomna: 'reading' });

  // Where in the archive an address is answered, and what is answered there: as the server names hosts. Workers get this function as it
  // stands here.
  const archiveOf = place => {
    const letters = { http: 'h', https: 't', ws: 'w', wss: 'v' };
    const written = part => {
      const name = part.replace(/--|-/g, sign => (sign === '-' ? '.' : '-'));
      return /^\d+(?:\.\d+){3}$/.test(name) ? name : name.replace(/\.(\d{1,5})$/, ':$1');
    };
    const partOf = name => {
      if (name === place.name) return place.part;
      const part = name.replace(/-/g, '--').replace(/[.:]/g, '-');
      return part.length <= 61 - place.prefix.length && /^[a-z0-9_][a-z0-9_-]*$/.test(part) && written(part) === name ? part : null;
    };
    const is = name => name.startsWith(place.prefix) && name.endsWith(place.domain);
    return {
      is,
      to: (url, scheme = url.protocol.slice(0, -1)) => {
        const name = url.hostname.replace(/\.+$/, '') + (url.port ? ':' + url.port : ''),
          part = partOf(name),
          led = part === null ? '/' + scheme + '/' + name : '';
        const host = place.prefix + letters[scheme] + '-' + (part === null ? '-way' : part) + place.domain;
        return place.protocol + '//' + host + (place.port ? ':' + place.port : '') + led + url.pathname + url.search;
      },
      // Scheme, name with port, path; null of what stands elsewhere, or at a host whose name only the server knows.
      from: url => {
        if (!is(url.hostname)) return null;
        const [letter, hyphen, ...rest] = url.hostname.slice(place.prefix.length, -place.domain.length),
          part = rest.join(''),
          scheme = Object.keys(letters).find(one => letters[one] === letter),
          path = url.pathname + url.search;
        if (!scheme || hyphen !== '-') return null;
        if (part === '-way') {
          const led = path.match(/^\/(https?|wss?)\/([^/]+)(.*)$/);
          return led ? led.slice(1) : null;
        }
        if (part === place.part) return [scheme, place.name, path];
        return part.startsWith('-') ? null : [scheme, written(part), path];
      },
    };
  };
  const place = { ...facts.hosts, protocol: location.protocol, port: location.port },
    archive = archiveOf(place);

  // Parts that were not kept, or come from another moment, are told to our window, and marked in their place.
  const original = (address, origin) => {
    try {
      const url = new URL(address, location.href);
      if (origin && archive.is(url.hostname)) return decodeURIComponent(origin) + url.pathname + url.search;
      const [scheme, name, path] = archive.from(url) || [];
      return scheme ? scheme + '://' + name + path : null;
    } catch {
      return null;
    }
  };
  const tell = (kind, address, from, certain, origin) => {
    const url = original(address, origin);
    if (url) post({ ypomna: kind, url: url.slice(0, 2000), from, certain });
  };
  // A picture that certainly was another one then is marked where it stands.
  const markOther = address => {
    for (const picture of document.images)
      if (picture.currentSrc === address) {
        picture.style.setProperty('outline', '2px dotted #9c2318');
        picture.title = facts.words.different;
      }
  };
  try {
    new PerformanceObserver(list => {
      for (const entry of list.getEntries()) {
        const signs = Object.fromEntries((entry.serverTiming || []).map(sign => [sign.name, sign.description]));
        if ('gap' in signs) tell('gap', entry.name, undefined, undefined, signs.of);
        if ('from' in signs)
          tell('elsewhen', entry.name, signs.from, 'different' in signs ? 'different' : 'same' in signs ? 'same' : '', signs.of);
        if ('different' in signs) markOther(entry.name);
      }
    }).observe({ type: 'resource', buffered: true });
  } catch {
    /* a browser without it shows the gaps in their place only */
  }
  document.addEventListener(
    'error',
    event => {
      const part = event.target;
      if (!(part instanceof HTMLImageElement)) return;
      tell('gap', part.currentSrc || part.src);
      part.style.setProperty('outline', '1px dashed #9c2318');
      part.title = facts.words.notKept;
      if (!part.hasAttribute('alt') && !(part.width > 0 && part.width < 24)) part.alt = facts.words.notKept;
    },
    true,
  );

  // A passage that somebody refers to is looked for, marked and brought into sight; what the reader marks is told, so that it can be
  // referred to.
  const spaced = () => {
    const walk = document.createTreeWalker(document.body || document.documentElement, NodeFilter.SHOW_TEXT, node =>
      /^(?:SCRIPT|STYLE|NOSCRIPT|TEMPLATE)$/.test(node.parentNode.nodeName) ? NodeFilter.FILTER_REJECT : NodeFilter.FILTER_ACCEPT,
    );
    const places = [];
    let text = '';
    for (let node = walk.nextNode(); node; node = walk.nextNode()) {
      for (let i = 0; i < node.data.length && text.length < 4e6; i++) {
        const sign = /\s/.test(node.data[i]) ? ' ' : node.data[i];
        if (sign === ' ' && (text === '' || text.endsWith(' '))) continue;
        text += sign;
        places.push([node, i]);
      }
      if (!text.endsWith(' ')) {
        text += ' ';
        places.push([node, node.data.length]);
      }
    }
    return [text, places];
  };
  const passages = wanted => {
    const sought = wanted.replace(/\s+/g, ' ').trim(),
      [text, places] = spaced();
    const at = [text.indexOf(sought), text.toLowerCase().indexOf(sought.toLowerCase())].find(place => place >= 0);
    if (at === undefined) return false;
    const range = document.createRange(),
      [last, end] = places[at + sought.length - 1];
    range.setStart(...places[at]);
    range.setEnd(last, Math.min(end + 1, last.data.length));
    try {
      const sheet = new CSSStyleSheet();
      sheet.replaceSync('::highlight(ypomna-passage){background:#f2d68a;color:#1f2421}');
      document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
      CSS.highlights.set('ypomna-passage', new Highlight(range));
    } catch {
      const marked = getSelection();
      marked.removeAllRanges();
      marked.addRange(range);
    }
    (range.startContainer.parentElement || document.body).scrollIntoView({ block: 'center' });
    return true;
  };
  // Words that somebody looks for in this capture are marked, each where it stands; one of them is brought into sight.
  let found = [],
    findSheet = null;
  const markFinds = (texts, near) => {
    found = [];
    const sought = texts
      .slice(0, 300)
      .filter(one => Array.isArray(one) && typeof one[0] === 'string' && one[0].trim() !== '')
      .map(([text, isWhole]) => {
        const plain = text
          .slice(0, 300)
          .trim()
          .replace(/[.*+?^${}()|[\]\\/]/g, '\\$&')
          .replace(/\s+/g, ' ');
        return isWhole ? '(?<![\\p{L}\\p{M}\\p{N}])' + plain + '(?![\\p{L}\\p{M}\\p{N}])' : plain;
      });
    let nearest = 0;
    if (sought.length) {
      const [text, places] = spaced(),
        pattern = new RegExp(sought.join('|'), 'gu'),
        wish = near ? text.indexOf(near.replace(/\s+/g, ' ').trim()) : -1;
      for (let hit = pattern.exec(text); hit && found.length < 2000; hit = pattern.exec(text)) {
        const range = document.createRange(),
          [last, end] = places[hit.index + hit[0].length - 1];
        range.setStart(...places[hit.index]);
        range.setEnd(last, Math.min(end + 1, last.data.length));
        const box = range.getClientRects()[0];
        if (!box || (box.width === 0 && box.height === 0)) continue;
        if (wish >= 0 && hit.index <= wish) nearest = found.length;
        found.push(range);
      }
    }
    try {
      if (!findSheet) {
        findSheet = new CSSStyleSheet();
        findSheet.replaceSync(
          '::highlight(ypomna-finds){background:#f6e7b5;color:#1f2421}::highlight(ypomna-find){background:#e0a83a;color:#1f2421}',
        );
        document.adoptedStyleSheets = [...document.adoptedStyleSheets, findSheet];
      }
      CSS.highlights.set('ypomna-finds', new Highlight(...found));
      CSS.highlights.delete('ypomna-find');
    } catch {
      /* then they are gone to one by one, without a mark */
    }
    post({ ypomna: 'finds', count: found.length, at: nearest });
  };
  const goToFind = at => {
    const range = found[at];
    if (!range) return;
    try {
      const here = new Highlight(range);
      here.priority = 1;
      CSS.highlights.set('ypomna-find', here);
    } catch {
      /* as above */
    }
    const element = range.startContainer.parentElement || document.body;
    element.scrollIntoView({ block: 'center' });
    const box = range.getBoundingClientRect();
    if (box.top < 0 || box.bottom > innerHeight) scrollBy(0, box.top - innerHeight / 2);
  };
  window.addEventListener('message', event => {
    const said = event.data;
    if (event.source !== top || parent !== top || !said) return;
    if (Array.isArray(said.ypomnaFinds)) {
      event.stopImmediatePropagation();
      const show = () => markFinds(said.ypomnaFinds, typeof said.near === 'string' ? said.near.slice(0, 2000) : '');
      if (document.readyState === 'complete') show();
      else window.addEventListener('load', show);
    }
    if (Number.isInteger(said.ypomnaFind)) {
      event.stopImmediatePropagation();
      goToFind(said.ypomnaFind);
    }
  });
  // Keys that were pressed while the page has the focus are meant for our window, unless the page takes them.
  window.addEventListener('keydown', event => {
    const isTyped = event.target instanceof Element && event.target.closest('input, textarea, select, [contenteditable]');
    if (event.isTrusted && !event.defaultPrevented && !isTyped && !event.altKey && !event.ctrlKey && !event.metaKey && found.length)
      if (event.key === 'n' || event.key === 'p') post({ ypomna: 'step', key: event.key });
  });
  window.addEventListener('message', event => {
    const said = event.data;
    if (event.source !== top || !said || typeof said.ypomnaShow !== 'string') return;
    event.stopImmediatePropagation();
    const show = () => {
      if (!passages(said.ypomnaShow.slice(0, 2000))) post({ ypomna: 'no-passage' });
    };
    if (document.readyState === 'complete') show();
    else window.addEventListener('load', show);
  });
  let telling = 0;
  document.addEventListener('selectionchange', () => {
    clearTimeout(telling);
    telling = setTimeout(() => {
      const selection = getSelection(),
        marked = String(selection).replace(/\s+/g, ' ').trim();
      // With what stands around it, so that it is found again where the same words stand elsewhere, too.
      const around = { prefix: '', suffix: '' };
      if (marked && selection.rangeCount) {
        const range = selection.getRangeAt(0),
          side = document.createRange();
        side.setStart(document.body || document.documentElement, 0);
        side.setEnd(range.startContainer, range.startOffset);
        around.prefix = String(side).replace(/\s+/g, ' ').slice(-64);
        side.setStart(range.endContainer, range.endOffset);
        side.setEndAfter((document.body || document.documentElement).lastChild || range.endContainer);
        around.suffix = String(side).slice(0, 400).replace(/\s+/g, ' ').slice(0, 64);
      }
      post({ ypomna: 'marked', text: marked.slice(0, 500), ...around });
    }, 250);
  });

  // What differs from another capture is marked over the page, which stays as it is: highlights, and signs in a layer of their own.
  const dense = text =>
    text
      .normalize('NFC')
      // eslint-disable-next-line no-misleading-character-class -- each of them by itself
      .replace(/[\s\u00ad\u034f\u061c\u180e\u200b-\u200f\u202a-\u202c\u2060-\u2064\u2066-\u2069\ufe00-\ufe0f\ufeff]+/gu, '');
  const signs = { added: '+', removed: '−', changed: '≠', moved: '⇅' };
  let laid = [],
    layer = null,
    told = [],
    markSheet = null,
    current = null;
  const readAll = () => {
    const shown = new Map(),
      places = [],
      parts = [];
    const walk = document.createTreeWalker(document.body || document.documentElement, NodeFilter.SHOW_TEXT, node => {
      const parent = node.parentElement;
      if (!parent || /^(?:SCRIPT|STYLE|NOSCRIPT|TEMPLATE)$/.test(parent.nodeName)) return NodeFilter.FILTER_REJECT;
      if (!shown.has(parent)) shown.set(parent, typeof parent.checkVisibility !== 'function' || parent.checkVisibility());
      return shown.get(parent) ? NodeFilter.FILTER_ACCEPT : NodeFilter.FILTER_REJECT;
    });
    for (let node = walk.nextNode(); node && places.length < 4e6; node = walk.nextNode()) {
      // Letter by letter only where composing would change lengths.
      const data = node.data;
      for (let i = 0; i < data.length;) {
        let end = i + 1;
        while (end < data.length && /\p{M}/u.test(data[end])) end++;
        for (const sign of dense(data.slice(i, end)))
          for (const unit of sign) {
            parts.push(unit);
            for (let k = 0; k < unit.length; k++) places.push([node, i, end]);
          }
        i = end;
      }
    }
    return [parts.join(''), places];
  };
  const rangeOf = (places, from, to) => {
    const range = document.createRange(),
      [first, start] = places[from],
      [last, , end] = places[to - 1];
    range.setStart(first, start);
    range.setEnd(last, end);
    return range;
  };
  // Notes of our window's margin stand level with their passages: it is told where these lie.
  let glossed = [];
  const tellGlosses = () => post({ ypomna: 'glosses', places: glossed.map(([n, range]) => [n, range.getBoundingClientRect().top]) });
  const layGlosses = glosses => {
    const [text, places] = readAll();
    glossed = [];
    for (const [n, wanted] of glosses.slice(0, 300)) {
      const sought = dense(String(wanted)),
        at = sought ? text.indexOf(sought) : -1;
      if (at >= 0) glossed.push([n, rangeOf(places, at, at + sought.length)]);
    }
    tellGlosses();
  };
  // The page stands as it was; its passage is underlined while somebody points at a note.
  let glossSheet = null;
  const pointOut = ranges => {
    try {
      if (!glossSheet) {
        glossSheet = new CSSStyleSheet();
        glossSheet.replaceSync('::highlight(ypomna-gloss){text-decoration:underline 2px #24645a}');
        document.adoptedStyleSheets = [...document.adoptedStyleSheets, glossSheet];
      }
      CSS.highlights.set('ypomna-gloss', new Highlight(...ranges));
    } catch {
      /* the notes alone say what they are about */
    }
  };
  let glossTelling = 0;
  for (const what of ['scroll', 'resize'])
    window.addEventListener(
      what,
      () => {
        cancelAnimationFrame(glossTelling);
        if (glossed.length) glossTelling = requestAnimationFrame(tellGlosses);
      },
      { passive: true, capture: true },
    );
  window.addEventListener('message', event => {
    const said = event.data;
    if (event.source !== top || parent !== top || !said) return;
    if (Array.isArray(said.ypomnaGlosses)) {
      event.stopImmediatePropagation();
      layGlosses(said.ypomnaGlosses.filter(one => Array.isArray(one) && Number.isInteger(one[0])));
    }
    if (Number.isInteger(said.ypomnaPointed)) {
      event.stopImmediatePropagation();
      pointOut(glossed.filter(([n]) => n === said.ypomnaPointed).map(([, range]) => range));
    }
    if (Number.isInteger(said.ypomnaGloss)) {
      event.stopImmediatePropagation();
      const found = glossed.find(([n]) => n === said.ypomnaGloss);
      if (found) (found[1].startContainer.parentElement || document.body).scrollIntoView({ block: 'center' });
    }
  });
  const layMarks = marks => {
    const [text, places] = readAll(),
      sets = { added: [], removed: [], changed: [], moved: [], words: [], noise: [] };
    laid = [];
    told = [];
    let from = 0;
    for (const mark of marks.slice(0, 3000)) {
      const sought = dense(String(mark.text));
      if (!sought) continue;
      let at = text.indexOf(sought, from);
      if (at < 0) at = text.indexOf(sought);
      if (at < 0) continue;
      from = at + sought.length;
      const range = rangeOf(places, at, at + sought.length);
      if ('anchor' in mark) {
        told.push([mark.anchor, range]);
        continue;
      }
      if (!(mark.kind in signs)) continue;
      laid.push({ n: mark.n, kind: mark.kind, range });
      sets[mark.noise ? 'noise' : mark.kind].push(range);
      let place = at;
      for (const [piece, other] of Array.isArray(mark.words) ? mark.words : []) {
        const length = dense(String(piece)).length;
        if (other && length && !mark.noise && place + length <= at + sought.length) sets.words.push(rangeOf(places, place, place + length));
        place += length;
      }
    }
    try {
      if (!markSheet) {
        markSheet = new CSSStyleSheet();
        document.adoptedStyleSheets = [...document.adoptedStyleSheets, markSheet];
      }
      markSheet.replaceSync(
        '::highlight(ypomna-added){background:#dde2f4;color:#1f2f6b;text-decoration:underline 2px' +
          ' #27408f}::highlight(ypomna-removed){background:#f3e2bf;color:#5c3704;text-decoration:line-through 2px #7a4a08}' +
          '::highlight(ypomna-changed){text-decoration:underline dotted 2px #21251f}::highlight(ypomna-words){background:' +
          (marks.side === 'old' ? '#f3e2bf' : '#dde2f4') +
          ';color:#1b1e1a}::highlight(ypomna-moved){text-decoration:underline wavy 1px #6a3a72}' +
          '::highlight(ypomna-noise){text-decoration:underline dotted 1px #8d8674}::highlight(ypomna-now){background:#f2d68a;' +
          'color:#1f2421}',
      );
      Object.entries(sets).forEach(([name, ranges]) => {
        const light = new Highlight(...ranges);
        light.priority = name === 'words' ? 2 : 1;
        CSS.highlights.set('ypomna-' + name, light);
      });
    } catch {
      /* the signs at the side are left */
    }
    drawSigns();
  };
  const drawSigns = () => {
    if (!layer) {
      const host = document.createElement('div');
      host.style.cssText = 'all:initial;position:absolute;left:0;top:0;width:0;height:0;z-index:2147483647';
      layer = host.attachShadow({ mode: 'closed' });
      document.documentElement.append(host);
    }
    const style = document.createElement('style');
    style.textContent =
      'button{all:initial;position:absolute;font:600 15px/20px system-ui,sans-serif;min-width:20px;text-align:center;' +
      'border-radius:3px;cursor:pointer;color:#fbf8f1;background:#21251f;box-shadow:0 0 0 1px' +
      ' #fbf8f1}button:focus-visible{outline:2px solid' +
      ' #24645a}.added{background:#27408f}.removed{background:#7a4a08}.moved{background:#6a3a72}';
    const taken = [];
    layer.replaceChildren(
      style,
      ...laid.map(({ n, kind, range }) => {
        const box = range.getClientRects()[0] || range.getBoundingClientRect(),
          sign = document.createElement('button');
        // At the edge of the block, beside signs of the same line.
        let block = range.startContainer.parentElement;
        while (block && block.parentElement && getComputedStyle(block).display === 'inline') block = block.parentElement;
        let left = Math.max(2, (block ? block.getBoundingClientRect().left : box.left) + scrollX - 26);
        while (taken.some(([x, y]) => Math.abs(x - left) < 20 && Math.abs(y - box.top) < 18)) left = left >= 24 ? left - 22 : left + 22;
        taken.push([left, box.top]);
        sign.className = kind;
        sign.textContent = signs[kind];
        sign.title = kind;
        if (!box.width && !box.height) sign.style.display = 'none';
        sign.style.left = left + 'px';
        sign.style.top = box.top + scrollY + 'px';
        sign.addEventListener('click', event => {
          event.preventDefault();
          event.stopPropagation();
          post({ ypomna: 'chosen', n });
        });
        return sign;
      }),
    );
    post({
      ypomna: 'places',
      places: told.map(([id, range]) => [id, Math.round(range.getBoundingClientRect().top + scrollY)]),
      marks: laid.map(({ n, range }) => [n, Math.round(range.getBoundingClientRect().top + scrollY)]),
      height: document.documentElement.scrollHeight,
    });
  };
  const goTo = n => {
    const mark = laid.find(one => one.n === n);
    try {
      CSS.highlights.delete('ypomna-now');
      if (mark) {
        const now = new Highlight(mark.range);
        now.priority = 3;
        CSS.highlights.set('ypomna-now', now);
      }
    } catch {
      /* only in sight */
    }
    if (mark) scrollTo({ top: Math.max(0, mark.range.getBoundingClientRect().top + scrollY - innerHeight / 3), behavior: 'instant' });
  };
  const selectorOf = element => {
    const steps = [];
    for (
      let node = element;
      node instanceof Element && !/^(?:HTML|BODY)$/.test(node.nodeName) && steps.length < 5;
      node = node.parentElement
    ) {
      const id = node.id && !/\d{2}|[\s#.:>]/.test(node.id) ? '#' + node.id : '',
        classes = [...node.classList]
          .filter(name => !/\d{2}|[#.:>]/.test(name))
          .slice(0, 3)
          .map(name => '.' + name)
          .join('');
      const alike = node.parentElement ? [...node.parentElement.children].filter(other => other.localName === node.localName) : [];
      steps.unshift(
        node.localName + id + classes + (id || classes || alike.length < 2 ? '' : ':nth-of-type(' + (alike.indexOf(node) + 1) + ')'),
      );
      if (id || classes) break;
    }
    return steps.join(' > ');
  };
  let pointing = null;
  const point = on => {
    const stop = () => {
      if (pointing) {
        removeEventListener('mousemove', pointing.over, true);
        removeEventListener('click', pointing.pick, true);
        pointing.box.remove();
        pointing = null;
      }
    };
    stop();
    if (!on) return;
    const box = document.createElement('div');
    box.style.cssText =
      'all:initial;position:fixed;pointer-events:none;z-index:2147483646;outline:3px dashed #9c2318;background:rgba(156,35,24,.08)';
    document.documentElement.append(box);
    const over = event => {
      const seen = event.target.getBoundingClientRect();
      Object.assign(box.style, { left: seen.left + 'px', top: seen.top + 'px', width: seen.width + 'px', height: seen.height + 'px' });
    };
    const pick = event => {
      event.preventDefault();
      event.stopImmediatePropagation();
      post({
        ypomna: 'pointed',
        selector: selectorOf(event.target).slice(0, 500),
        text: String(event.target.innerText || '')
          .replace(/\s+/g, ' ')
          .trim()
          .slice(0, 300),
      });
      stop();
    };
    pointing = { over, pick, box };
    addEventListener('mousemove', over, true);
    addEventListener('click', pick, true);
  };
  let ledTo = -1;
  window.addEventListener('message', event => {
    const said = event.data;
    if (event.source !== top || parent !== top || !said || !['marks', 'go', 'scroll', 'point'].includes(said.ypomnaCompare)) return;
    event.stopImmediatePropagation();
    if (said.ypomnaCompare === 'go') goTo(said.n);
    if (said.ypomnaCompare === 'point') point(said.on === true);
    if (said.ypomnaCompare === 'scroll' && Number.isFinite(said.y)) {
      ledTo = Math.round(Math.min(Math.max(0, said.y), document.documentElement.scrollHeight - innerHeight));
      scrollTo({ top: ledTo, behavior: 'instant' });
    }
    if (said.ypomnaCompare === 'marks' && Array.isArray(said.marks)) {
      const marks = Object.assign(said.marks, { side: said.side });
      const again = current !== null,
        lay = () => layMarks(current);
      current = marks;
      if (document.readyState === 'loading') addEventListener('DOMContentLoaded', lay);
      else lay();
      if (!again) {
        addEventListener('load', lay);
        addEventListener('resize', () => drawSigns());
      }
    }
  });
  addEventListener(
    'scroll',
    () => {
      if (told.length && Math.abs(scrollY - ledTo) > 2) {
        ledTo = -1;
        post({ ypomna: 'scrolled', y: scrollY, height: innerHeight });
      }
    },
    { passive: true },
  );

  // Links into other frames: the sandbox lets nobody but an ancestor steer a frame, so the document that holds it does.
  const steer = (name, address) => {
    if (name === '_parent' || name === '_top') {
      location.href = address;
      return true;
    }
    for (const frame of document.querySelectorAll('iframe, frame'))
      if (frame.name === name) {
        frame.src = address;
        return true;
      }
    return false;
  };
  const isArchive = address => {
    try {
      return archive.is(new URL(address).hostname);
    } catch {
      return false;
    }
  };
  const pass = (name, address) => {
    if (name === '_top' && parent !== top) parent.postMessage({ ypomnaSteer: name, address }, '*');
    else if (parent === top || parent === window) {
      if (name === '_top' || name === '_parent' || !steer(name, address)) location.href = address;
    } else parent.postMessage({ ypomnaSteer: name, address }, '*');
  };
  window.addEventListener('message', event => {
    const said = event.data;
    if (!said || typeof said.ypomnaSteer !== 'string' || typeof said.address !== 'string' || !isArchive(said.address)) return;
    event.stopImmediatePropagation();
    const isMine = [...Array(frames.length).keys()].some(i => frames[i] === event.source);
    if (!isMine) return;
    if (said.ypomnaSteer === '_top' && parent !== top && parent !== window) parent.postMessage(said, '*');
    else if (!steer(said.ypomnaSteer, said.address)) pass(said.ypomnaSteer, said.address);
  });
  document.addEventListener('click', event => {
    const link =
      event.target instanceof Element && !event.defaultPrevented && event.button === 0 ? event.target.closest('a[href], area[href]') : null;
    const base = document.querySelector('base[target], base[data-ypomna-target]');
    const name =
      link && (link.dataset.ypomnaTarget || link.getAttribute('target') || (base && (base.dataset.ypomnaTarget || base.target)) || '');
    if (!name || /^_(?:self|blank|new)$/i.test(name) || !isArchive(link.href) || window.frames === top) return;
    event.preventDefault();
    if (!/^_/.test(name) && steer(name, link.href)) return;
    if (parent === top || parent === window) location.href = link.href;
    else
      parent.postMessage(
        { ypomnaSteer: name.toLowerCase() === '_top' ? '_top' : name.toLowerCase() === '_parent' ? '_parent' : name, address: link.href },
        '*',
      );
  });

  // A frame may get its size after its page was opened at a place: until the reader does something, that is where it is.
  if (location.hash) {
    const kept = () => {
      const place = document.querySelector(':target');
      if (place) place.scrollIntoView({ block: 'start', behavior: 'instant' });
    };
    const acts = ['wheel', 'touchstart', 'pointerdown', 'keydown'],
      done = () => {
        removeEventListener('resize', kept);
        for (const act of acts) removeEventListener(act, done, true);
      };
    addEventListener('resize', kept);
    for (const act of acts) addEventListener(act, done, true);
    addEventListener('load', () => setTimeout(done, 3000));
  }

  // Browsers take pieces of a drawing (<use href="icons.svg#boat">) from the page's own origin alone, and in the sandbox it has none: they
  // are taken from a copy that the page made itself. A page that may ask for nothing came with its drawings.
  const copies = new Map(),
    uses = document.getElementsByTagNameNS('http://www.w3.org/2000/svg', 'use'),
    drawn = new WeakMap();
  const askFor = window.fetch,
    blobOf = URL.createObjectURL;
  const copyOf = address => {
    if (!copies.has(address)) {
      const markup = facts.drawings
        ? Promise.resolve(facts.drawings[original(address)])
        : askFor(address).then(answer => (answer.ok ? answer.text() : null));
      const made = markup.then(text => (text ? blobOf.call(URL, new Blob([text], { type: 'image/svg+xml' })) : null));
      copies.set(
        address,
        made.catch(() => null),
      );
    }
    return copies.get(address);
  };
  const draw = use => {
    const name = use.hasAttribute('href') ? 'href' : 'xlink:href',
      href = use.getAttribute(name);
    if (!href || href.startsWith('#') || drawn.get(use) === href) return;
    drawn.set(use, href);
    try {
      const url = new URL(href, document.baseURI),
        piece = url.hash;
      url.hash = '';
      const from = original(url.href);
      if (!from || new URL(from).origin !== new URL(facts.url).origin || url.href === location.href.split('#')[0]) return;
      copyOf(url.href).then(copy => {
        if (!copy || use.getAttribute(name) !== href) return;
        drawn.set(use, copy + piece);
        use.setAttribute(name, copy + piece);
      });
    } catch {
      /* it stays as it is */
    }
  };
  new MutationObserver(() => {
    for (let i = 0; i < uses.length; i++) draw(uses[i]);
  }).observe(document, { subtree: true, childList: true, attributes: true, attributeFilter: ['href'] });
  if (!facts.alive) return;

  // Scripts see the moment of the capture.
  const ThisDate = Date,
    shift = facts.moment - ThisDate.now(),
    now = () => ThisDate.now() + shift;
  const Then = function Date(...given) {
    return new.target ? Reflect.construct(ThisDate, given.length ? given : [now()], new.target) : new ThisDate(now()).toString();
  };
  Then.prototype = ThisDate.prototype;
  Object.defineProperties(Then, {
    now: { value: now, writable: true, configurable: true },
    parse: { value: ThisDate.parse, writable: true, configurable: true },
    UTC: { value: ThisDate.UTC, writable: true, configurable: true },
    length: { value: 7 },
  });
  try {
    Object.defineProperty(ThisDate.prototype, 'constructor', { value: Then, writable: true, configurable: true });
    window.Date = Then;
  } catch {
    /* it stays today's */
  }
  try {
    const formats = Intl.DateTimeFormat.prototype,
      parts = formats.formatToParts,
      format = Object.getOwnPropertyDescriptor(formats, 'format').get;
    formats.formatToParts = function (date) {
      return parts.call(this, date === undefined ? now() : date);
    };
    Object.defineProperty(formats, 'format', {
      configurable: true,
      get() {
        const own = format.call(this);
        return date => own(date === undefined ? now() : date);
      },
    });
  } catch {
    /* only what is formatted without a date differs */
  }

  // Absolute addresses that scripts make up lead to the archive, as those in the markup do. The wall stands without this.
  const page = new URL(facts.url);
  const map = value => {
    try {
      const text = String(value).trim();
      if (!/^(?:https?:|wss?:)?\/\//i.test(text)) return value;
      const url = new URL(text, page);
      return archive.is(url.hostname) ? value : archive.to(url, url.protocol.replace('ws', 'http').slice(0, -1)) + url.hash;
    } catch {
      return value;
    }
  };
  const candidates = value =>
    String(value).replace(/(^|,)(\s*)([^\s,]\S*[^\s,]|[^\s,])/g, (all, before, space, url) => before + space + map(url));
  const styles = value =>
    typeof value === 'string' && /url\(|@import/i.test(value)
      ? value.replace(/(url\(\s*["']?|@import\s+["'])((?:https?:)?\/\/[^"')\s]+)/gi, (all, before, url) => before + map(url))
      : value;
  const markup = value => {
    const text = String(value);
    if (!/\/\//.test(text)) return value;
    return styles(
      text
        .replace(
          /(<[a-z][^>]*?\s(?:src|href|action|poster|data|background|formaction|xlink:href)\s*=\s*["']?\s*)((?:https?:)?\/\/[^\s"'>]+)/gi,
          (all, before, url) => before + map(url),
        )
        .replace(/(\ssrcset\s*=\s*)("[^"]*"|'[^']*')/gi, (all, before, set) => before + set[0] + candidates(set.slice(1, -1)) + set[0])
        .replace(/\sintegrity\s*=\s*("[^"]*"|'[^']*')/gi, ''),
    );
  };

  const fetchPage = window.fetch;
  window.fetch = function (what, options) {
    try {
      // In the sandbox a page has no origin that anything could be the same as.
      if (options && options.mode === 'same-origin') options = { ...options, mode: 'cors' };
      if (what instanceof Request)
        return fetchPage.call(
          this,
          map(what.url) === what.url && what.mode !== 'same-origin'
            ? what
            : new Request(map(what.url), {
                method: what.method,
                headers: what.headers,
                body: /^(?:GET|HEAD)$/.test(what.method) ? undefined : what.body,
                duplex: 'half',
                mode: 'cors',
                credentials: what.credentials,
                redirect: what.redirect,
                signal: what.signal,
              }),
          options,
        );
    } catch {
      /* as it was asked */
    }
    return fetchPage.call(this, map(what), options);
  };
  const open = XMLHttpRequest.prototype.open;
  XMLHttpRequest.prototype.open = function (method, url, ...rest) {
    return open.call(this, method, map(url), ...rest);
  };
  navigator.sendBeacon = () => true;
  // Web sockets: what was said on them was written down, and is said again, in the same order and at the same pace, answers after what they
  // answered. What a page's scripts ask anew and nobody asked then stays without an answer.
  const socketType = (archive, page, ask, gap) => {
    const turns = new Map(),
      later = setTimeout,
      PATIENCE = 2000;
    const pause = ms => new Promise(done => later(done, ms));
    // As it was, and where in the archive it is told of; pages put addresses together from the archive's own host as well.
    const placeOf = (address, document) => {
      const url = new URL(address, document);
      if (url.hash !== '' || !/^(?:https?|wss?):$/.test(url.protocol)) throw new SyntaxError(url.href);
      const [at, name, path] = archive.from(url) || [url.protocol.slice(0, -1), url.host, url.pathname + url.search],
        scheme = at === 'https' || at === 'wss' ? 'wss' : 'ws';
      return [scheme + '://' + name + path, archive.to(new URL(scheme + '://' + name + path), scheme)];
    };
    const bytesOf = text => Uint8Array.from(atob(text), sign => sign.charCodeAt(0));
    const sessionsOf = text => {
      const sessions = [];
      for (const one of text.split('\x1e')) {
        if (!one.trim()) continue;
        const said = JSON.parse(one);
        if ('socket' in said) sessions.push([said]);
        else if (sessions.length) sessions[sessions.length - 1].push(said);
      }
      return sessions;
    };
    const states = { CONNECTING: 0, OPEN: 1, CLOSING: 2, CLOSED: 3 };
    class WebSocket extends EventTarget {
      #state = 0;
      #url;
      #protocol = '';
      #heard = 0;
      #awake = null;
      #on = {};
      binaryType = 'blob';
      constructor(address) {
        super();
        let place;
        try {
          [this.#url, place] = placeOf(String(address), page());
        } catch {
          throw new DOMException("The URL '" + address + "' is invalid.", 'SyntaxError');
        }
        const turn = turns.get(this.#url) || 0;
        turns.set(this.#url, turn + 1);
        ask(place)
          .then(async answer => {
            const session = answer.ok ? sessionsOf(await answer.text())[turn] : null;
            if (!session) {
              gap(place);
              throw 0;
            }
            await this.#play(session);
          })
          .catch(() => {
            if (this.#state < 3) {
              this.dispatchEvent(new Event('error'));
              this.#end(false, 1006, '');
            }
          });
      }
      async #play([opened, ...all]) {
        if (this.#state !== 0) return this.#end(false, 1006, '');
        this.#state = 1;
        this.#protocol = opened.protocol || '';
        this.dispatchEvent(new Event('open'));
        let before = 0;
        for (const said of all) {
          const left = Math.max(0, said.at - before);
          before = said.at;
          if (said.from === 'page') {
            // What the page said then it is to say before what followed is said.
            if (!('close' in said) && this.#heard-- <= 0) {
              await Promise.race([
                new Promise(done => {
                  this.#awake = done;
                }),
                pause(left + PATIENCE),
              ]);
            }
            continue;
          }
          await pause(left);
          if (this.#state !== 1) return;
          if ('close' in said) return this.#end(true, said.close ?? 1005, said.reason || '');
          if (said.end) return this.#end(false, 1006, '');
          const bytes = 'text' in said ? null : bytesOf(said.bytes);
          const data = bytes === null ? said.text : this.binaryType === 'arraybuffer' ? bytes.buffer : new Blob([bytes]);
          this.dispatchEvent(new MessageEvent('message', { data, origin: new URL(this.#url).origin }));
        }
      }
      #end(wasClean, code, reason) {
        if (this.#state === 3) return;
        this.#state = 3;
        this.dispatchEvent(new CloseEvent('close', { wasClean, code, reason }));
      }
      send() {
        if (this.#state === 0) throw new DOMException('The socket is still connecting.', 'InvalidStateError');
        this.#heard++;
        if (this.#awake) {
          this.#awake();
          this.#awake = null;
        }
      }
      close(code, reason = '') {
        if (code !== undefined && code !== 1000 && !(code >= 3000 && code < 5000)) {
          throw new DOMException('The code ' + code + ' may not be used.', 'InvalidAccessError');
        }
        if (this.#state > 1) return;
        const opened = this.#state === 1;
        this.#state = 2;
        later(() => {
          if (!opened) this.dispatchEvent(new Event('error'));
          this.#end(opened, opened ? (code ?? 1005) : 1006, opened ? reason : '');
        }, 0);
      }
      get url() {
        return this.#url;
      }
      get readyState() {
        return this.#state;
      }
      get protocol() {
        return this.#protocol;
      }
      get extensions() {
        return '';
      }
      get bufferedAmount() {
        return 0;
      }
      static {
        for (const name of ['open', 'message', 'error', 'close']) {
          Object.defineProperty(this.prototype, 'on' + name, {
            configurable: true,
            enumerable: true,
            get() {
              return this.#on[name] ? this.#on[name].own : null;
            },
            set(own) {
              if (this.#on[name]) this.removeEventListener(name, this.#on[name].heard);
              this.#on[name] =
                typeof own === 'function'
                  ? {
                      own,
                      heard: event => {
                        own.call(this, event);
                      },
                    }
                  : null;
              if (this.#on[name]) this.addEventListener(name, this.#on[name].heard);
            },
          });
        }
        for (const [name, value] of Object.entries(states)) {
          for (const on of [this, this.prototype]) Object.defineProperty(on, name, { value, enumerable: true });
        }
      }
    }
    return WebSocket;
  };
  window.WebSocket = socketType(
    archive,
    () => document.baseURI,
    fetchPage,
    place => tell('gap', place),
  );
  if (window.EventSource)
    window.EventSource = new Proxy(EventSource, {
      construct: (type, [url, ...rest], target) => Reflect.construct(type, [map(url), ...rest], target),
    });

  const through = (type, name, change) => {
    const of = type && Object.getOwnPropertyDescriptor(type.prototype, name);
    if (of && of.set)
      Object.defineProperty(type.prototype, name, {
        ...of,
        set(value) {
          of.set.call(this, change(value));
        },
      });
  };
  for (const type of [
    HTMLImageElement,
    HTMLScriptElement,
    HTMLIFrameElement,
    HTMLFrameElement,
    HTMLMediaElement,
    HTMLSourceElement,
    HTMLEmbedElement,
    HTMLInputElement,
    HTMLTrackElement,
  ])
    through(type, 'src', map);
  for (const type of [HTMLLinkElement, HTMLAnchorElement, HTMLAreaElement, HTMLBaseElement]) through(type, 'href', map);
  for (const [type, name] of [
    [HTMLFormElement, 'action'],
    [HTMLObjectElement, 'data'],
    [HTMLVideoElement, 'poster'],
    [HTMLButtonElement, 'formAction'],
  ])
    through(type, name, map);
  for (const type of [HTMLImageElement, HTMLSourceElement]) through(type, 'srcset', candidates);
  for (const type of [HTMLLinkElement, HTMLScriptElement]) through(type, 'integrity', () => '');
  for (const [type, name] of [
    [Element, 'innerHTML'],
    [Element, 'outerHTML'],
    [ShadowRoot, 'innerHTML'],
    [HTMLIFrameElement, 'srcdoc'],
  ])
    through(type, name, markup);
  const wrap = (type, name, change) => {
    const own = type && type.prototype[name];
    if (typeof own === 'function')
      type.prototype[name] = function (...given) {
        return own.apply(this, change(given));
      };
  };
  wrap(CSSStyleDeclaration, 'setProperty', ([name, value, ...rest]) => [name, styles(value), ...rest]);
  wrap(CSSStyleSheet, 'insertRule', ([rule, ...rest]) => [styles(rule), ...rest]);
  wrap(CSSStyleSheet, 'replaceSync', ([text, ...rest]) => [styles(text), ...rest]);
  wrap(Element, 'insertAdjacentHTML', ([where, text]) => [where, markup(text)]);
  wrap(Range, 'createContextualFragment', ([text]) => [markup(text)]);
  wrap(Document, 'write', texts => [markup(texts.join(''))]);
  wrap(Document, 'writeln', texts => [markup(texts.join(''))]);
  const attribute = (name, value) =>
    /^(?:src|href|xlink:href|data|poster|action|formaction|background)$/i.test(name)
      ? map(value)
      : /^srcset$/i.test(name)
        ? candidates(value)
        : /^style$/i.test(name)
          ? styles(value)
          : value;
  wrap(Element, 'setAttribute', ([name, value]) => [name, attribute(String(name), value)]);
  wrap(Element, 'setAttributeNS', ([space, name, value]) => [space, name, attribute(String(name), value)]);

  // Styles that scripts set one by one pass by no method that could be wrapped: what leads elsewhere is turned afterwards.
  new MutationObserver(changes => {
    for (const change of changes) {
      const style = change.type === 'attributes' ? null : change.target.nodeType === 3 ? change.target.parentNode : change.target;
      if (change.type === 'attributes') {
        const text = change.target.getAttribute('style'),
          turned = styles(text || '');
        if (text && turned !== text) change.target.setAttribute('style', turned);
      }
      for (const one of [style, ...change.addedNodes])
        if (one instanceof HTMLStyleElement) {
          const turned = styles(one.textContent);
          if (turned !== one.textContent) one.textContent = turned;
        }
    }
  }).observe(document, { subtree: true, childList: true, characterData: true, attributes: true, attributeFilter: ['style'] });

  // Workers of another origin are refused, and in the sandbox every origin is another: they begin from a blob that loads them.
  const begin = (url, base) => {
    const prelude =
      '(' +
      function (base, archive, shift, sockets) {
        const map = value => {
          try {
            const url = new URL(String(value), base);
            return archive.is(url.hostname) || !/^https?:$/.test(url.protocol) ? url.href : archive.to(url);
          } catch {
            return value;
          }
        };
        const load = self.importScripts,
          ask = self.fetch,
          open = XMLHttpRequest.prototype.open,
          Real = Date;
        if (load) self.importScripts = (...urls) => load.apply(self, urls.map(map));
        self.fetch = (what, options) => ask.call(self, typeof what === 'string' || what instanceof URL ? map(what) : what, options);
        XMLHttpRequest.prototype.open = function (method, url, ...rest) {
          return open.call(this, method, map(url), ...rest);
        };
        self.WebSocket = sockets(
          archive,
          () => base,
          (...given) => ask.apply(self, given),
          () => {},
        );
        self.Date = class Date extends Real {
          constructor(...given) {
            if (given.length) super(...given);
            else super(Real.now() + shift);
          }
          static now() {
            return Real.now() + shift;
          }
        };
      } +
      ')(' +
      JSON.stringify(base) +
      ',(' +
      archiveOf +
      ')(' +
      JSON.stringify(place) +
      '),' +
      shift +
      ',' +
      socketType +
      ');';
    return prelude;
  };
  // Scripts that a page made itself are begun in the same way.
  const made = new Map(),
    makeUrl = URL.createObjectURL,
    dropUrl = URL.revokeObjectURL;
  URL.createObjectURL = function (of) {
    const url = makeUrl.call(URL, of);
    if (of instanceof Blob && !(of instanceof File) && of.size < 4194304) made.set(url, of);
    return url;
  };
  URL.revokeObjectURL = function (url) {
    made.delete(String(url));
    return dropUrl.call(URL, url);
  };
  for (const name of ['Worker', 'SharedWorker']) {
    const Own = window[name];
    if (!Own) continue;
    window[name] = new Proxy(Own, {
      construct(type, [url, options], target) {
        try {
          const address = new URL(map(url), document.baseURI).href;
          if (made.has(address) && !(options && options.type === 'module')) {
            url = makeUrl.call(URL, new Blob([begin(url, document.baseURI), made.get(address)], { type: 'text/javascript' }));
          }
          if (/^https?:/.test(address)) {
            const isModule = options && options.type === 'module';
            const code =
              begin(url, address) +
              (isModule ? 'await import(' + JSON.stringify(address) + ');' : 'importScripts(' + JSON.stringify(address) + ');');
            // Chromium starts no module from a blob in a sandbox.
            url = isModule
              ? 'data:text/javascript;charset=utf-8,' + encodeURIComponent(code)
              : makeUrl.call(URL, new Blob([code], { type: 'text/javascript' }));
          }
        } catch {
          /* as it was asked */
        }
        return Reflect.construct(type, options === undefined ? [url] : [url, options], target);
      },
    });
  }

  // A frame without an address is of another origin in the sandbox, as all are: what a script writes into it is written into a document
  // that stands in for its own, and shown as its markup.
  const standIns = new WeakMap(),
    setMarkup = Object.getOwnPropertyDescriptor(HTMLIFrameElement.prototype, 'srcdoc').set;
  const isBlank = frame =>
    standIns.has(frame) ||
    (frame.isConnected &&
      !frame.hasAttribute('srcdoc') &&
      /^\s*(?:about:blank\b.*|javascript:.*)?$/is.test(frame.getAttribute('src') || ''));
  const standIn = frame => {
    if (standIns.has(frame)) return standIns.get(frame);
    const inside = document.implementation.createHTMLDocument('');
    let written = null,
      waits = false;
    const show = () => {
      if (waits) return;
      waits = true;
      Promise.resolve().then(() => {
        waits = false;
        setMarkup.call(frame, '<!doctype html>' + inside.documentElement.outerHTML);
      });
    };
    const write = (...texts) => {
      written = (written === null ? '' : written) + texts.join('');
      const read = new DOMParser().parseFromString(written, 'text/html');
      inside.replaceChild(inside.importNode(read.documentElement, true), inside.documentElement);
    };
    for (const [name, act] of Object.entries({
      open: () => {
        written = '';
        return inside;
      },
      close: () => {
        written = null;
      },
      write,
      writeln: (...texts) => write(...texts, '\n'),
    })) {
      Object.defineProperty(inside, name, { value: act, writable: true, configurable: true });
    }
    new MutationObserver(show).observe(inside, { subtree: true, childList: true, characterData: true, attributes: true });
    standIns.set(frame, inside);
    return inside;
  };
  for (const name of ['contentDocument', 'contentWindow']) {
    const of = Object.getOwnPropertyDescriptor(HTMLIFrameElement.prototype, name);
    Object.defineProperty(HTMLIFrameElement.prototype, name, {
      ...of,
      get() {
        const own = of.get.call(this),
          frame = this;
        if (!isBlank(frame) || (name === 'contentDocument' && own)) return own;
        if (name === 'contentDocument') return standIn(frame);
        if (!own) return own;
        return new Proxy(
          {},
          {
            get: (target, key) => {
              if (key === 'document') return standIn(frame);
              if (key in target) return target[key];
              try {
                const value = own[key];
                return typeof value === 'function' ? value.bind(own) : value;
              } catch {
                return undefined;
              }
            },
          },
        );
      },
    });
  }

  // What opens another window opens in this one, and only where the reader pressed something.
  window.open = address => {
    if (!address || !navigator.userActivation || !navigator.userActivation.isActive) return null;
    const url = map(new URL(String(address), document.baseURI).href);
    if (!isArchive(url)) return null;
    if (parent === top || parent === window) location.href = url;
    else parent.postMessage({ ypomnaSteer: '_top', address: url }, '*');
    return null;
  };

  // The sandbox withholds storage, cookies and more, and throws where a page asks; a page gets empty ones of its own.
  const held = new WeakMap(),
    MOST = 5242880;
  const acts = {
    getItem: (map, key) => (map.has(String(key)) ? map.get(String(key)) : null),
    setItem: (map, key, value) => {
      let size = String(key).length + String(value).length;
      for (const [k, v] of map) size += k === String(key) ? 0 : k.length + v.length;
      if (size > MOST) throw new DOMException('The storage is full.', 'QuotaExceededError');
      map.set(String(key), String(value));
    },
    removeItem: (map, key) => {
      map.delete(String(key));
    },
    clear: map => map.clear(),
    key: (map, n) => [...map.keys()][n] ?? null,
  };
  for (const [name, act] of Object.entries(acts)) {
    Storage.prototype[name] = new Proxy(Storage.prototype[name], {
      apply: (own, self, given) => (held.has(self) ? act(held.get(self), ...given) : Reflect.apply(own, self, given)),
    });
  }
  const storage = () => {
    const map = new Map();
    const isKey = name => typeof name === 'string' && !(name in Storage.prototype);
    const own = new Proxy(Object.create(Storage.prototype), {
      get: (target, name, self) => (name === 'length' ? map.size : isKey(name) ? map.get(name) : Reflect.get(target, name, self)),
      set: (target, name, value) => {
        acts.setItem(map, name, value);
        return true;
      },
      has: (target, name) => Reflect.has(target, name) || map.has(name),
      deleteProperty: (target, name) => {
        map.delete(String(name));
        return true;
      },
      ownKeys: () => [...map.keys()],
      getOwnPropertyDescriptor: (target, name) =>
        map.has(name) ? { value: map.get(name), enumerable: true, configurable: true, writable: true } : undefined,
    });
    held.set(own, map);
    return own;
  };
  const define = (object, name, value) => {
    try {
      Object.defineProperty(object, name, { configurable: true, get: () => value });
    } catch {
      /* defined otherwise */
    }
  };
  for (const name of ['localStorage', 'sessionStorage']) define(window, name, storage());
  define(navigator, 'serviceWorker', {
    controller: null,
    ready: new Promise(() => {}),
    register: () => Promise.reject(new DOMException('Service workers do not run in an archived page.', 'SecurityError')),
    getRegistration: async () => undefined,
    getRegistrations: async () => [],
    addEventListener() {},
    removeEventListener() {},
  });
  define(window, 'caches', {
    open: async () => ({
      match: async () => undefined,
      put: async () => {},
      add: async () => {},
      addAll: async () => {},
      delete: async () => false,
      keys: async () => [],
    }),
    match: async () => undefined,
    has: async () => false,
    delete: async () => false,
    keys: async () => [],
  });
  define(window, 'origin', page.origin);
  // The address bar's own words cannot be changed; these can.
  for (const name of ['URL', 'documentURI'])
    try {
      Object.defineProperty(document, name, { configurable: true, get: () => page.href });
    } catch {
      /* as it is */
    }
  try {
    Object.defineProperty(document, 'domain', { configurable: true, get: () => page.hostname, set() {} });
  } catch {
    /* as it is */
  }
  try {
    Object.defineProperty(document, 'referrer', { configurable: true, get: () => '' });
  } catch {
    /* as it is */
  }
  let jar = [];
  try {
    Object.defineProperty(document, 'cookie', {
      configurable: true,
      get: () => jar.join('; '),
      set(text) {
        const [pair, ...rest] = String(text)
            .split(';')
            .map(part => part.trim()),
          name = pair.split('=')[0];
        const ends = rest.map(part => part.match(/^(max-age|expires)=(.*)$/i)).find(Boolean);
        jar = jar.filter(held => held.split('=')[0] !== name);
        if (pair && !(ends && (/^m/i.test(ends[1]) ? Number(ends[2]) <= 0 : ThisDate.parse(ends[2]) < now()))) jar.push(pair);
      },
    });
  } catch {
    /* defined otherwise */
  }
  for (const name of ['pushState', 'replaceState']) {
    const own = history[name];
    history[name] = function (state, title, url) {
      try {
        return own.call(this, state, title, url);
      } catch {
        return own.call(this, state, title);
      }
    };
  }
}
