/**
 * What runs in a page, apart from its scripts. Each function is sent there by itself, so none knows anything outside itself. What a
 * page says of itself is its own word; nothing that is decided rests on it.
 */

/**
 * Lays the line at the foot of the page. It hangs beside the page's body, closed to its scripts.
 *
 * @returns {{state: 'opened'|'there'|'none', type: string}}
 */
export function openLine(address) {
  const type = document.contentType;
  // In a page that is shut up in a sandbox, a frame of ours would be nobody's.
  if (
    self.origin === 'null' ||
    !/html|xml|^text\/plain/.test(type) ||
    !document.documentElement ||
    document.querySelector('embed[type="application/pdf"]')
  ) {
    return { state: 'none', type };
  }
  const held = globalThis.ypomnaLine;
  if (held?.host.isConnected) {
    return { state: 'there', type };
  }
  // While a page shows a window of its own that must be answered, all outside it is dead.
  const parent = [...document.querySelectorAll('dialog:modal')].at(-1) ?? document.documentElement;
  const host = document.createElement('aside');
  const inside = host.attachShadow({ mode: 'closed' });
  host.style.cssText =
    'all: initial !important; position: fixed !important; inset: auto 0 0 0 !important; width: 100% !important;' +
    'max-width: none !important; max-height: none !important; margin: 0 !important; padding: 0 !important; border: 0 !important;' +
    'z-index: 2147483647 !important; display: block !important; background: transparent !important; overflow: visible !important;';
  host.popover = 'manual';
  const frame = document.createElement('iframe');
  frame.src = address;
  frame.title = 'Ypomna';
  frame.allow = '';
  frame.style.cssText = 'all: initial; position: absolute; inset: 0; width: 100%; height: 100%; border: 0; color-scheme: light dark;';
  inside.append(frame);
  // Where a window is narrow, the answers stand below the sentence.
  const fit = () => host.style.setProperty('height', innerWidth > 1060 ? '52px' : innerWidth > 560 ? '92px' : '164px', 'important');
  fit();
  addEventListener('resize', fit);
  const before = document.activeElement;
  frame.addEventListener('load', () => frame.focus());
  let taken = 0;
  // A page may throw out what it did not put in; the line comes back twice, then it gives way.
  const watch = new MutationObserver(() => {
    if (!host.isConnected && globalThis.ypomnaLine?.host === host) {
      if (++taken > 2) {
        globalThis.ypomnaLine.close();
        globalThis.chrome?.runtime?.sendMessage({ thrownOut: true });
      } else {
        parent.append(host);
        host.showPopover();
      }
    }
  });
  globalThis.ypomnaLine = {
    host,
    close() {
      watch.disconnect();
      removeEventListener('resize', fit);
      host.remove();
      globalThis.ypomnaLine = undefined;
      if (before instanceof HTMLElement && before.isConnected && before !== document.body) {
        before.focus({ preventScroll: true });
      }
    },
  };
  parent.append(host);
  host.showPopover();
  if (host.getBoundingClientRect().height < 40) {
    // In what is not shown at all nothing else is.
    globalThis.ypomnaLine.close();
    return { state: 'none', type };
  }
  watch.observe(parent, { childList: true });
  frame.focus();
  return { state: 'opened', type };
}

export function closeLine() {
  globalThis.ypomnaLine?.close();
  return true;
}

/** What the page says of itself, and what its browser saw of the answer. */
export function facts() {
  const navigation = performance.getEntriesByType('navigation')[0];
  const selection = getSelection();
  const words = selection && !selection.isCollapsed ? String(selection).trim().slice(0, 20_000) : '';
  let around = ['', ''];
  if (words !== '') {
    const range = selection.getRangeAt(0);
    const before = document.createRange();
    before.setStart(document.body ?? document.documentElement, 0);
    before.setEnd(range.startContainer, range.startOffset);
    const after = document.createRange();
    after.setStart(range.endContainer, range.endOffset);
    after.setEnd(document.body ?? document.documentElement, (document.body ?? document.documentElement).childNodes.length);
    around = [String(before).slice(-60), String(after).slice(0, 60)];
  }
  const status = navigation?.responseStatus > 0 ? navigation.responseStatus : null;
  return {
    url: location.href,
    title: document.title.slice(0, 1_000),
    summary: (document.querySelector('meta[name="description"], meta[property="og:description"]')?.content ?? '').slice(0, 2_000),
    text: (document.body?.innerText ?? '').slice(0, 400_000),
    selection: words === '' ? null : { exact: words, prefix: around[0], suffix: around[1] },
    seen: {
      status,
      type: document.contentType,
      charset: document.characterSet,
      protocol: navigation?.nextHopProtocol || null,
      referrer: document.referrer || null,
      bytes: navigation?.encodedBodySize > 0 ? navigation.encodedBodySize : null,
      width: innerWidth,
      height: innerHeight,
      browser: navigator.userAgent,
    },
  };
}

/**
 * The fields of the server's answer, as they lie in the browser's own store; nobody is asked for them. Never those that a browser keeps
 * from scripts (Fetch standard, forbidden response-header names).
 *
 * @returns {Promise<[string, string][]|false>} false where the browser did not keep the answer, or it may be another one
 */
export async function fieldsOfAnswer() {
  const navigation = performance.getEntriesByType('navigation')[0];
  // A page's own service worker would be asked, and could say what it likes.
  if (!navigation || navigator.serviceWorker?.controller || !(navigation.decodedBodySize <= 33_554_432)) {
    return false;
  }
  try {
    const address = new URL(location.href);
    address.hash = '';
    const answer = await fetch(address, { cache: 'only-if-cached', mode: 'same-origin', signal: AbortSignal.timeout(3_000) });
    const bytes = (await answer.arrayBuffer()).byteLength;
    const isSame =
      !answer.redirected &&
      bytes === navigation.decodedBodySize &&
      (navigation.responseStatus === 0 || navigation.responseStatus === answer.status || navigation.responseStatus === 304);
    return isSame && [...answer.headers].slice(0, 200).map(([name, value]) => [name.slice(0, 1_000), value.slice(0, 8_000)]);
  } catch {
    return false;
  }
}

/**
 * Has what is loaded by scrolling loaded, and puts everything back where it was.
 *
 * @returns {Promise<{screens: number, missing: string[]}>} what was not there in time, in words
 */
export async function loadAll(words) {
  const rest = ms => new Promise(done => setTimeout(done, ms));
  const until = performance.now() + 12_000;
  const root = document.scrollingElement ?? document.documentElement;
  const inner = [...document.querySelectorAll('main, section, article, div, ul, ol')]
    .filter(
      one => one.scrollHeight > one.clientHeight + 200 && one.clientHeight > 200 && /auto|scroll/.test(getComputedStyle(one).overflowY),
    )
    .sort((a, b) => b.scrollHeight - a.scrollHeight)
    .slice(0, 3);
  const missing = [];
  let screens = 0;
  for (const one of [root, ...inner]) {
    const [left, top] = [one.scrollLeft, one.scrollTop];
    const step = Math.max(200, (one === root ? innerHeight : one.clientHeight) * 0.9);
    let at = 0;
    while (at < one.scrollHeight && performance.now() < until && screens < 200) {
      one.scrollTo({ left, top: at, behavior: 'instant' });
      await rest(60);
      at += step;
      ++screens;
    }
    if (at < one.scrollHeight) {
      missing.push(words.long);
    }
    one.scrollTo({ left, top, behavior: 'instant' });
  }
  const waits = () => [...document.images].filter(one => !one.complete).length;
  for (let tries = 0; waits() > 0 && tries < 30; ++tries) {
    await rest(100);
  }
  if (waits() > 0) {
    missing.push(words.pictures.replace('%', waits()));
  }
  return { screens, missing };
}

/** Before pictures of a page are taken piece by piece: how large it is, and what stays in place when it is scrolled. */
export function beginPictures() {
  const root = document.scrollingElement ?? document.documentElement;
  const fixed = [];
  for (const one of document.querySelectorAll('body *')) {
    if (fixed.length < 500 && /^(?:fixed|sticky)$/.test(getComputedStyle(one).position)) {
      fixed.push([one, one.getAttribute('style')]);
    }
  }
  globalThis.ypomnaPictures = { left: root.scrollLeft, top: root.scrollTop, fixed, hidden: false };
  return {
    width: root.clientWidth,
    height: Math.max(root.scrollHeight, innerHeight),
    view: innerHeight,
    wide: innerWidth,
    scale: devicePixelRatio,
    left: root.scrollLeft,
    top: root.scrollTop,
  };
}

/** @returns {Promise<{top: number}>} where the page stands now: near its end that is not where it was to go */
export async function showPiece(top, isFirst) {
  const root = document.scrollingElement ?? document.documentElement;
  const held = globalThis.ypomnaPictures;
  if (!isFirst && !held.hidden) {
    held.hidden = true;
    for (const [one] of held.fixed) {
      one.style.setProperty('visibility', 'hidden', 'important');
    }
  }
  root.scrollTo({ left: 0, top, behavior: 'instant' });
  await new Promise(done => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 60))));
  return { top: root.scrollTop };
}

export function endPictures() {
  const root = document.scrollingElement ?? document.documentElement;
  const held = globalThis.ypomnaPictures;
  if (held) {
    for (const [one, style] of held.hidden ? held.fixed : []) {
      if (style === null) {
        one.removeAttribute('style');
      } else {
        one.setAttribute('style', style);
      }
    }
    root.scrollTo({ left: held.left, top: held.top, behavior: 'instant' });
    globalThis.ypomnaPictures = undefined;
  }
  return true;
}

/**
 * Lets somebody point at a part of the page, by mouse or keyboard.
 *
 * @returns {Promise<{part: string, words: string, box: number[]}|null>} where it is in the page, in pixels; null if they left it
 */
export async function pointAtPart(words) {
  const host = document.createElement('aside');
  const inside = host.attachShadow({ mode: 'closed' });
  host.style.cssText =
    'all: initial !important; position: fixed !important; inset: 0 !important; width: 100% !important; height: 100% !important;' +
    'max-width: none !important; max-height: none !important; margin: 0 !important; padding: 0 !important; border: 0 !important;' +
    'background: transparent !important; z-index: 2147483647 !important; cursor: crosshair !important; display: block !important;';
  host.popover = 'manual';
  host.tabIndex = 0;
  const frame = document.createElement('div');
  frame.style.cssText =
    'position: fixed; border: 3px solid #2f6b5e; outline: 1px solid #f4ede0; pointer-events: none; box-sizing: border-box;';
  const line = document.createElement('p');
  line.style.cssText =
    'position: fixed; inset: auto 0 0 0; margin: 0; padding: 14px 18px; background: #f4ede0; color: #22201c; font: 15px/1.5 system-ui;' +
    'border-top: 3px solid #2f6b5e; pointer-events: none;';
  line.setAttribute('role', 'status');
  line.textContent = words.how;
  inside.append(frame, line);
  document.documentElement.append(host);
  host.showPopover();
  host.focus({ preventScroll: true });
  let chosen = document.querySelector('main') ?? document.body;
  let drawn = null;
  let from = null;
  const show = box => {
    frame.style.left = `${box[0]}px`;
    frame.style.top = `${box[1]}px`;
    frame.style.width = `${box[2]}px`;
    frame.style.height = `${box[3]}px`;
  };
  const boxOf = one => {
    const box = one.getBoundingClientRect();
    return [box.left, box.top, box.width, box.height];
  };
  const under = event => {
    host.style.setProperty('pointer-events', 'none', 'important');
    const found = document.elementFromPoint(event.clientX, event.clientY);
    host.style.setProperty('pointer-events', 'auto', 'important');
    return found ?? chosen;
  };
  const choose = one => {
    if (one && one !== document.documentElement && one !== host) {
      chosen = one;
      drawn = null;
      chosen.scrollIntoView({ block: 'nearest', behavior: 'instant' });
      show(boxOf(chosen));
      const name = chosen.getAttribute('aria-label') ?? chosen.innerText ?? '';
      line.textContent = `${words.how} — ${chosen.localName}: ${name.trim().slice(0, 80)}`;
    }
  };
  const selector = one => {
    const steps = [];
    for (let at = one; at && at !== document.documentElement && steps.length < 12; at = at.parentElement) {
      if (at.id) {
        steps.unshift(`#${CSS.escape(at.id)}`);
        break;
      }
      const same = at.parentElement ? [...at.parentElement.children].filter(other => other.localName === at.localName) : [at];
      steps.unshift(at.localName + (same.length > 1 ? `:nth-of-type(${same.indexOf(at) + 1})` : ''));
    }
    return steps.join(' > ').slice(0, 900);
  };
  choose(chosen);
  const [left, top] = [scrollX, scrollY];
  const answer = await new Promise(done => {
    const listen = (name, act) =>
      host.addEventListener(name, event => {
        event.preventDefault();
        event.stopImmediatePropagation();
        // What a page plays is not somebody's hand.
        if (event.isTrusted) {
          act(event);
        }
      });
    listen('pointermove', event => {
      if (from) {
        drawn = [
          Math.min(from[0], event.clientX),
          Math.min(from[1], event.clientY),
          Math.abs(from[0] - event.clientX),
          Math.abs(from[1] - event.clientY),
        ];
        show(drawn);
      } else {
        choose(under(event));
      }
    });
    listen('pointerdown', event => {
      from = [event.clientX, event.clientY];
    });
    listen('pointerup', event => {
      const isDrawn = drawn && drawn[2] > 8 && drawn[3] > 8;
      from = null;
      if (!isDrawn) {
        choose(under(event));
      }
      done(true);
    });
    listen('click', () => {});
    listen('keydown', event => {
      const next = {
        ArrowUp: 'parentElement',
        ArrowDown: 'firstElementChild',
        ArrowLeft: 'previousElementSibling',
        ArrowRight: 'nextElementSibling',
      };
      if (event.key === 'Enter') {
        done(true);
      } else if (event.key === 'Escape') {
        done(false);
      } else if (next[event.key]) {
        choose(chosen[next[event.key]]);
      }
    });
    host.addEventListener('blur', () => host.focus({ preventScroll: true }));
  });
  const box = drawn && drawn[2] > 8 && drawn[3] > 8 ? drawn : boxOf(chosen);
  const said = answer
    ? {
        part: drawn && drawn[2] > 8 ? `box ${drawn.map(Math.round).join(' ')}` : selector(chosen),
        words: (drawn ? '' : (chosen.innerText ?? '')).slice(0, 20_000),
        box: [box[0] + scrollX, box[1] + scrollY, box[2], box[3]].map(Math.round),
      }
    : null;
  host.remove();
  scrollTo({ left, top, behavior: 'instant' });
  return said;
}
