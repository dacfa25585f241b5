// Runs in a page before its own scripts while it is captured: knows what is still due. It answers to an event whose name nobody in
// the page knows, and changes nothing that a page could see but by looking for it.
(ask => {
  'use strict';
  const now = performance.now.bind(performance),
    once = new Map(),
    often = new Map(),
    changed = new WeakMap();
  let running = null,
    changes = 0,
    changedAt = -1;

  // A line is a timer that repeats, or one that sets itself anew: how often it fired without changing a passage.
  const line = () => (running ? running.line : { idle: 0 });
  const fire = (entry, own, self, given) => {
    const before = running,
      was = changes;
    running = entry;
    try {
      return Reflect.apply(own, self, given);
    } finally {
      running = before;
      // Behind what the tree tells of its changes.
      queueMicrotask(() => {
        entry.line.lively = changes > was;
        entry.line.idle = changes > was ? 0 : entry.line.idle + 1;
      });
    }
  };
  const wrap = (name, change) => {
    const own = window[name];
    if (typeof own === 'function') window[name] = new Proxy(own, { apply: (target, self, given) => change(target, self, given) });
  };
  wrap('setTimeout', (own, self, [act, delay, ...rest]) => {
    const entry = { due: now() + Math.max(0, Number(delay) || 0), line: line() };
    const told =
      typeof act === 'function'
        ? function (...given) {
            once.delete(id);
            return fire(entry, act, this, given);
          }
        : act;
    const id = Reflect.apply(own, self, [told, delay, ...rest]);
    once.set(id, entry);
    return id;
  });
  wrap('setInterval', (own, self, [act, delay, ...rest]) => {
    const entry = { period: Math.max(4, Number(delay) || 0), line: { idle: 0 }, since: now() };
    const told =
      typeof act === 'function'
        ? function (...given) {
            return fire(entry, act, this, given);
          }
        : act;
    const id = Reflect.apply(own, self, [told, delay, ...rest]);
    often.set(id, entry);
    return id;
  });
  for (const name of ['clearTimeout', 'clearInterval'])
    wrap(name, (own, self, given) => {
      once.delete(given[0]);
      often.delete(given[0]);
      return Reflect.apply(own, self, given);
    });
  wrap('requestIdleCallback', (own, self, [act, options]) => {
    const entry = { due: now() + Math.min(1000, Number(options && options.timeout) || 50), line: line() },
      key = {};
    once.set(key, entry);
    return Reflect.apply(own, self, [
      function (...given) {
        once.delete(key);
        return fire(entry, act, this, given);
      },
      options,
    ]);
  });

  // A passage that changes again and again, as a clock does, is the same passage; what is added counts each time.
  const counts = change => {
    const plain = node =>
      node.nodeType === 3 ? node.data.trim() !== '' : node.nodeType === 1 && !/^(?:SCRIPT|STYLE|LINK|META|IFRAME)$/.test(node.nodeName);
    const added = [...change.addedNodes].filter(plain).length,
      removed = [...change.removedNodes].filter(plain).length;
    if (change.type === 'childList' && !added && !removed) return false;
    if (change.type === 'childList' && added > removed) return true;
    const times = (changed.get(change.target) || 0) + 1;
    changed.set(change.target, times);
    return times <= 3;
  };
  new MutationObserver(list => {
    if (list.some(counts)) {
      changes++;
      changedAt = now();
    }
  }).observe(document, { subtree: true, childList: true, characterData: true });

  document.addEventListener(
    ask + '?',
    event => {
      event.stopImmediatePropagation();
      const at = now();
      // Of timers whose act is a text nothing is heard when they fire.
      for (const [id, entry] of once) if (entry.due < at - 1000) once.delete(id);
      const due = [...once.values()].filter(entry => entry.line.idle < 5).map(entry => Math.max(0, entry.due - at));
      const restless = [...often.values()].filter(entry => entry.line.idle < 5 && at - entry.since < 7 * entry.period + 2000);
      document.dispatchEvent(
        new CustomEvent(ask + '!', {
          detail: JSON.stringify({
            due,
            repeats: restless.map(entry => entry.period),
            still: changedAt < 0 ? 1e6 : at - changedAt,
            lively: [...once.values(), ...often.values()].some(entry => entry.line.lively),
          }),
        }),
      );
    },
    true,
  );
})(ASK);
