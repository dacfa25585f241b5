/** Opens the line, makes copies, and hands over what waits. */
import { api, closeStorage, inPage, ownPage, text } from './lib/browser.js';
import { answerOf, factsOf, load, pageAsFile, picture } from './lib/copy.js';
import { handOver } from './lib/handing.js';
import { capturesOf, differs, heldByPrefix, heldOf, looksGone, plain } from './lib/held.js';
import { closeLine, openLine, pointAtPart } from './lib/inpage.js';
import { ask, place, Refused } from './lib/server.js';
import { remember, settings } from './lib/settings.js';
import { all, change, get, put, remove } from './lib/waiting.js';

const OWN = self.location.origin;
const WEB = /^https?:/;
const AGAIN = 'hand-over';
/** Lines that are open now, by the key that each was given. */
const lines = new Map();

const ready = closeStorage();

/* ---------- Where it is opened from ---------- */

api.action.onClicked.addListener(tab => press(tab));
api.commands.onCommand.addListener(command => command === 'all-tabs' && allTabs());
api.contextMenus.onClicked.addListener((info, tab) => {
  if (info.menuItemId === 'all-tabs') {
    allTabs();
  } else {
    press(tab, info.menuItemId === 'selection' ? 'selection' : null);
  }
});
api.runtime.onInstalled.addListener(() => {
  api.contextMenus.removeAll(() => {
    for (const [id, contexts] of Object.entries({ page: ['page'], selection: ['selection'], 'all-tabs': ['action'] })) {
      api.contextMenus.create({ id, contexts, title: text(`menu_${id.replace('-', '_')}`) });
    }
  });
  work();
});
api.runtime.onStartup.addListener(() => work());
api.alarms.create(AGAIN, { periodInMinutes: 1 });
api.alarms.onAlarm.addListener(() => work());

/** The line in a page was thrown out by it: it goes on in a tab of its own. Nothing else that comes from a page is heard. */
api.runtime.onMessage.addListener((message, sender) => {
  const key = [...lines.keys()].find(one => lines.get(one).subject.tab === sender.tab?.id);
  if (sender.id === api.runtime.id && message?.thrownOut === true && key) {
    inTab(lines.get(key).subject);
  }
});

/* ---------- The line ---------- */

/** The button, the key or the menu. Where the line is open it says: keep it. */
async function press(tab, of = null) {
  await ready;
  const to = await settings();
  if (!to.token) {
    await api.tabs.create({ url: ownPage('home/home.html') });
    return;
  }
  const [key, open] = [...lines].find(([, one]) => one.subject.tab === tab.id && one.port) ?? [null, null];
  if (open && !open.subject.record) {
    open.port.postMessage({ confirm: true });
    return;
  }
  if (open) {
    // What was kept is over: this is the next one.
    await closeOf(key, open);
  }
  await openFor({ tab: tab.id, window: tab.windowId, url: tab.url ?? '', title: tab.title ?? '', document: null, of, record: null });
}

async function openFor(subject) {
  if (!WEB.test(subject.url)) {
    await inTab(subject);
    return;
  }
  const key = crypto.randomUUID();
  lines.set(key, { subject, port: null, isLine: true });
  await saveLines();
  try {
    const answer = await inPage({ tabId: subject.tab }, openLine, [`${api.runtime.getURL('line/line.html')}#${key}`]);
    if (answer.result.state !== 'opened') {
      lines.delete(key);
      if (answer.result.state === 'none') {
        await inTab({ ...subject, type: answer.result.type });
      }
      return;
    }
    subject.document = answer.documentId ?? null;
    await saveLines();
    // Where a page lets no frame in, nobody answers.
    setTimeout(() => lines.has(key) && !lines.get(key).port && lines.get(key).isLine && giveWay(key), 1_500);
  } catch {
    lines.delete(key);
    await inTab(subject);
  }
}

async function giveWay(key) {
  const { subject } = lines.get(key);
  lines.delete(key);
  await inPage({ tabId: subject.tab }, closeLine).catch(() => {});
  await inTab(subject);
}

/** Where no line is possible. */
async function inTab(subject) {
  const key = crypto.randomUUID();
  lines.set(key, { subject, port: null, isLine: false });
  await saveLines();
  await api.tabs.create({ url: `${ownPage('line/line.html')}#${key}`, windowId: subject.window, openerTabId: subject.tab });
}

/** The worker may be stopped at any time; what is open is known when it comes back. */
async function saveLines() {
  await api.storage.session.set({ lines: [...lines].map(([key, one]) => [key, one.subject, one.isLine]) });
}

async function lineOf(key) {
  if (!lines.has(key)) {
    for (const [one, subject, isLine] of (await api.storage.session.get('lines')).lines ?? []) {
      if (!lines.has(one)) {
        lines.set(one, { subject, port: null, isLine });
      }
    }
  }
  return lines.get(key);
}

/** Only frames and pages of our own speak to us, each with the key that it was given, once. */
api.runtime.onConnect.addListener(port => {
  const from = port.sender;
  const isOurs = from?.id === api.runtime.id && typeof from.url === 'string' && (from.origin ?? new URL(from.url).origin) === OWN;
  if (!isOurs) {
    port.disconnect();
    return;
  }
  if (port.name === 'tabs' || port.name === 'home') {
    pageTalks(port);
    return;
  }
  let mine = null;
  port.onMessage.addListener(async message => {
    try {
      if (mine === null) {
        const line = typeof message?.hello === 'string' ? await lineOf(message.hello) : null;
        const isThere = line && !line.port && (line.isLine ? from.tab?.id === line.subject.tab : from.frameId === 0);
        if (!isThere) {
          port.disconnect();
          return;
        }
        // The browser may stop this worker while somebody thinks: the line comes back then, with a key that only it was told.
        mine = crypto.randomUUID();
        lines.delete(message.hello);
        line.port = port;
        lines.set(mine, line);
        await saveLines();
        tell(mine, { key: mine });
        if (message.again !== true || line.subject.record) {
          await greet(mine, line);
        }
      } else {
        await answer(mine, lines.get(mine), message);
      }
    } catch (error) {
      tell(mine, { trouble: trouble(error) });
    }
  });
  port.onDisconnect.addListener(() => {
    if (mine !== null && lines.get(mine)?.port === port) {
      lines.delete(mine);
      saveLines();
    }
  });
});

function tell(key, message) {
  try {
    lines.get(key)?.port?.postMessage(message);
  } catch {
    // It was closed meanwhile.
  }
}

function trouble(error) {
  if (error instanceof Refused) {
    return error.status === 401
      ? text('not_paired_any_more')
      : error.status === 0
        ? text('server_is_away')
        : error.said || text('server_said', error.status);
  }
  return String(error?.message ?? error).slice(0, 200);
}

async function greet(key, line) {
  const { subject } = line;
  const to = await settings();
  if (subject.record) {
    const record = await get(subject.record);
    tell(key, { progress: record ? shown(record, to) : null, subject: { url: subject.url, title: subject.title } });
    return;
  }
  tell(key, { subject: { url: subject.url, title: subject.title }, answers: to.answers, of: subject.of, isWeb: WEB.test(subject.url) });
  if (!WEB.test(subject.url)) {
    return;
  }
  const target = targetOf(subject);
  const facts = line.isLine ? await factsOf(target).catch(() => null) : null;
  tell(key, { facts: facts ? { selection: facts.selection !== null } : null });
  const held = await heldOf(to, subject.url);
  const gone = facts ? looksGone(facts) : false;
  const said = { held: held.held, last: held.last, gone };
  tell(key, { so: said });
  if (held.held > 0 && held.address) {
    const captures = await capturesOf(to, held.address);
    const alive = gone ? captures.alive : captures.last;
    const read = alive ? { at: alive.at, href: place(to, `/c/${alive.code}`) } : null;
    const apart = facts && !gone && captures.last ? await differs(to, captures.last.code, facts.text) : null;
    tell(key, { so: { ...said, read, changed: apart === null ? null : apart > 0.02 } });
  }
}

function targetOf(subject) {
  return subject.document ? { tabId: subject.tab, documentIds: [subject.document] } : { tabId: subject.tab };
}

async function answer(key, line, message) {
  const to = await settings();
  if (message?.names === 'tags' || message?.names === 'dossiers') {
    const { said } = await ask(to, 'GET', `/api/${message.names}?limit=200`);
    const items = (Array.isArray(said?.items) ? said.items : []).slice(0, 200);
    tell(key, {
      names: message.names,
      items: items.map(one => ({ name: String(one?.name ?? '').slice(0, 200), code: typeof one?.code === 'string' ? one.code : null })),
    });
  } else if (message?.close === true) {
    await closeOf(key, line);
  } else if (message?.keep && typeof message.keep === 'object') {
    await keep(key, line, wishOf(message.keep), to);
  } else if (message?.home === true) {
    await api.tabs.create({ url: ownPage('home/home.html') });
  }
}

async function closeOf(key, line) {
  if (line.isLine) {
    await inPage({ tabId: line.subject.tab }, closeLine).catch(() => {});
  }
  lines.delete(key);
  await saveLines();
}

/** Only what is known is taken from an answer. */
function wishOf(said) {
  const words = (value, most) => (typeof value === 'string' ? value.slice(0, most) : '');
  return {
    of: ['page', 'selection', 'part'].includes(said.of) ? said.of : 'page',
    as: ['evidence', 'text', 'reference'].includes(said.as) ? said.as : 'evidence',
    how: ['both', 'server', 'seen'].includes(said.how) ? said.how : 'both',
    title: '',
    why: words(said.why, 10_000),
    tags: (Array.isArray(said.tags) ? said.tags : []).filter(one => typeof one === 'string' && one !== '').slice(0, 50),
    dossier:
      said.dossier && typeof said.dossier.code === 'string' ? { code: said.dossier.code, name: words(said.dossier.name, 300) } : null,
    due: /^\d{4}-\d\d-\d\d$/.test(said.due ?? '') ? said.due : '',
  };
}

/* ---------- Keeping ---------- */

async function keep(key, line, wish, to) {
  const { subject } = line;
  const tab = await api.tabs.get(subject.tab).catch(() => null);
  // What was said is said of the page that stood there then.
  const facts = line.isLine ? await factsOf(targetOf(subject)).catch(() => null) : null;
  if (!tab || (line.isLine && (!facts || plain(facts.url) !== plain(subject.url)))) {
    if (tab && facts && line.isLine) {
      subject.url = facts.url;
      subject.title = facts.title;
      await saveLines();
    }
    tell(key, { changed: true, subject: { url: subject.url, title: subject.title } });
    return;
  }
  await remember({ answers: { as: wish.as, how: wish.how, dossier: wish.dossier, tags: wish.tags } });
  let part = null;
  if (wish.of === 'part' && line.isLine) {
    lines.delete(key);
    await inPage({ tabId: subject.tab }, closeLine);
    part = (await inPage(targetOf(subject), pointAtPart, [{ how: text('point_at_a_part') }])).result;
    if (!part) {
      await openFor({ ...subject, document: null });
      return;
    }
  }
  const record = recordOf(subject, wish, facts, part);
  await put(record);
  badge();
  work();
  if (line.isLine) {
    await copyOf(subject, record, wish, part);
    badge();
    await openFor({ ...subject, document: null, record: record.id });
    work();
  } else {
    subject.record = record.id;
    await saveLines();
    tell(key, { progress: shown(record, to) });
  }
}

function recordOf(subject, wish, facts, part) {
  const url = facts?.url ?? subject.url;
  const passage = wish.of === 'selection' ? (facts?.selection ?? null) : null;
  const asksServer = wish.as !== 'reference' && wish.of !== 'selection' && wish.how !== 'seen' && wish.of !== 'part';
  const withPage = wish.as === 'evidence' && wish.of === 'selection';
  const steps = {};
  if (asksServer || (withPage && wish.how !== 'seen')) {
    steps.server = {};
  }
  if (wish.as === 'evidence' && wish.how !== 'server') {
    steps.copy = { file: null, name: 'page.mhtml', seen: seenOf(facts), missing: [], making: true };
  }
  if (wish.of === 'part' && wish.as === 'evidence' && !steps.copy) {
    steps.copy = { file: null, name: 'part.png', seen: seenOf(facts), missing: [], making: true };
  }
  if (
    wish.as === 'reference' ||
    wish.of === 'selection' ||
    (wish.of === 'part' && wish.as === 'text') ||
    (wish.as === 'text' && wish.how === 'seen')
  ) {
    const words = passage?.exact ?? part?.words ?? (wish.as === 'text' ? facts?.text.slice(0, 200_000) : '') ?? '';
    steps.item = { wish: itemOf(url, wish, facts, words), passage: withPage ? passage : null };
  }
  return {
    id: crypto.randomUUID(),
    url: plain(url),
    title: facts?.title || subject.title,
    at: new Date().toISOString(),
    state: 'waits',
    failed: 0,
    extent: wish.as === 'text' ? 'text' : 'whole',
    part: null,
    steps,
    wish: { title: '', why: wish.why, tags: wish.tags, dossier: wish.dossier?.code ?? null, due: wish.due },
  };
}

function itemOf(url, wish, facts, words) {
  const note =
    words === ''
      ? ''
      : words
          .split('\n')
          .map(one => `> ${one}`)
          .join('\n');
  return {
    kind: words === '' ? 'address' : 'excerpt',
    title: (facts?.title || url).slice(0, 1_000),
    summary: wish.why || (words === '' ? (facts?.summary ?? '') : ''),
    subject: { url: plain(url) },
    ...(note === '' ? {} : { note }),
    ...(wish.tags.length > 0 ? { tags: wish.tags } : {}),
    ...(wish.dossier ? { dossiers: [wish.dossier.code] } : {}),
    ...(wish.due ? { due: wish.due } : {}),
  };
}

/** What the browser did not see is not said. */
function seenOf(facts) {
  const seen = {};
  for (const [name, value] of Object.entries(facts?.seen ?? {})) {
    if ((typeof value === 'string' && value !== '') || (Number.isSafeInteger(value) && value >= 0)) {
      seen[name] = typeof value === 'string' ? value.slice(0, 1_000) : value;
    }
  }
  return seen;
}

/** The copy of a page as it is seen here: first as it stands, then with what is loaded by scrolling, then how it looks. */
async function copyOf(subject, record, wish, part) {
  const { copy } = record.steps;
  const target = targetOf(subject);
  await inPage({ tabId: subject.tab }, closeLine).catch(() => {});
  if (!copy) {
    return;
  }
  const write = (more = {}) =>
    change(record.id, now => {
      now.steps.copy = { ...copy, ...more };
    });
  try {
    Object.assign(copy.seen, await answerOf(target));
    if (part) {
      const { picture: found, missing } = await picture(target, subject.window, part.box, () => isSeen(subject));
      Object.assign(copy, { file: found, missing, name: 'part.png', part: part.part });
    } else {
      copy.file = await pageAsFile(subject.tab);
      await write();
      copy.missing = await load(target);
      copy.file = (await pageAsFile(subject.tab)) ?? copy.file;
      await write();
      const looks = await picture(target, subject.window, null, () => isSeen(subject));
      copy.picture = looks.picture;
      copy.missing = [...copy.missing, ...looks.missing];
    }
  } catch (error) {
    copy.missing = [...copy.missing, String(error?.message ?? error)];
  }
  copy.missing = copy.missing.map(one => one.slice(0, 1_000));
  if (copy.file) {
    await write({ making: false });
  } else {
    await change(record.id, now => withoutCopy(now, copy.missing));
  }
}

/** There is no copy; what else there is of it goes. */
function withoutCopy(record, why) {
  delete record.steps.copy;
  record.withoutCopy = why.length > 0 ? why : [text('missing_copy')];
  if (Object.values(record.steps).length === 0) {
    record.state = 'failed';
    record.why = { status: -1, said: record.withoutCopy[0] };
  }
}

async function isSeen(subject) {
  const tab = await api.tabs.get(subject.tab).catch(() => null);
  return tab?.active === true && tab.windowId === subject.window;
}

/* ---------- All tabs, and what waits ---------- */

async function allTabs() {
  await api.tabs.create({ url: ownPage('tabs/tabs.html') });
}

function pageTalks(port) {
  pages.add(port);
  port.onDisconnect.addListener(() => pages.delete(port));
  port.onMessage.addListener(message => pageSaid(port, message).catch(error => port.postMessage({ trouble: trouble(error) })));
}
const pages = new Set();

async function pageSaid(port, message) {
  if (message?.waiting === true) {
    port.postMessage({ waiting: (await all()).map(one => shown(one, null)) });
  } else if (typeof message?.again === 'string') {
    await change(message.again, now => {
      Object.assign(now, { state: 'waits', failed: 0, notBefore: 0, why: null, again: (now.again ?? 0) + 1 });
      // What the server gave up is asked of it anew.
      for (const step of Object.values(now.steps)) {
        if (step.state === 'failed') {
          Object.assign(step, { job: null, over: false, state: null, fileBegun: null, pictureBegun: null, pictureUpload: null });
        }
      }
    });
    work();
  } else if (typeof message?.drop === 'string') {
    await remove(message.drop);
    badge();
    port.postMessage({ waiting: (await all()).map(one => shown(one, null)) });
  } else if (Array.isArray(message?.tabs)) {
    await keepTabs(port, message.tabs.filter(Number.isSafeInteger), message.close === true);
  } else if (message?.asks === true || message?.asks === false) {
    await remember({ asks: message.asks });
  }
}

/** Each tab that is ticked: its address for the server, and its copy, so that the tab can be closed at once. */
async function keepTabs(port, ids, close) {
  const { answers } = await settings();
  const wish = { ...wishOf(answers ?? {}), of: 'page' };
  let done = 0;
  for (const id of ids) {
    const tab = await api.tabs.get(id).catch(() => null);
    if (!tab || !WEB.test(tab.url ?? '')) {
      continue;
    }
    const facts = await factsOf({ tabId: id }).catch(() => null);
    const record = recordOf({ url: tab.url, title: tab.title ?? '' }, wish, facts, null);
    if (record.steps.copy) {
      record.steps.copy.making = false;
      Object.assign(record.steps.copy.seen, await answerOf({ tabId: id }));
      record.steps.copy.file = await pageAsFile(id).catch(() => null);
      record.steps.copy.missing = [text('missing_of_tab')];
      if (!record.steps.copy.file) {
        withoutCopy(record, []);
      }
    }
    await put(record);
    ++done;
    port.postMessage({ kept: id });
    if (close) {
      await api.tabs.remove(id).catch(() => {});
    }
  }
  port.postMessage({ over: done });
  badge();
  work();
}

/** What is told of a record: never its bytes. */
function shown(record, to) {
  const { server, copy } = record.steps;
  const best = [server, copy].find(one => one?.capture) ?? null;
  return {
    id: record.id,
    url: record.url,
    title: record.title,
    at: record.at,
    state: record.state,
    why: record.why && record.state !== 'kept' ? reason(record.why) : null,
    waits: record.notBefore > Date.now(),
    stage: server && !server.over ? (server.stage ?? 'asked') : copy && !copy.over ? (copy.making ? 'copying' : 'sending') : null,
    verdict: best?.verdict ?? null,
    missing: copy?.missing ?? record.withoutCopy ?? [],
    href: best && to ? place(to, `/c/${best.capture}`) : null,
    isSafe: !copy?.making,
  };
}

function reason(why) {
  if (why.reason) {
    return text('server_could_not', why.reason);
  }
  return (
    why.said ||
    (why.status === 0 ? text('server_is_away') : why.status === 401 ? text('not_paired_any_more') : text('server_said', why.status))
  );
}

async function work() {
  await ready;
  const to = await settings();
  await mendHalf();
  await handOver(record => {
    for (const [key, line] of lines) {
      if (line.subject.record === record.id) {
        tell(key, { progress: shown(record, to) });
      }
    }
    for (const port of pages) {
      port.postMessage({ one: shown(record, to) });
    }
    badge();
  });
  badge();
}

/** A browser that was closed while a copy was made: what is there of it goes, and it is said that the rest is not. */
async function mendHalf() {
  for (const { id, at, steps } of await all()) {
    if (steps.copy?.making && Date.now() - Date.parse(at) > 90_000) {
      await change(id, now => {
        const { copy } = now.steps;
        copy.making = false;
        copy.missing = [...copy.missing, text('missing_closed')];
        if (!copy.file) {
          withoutCopy(now, copy.missing);
        }
      });
    }
  }
}

/** A small number shows what waits. */
async function badge() {
  const waiting = (await all()).filter(one => one.state !== 'kept');
  const failed = waiting.some(one => one.state === 'failed');
  await api.action.setBadgeText({ text: waiting.length === 0 ? '' : String(waiting.length) });
  await api.action.setBadgeBackgroundColor({ color: failed ? '#9c2a1d' : '#2f6b5e' });
}

/* ---------- Whoever wants to be told of every page as they go ---------- */

api.tabs.onUpdated.addListener(async (id, change, tab) => {
  if (change.status !== 'complete' || !WEB.test(tab.url ?? '')) {
    return;
  }
  const to = await settings();
  if (!to.asks || !to.token) {
    return;
  }
  const held = await heldByPrefix(to, tab.url).catch(() => null);
  const now = await api.tabs.get(id).catch(() => null);
  if (now && now.url === tab.url) {
    await api.action.setBadgeText({ tabId: id, text: held?.held ? `✓${held.held > 99 ? '' : held.held}` : null });
    await api.action.setTitle({ tabId: id, title: held?.held ? text('button_held', held.held) : '' });
  }
});
