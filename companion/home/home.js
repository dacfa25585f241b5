/** Pairing, what waits, and whether every page is asked for. */
import { api, browserName, day, text } from '../lib/browser.js';
import { ask, Refused } from '../lib/server.js';
import { forgetPairing, remember, settings } from '../lib/settings.js';

const $ = id => document.getElementById(id);
const PAGES = { origins: ['http://*/*', 'https://*/*'], permissions: ['tabs'] };
document.documentElement.lang = api.i18n.getUILanguage();
document.documentElement.dir = text('@@bidi_dir');
document.title = $('title').textContent = text('name');
for (const [id, key] of Object.entries({
  'server-label': 'address_of_ypomna',
  'code-label': 'code',
  'pair-now': 'pair',
  'asks-label': 'ask_of_every_page',
  'about-asks': 'about_asking',
  end: 'end_pairing',
  'waiting-title': 'what_waits',
})) {
  $(id).textContent = text(key);
}
const port = api.runtime.connect({ name: 'home' });
const records = new Map();

async function show() {
  const { server, token, person, asks } = await settings();
  $('pair').hidden = token !== null;
  $('paired').hidden = token === null;
  $('asks').checked = asks;
  if (token !== null) {
    $('where').href = server;
    $('where').textContent = text('paired_with', person, server);
  } else {
    $('told').textContent = text('how_to_pair');
  }
}

$('pair').addEventListener('submit', async event => {
  event.preventDefault();
  let server;
  try {
    server = new URL($('server').value.trim());
    const isNear = /^(?:localhost|127\.0\.0\.1|\[::1\]|.*\.localhost)$/.test(server.hostname);
    if (server.protocol !== 'https:' && !(server.protocol === 'http:' && isNear)) {
      throw new Error();
    }
  } catch {
    tell(text('no_address'), true);
    return;
  }
  // Asked for when it is first needed, and for that host alone.
  if (!(await api.permissions.request({ origins: [`${server.protocol}//${server.hostname}/*`] }))) {
    tell(text('not_allowed'), true);
    return;
  }
  try {
    const to = { server: `${server.origin}/` };
    const name = text('browser_on', browserName(), day(Date.now()));
    const { said } = await ask(to, 'POST', '/pair', { json: { code: $('code').value, name } });
    if (typeof said?.token !== 'string' || !/^[\w-]{20,200}$/.test(said.token)) {
      throw new Refused(502);
    }
    await remember({ ...to, token: said.token, person: String(said.person ?? '').slice(0, 100) });
    $('code').value = '';
    tell(text('is_paired'));
    await show();
  } catch (error) {
    tell(error instanceof Refused && error.said ? error.said : text('server_is_away'), true);
  }
});

$('end').addEventListener('click', async () => {
  const to = await settings();
  await ask(to, 'DELETE', '/api/me/token').catch(() => {});
  await forgetPairing();
  tell(text('is_ended'));
  await show();
});

$('asks').addEventListener('change', async () => {
  const wanted = $('asks').checked && (await api.permissions.request(PAGES));
  $('asks').checked = wanted;
  port.postMessage({ asks: wanted });
});

port.onMessage.addListener(message => {
  if (message.waiting) {
    records.clear();
    message.waiting.forEach(one => records.set(one.id, one));
  }
  if (message.trouble) {
    tell(message.trouble, true);
  }
  if (message.one) {
    records.set(message.one.id, message.one);
  }
  list();
});
port.postMessage({ waiting: true });

function list() {
  const all = [...records.values()].sort((a, b) => b.at.localeCompare(a.at));
  $('waiting').replaceChildren(...all.map(row));
  if (all.length === 0) {
    $('waiting').textContent = text('nothing_waits');
  }
}

function row(one) {
  const item = document.createElement('li');
  const name = document.createElement('bdi');
  name.textContent = (one.title || one.url).slice(0, 200);
  const address = document.createElement('bdi');
  address.className = 'address';
  address.textContent = one.url.slice(0, 300);
  const state = document.createElement('p');
  state.className = one.state === 'failed' ? 'alert' : 'soft';
  state.textContent = [text(`state_${one.state}`), one.why ?? '', ...one.missing].join(' ').trim();
  item.append(name, address, state);
  if (one.state !== 'kept') {
    item.append(button(text('try_again'), { again: one.id }), ' ', button(text('drop'), { drop: one.id }, text('drop_sure')));
  }
  return item;
}

function button(words, message, sure = null) {
  const made = document.createElement('button');
  made.type = 'button';
  made.textContent = words;
  made.addEventListener('click', () => (sure === null || confirm(sure)) && port.postMessage(message));
  return made;
}

function tell(words, isAlert = false) {
  $('told').textContent = words;
  $('told').classList.toggle('alert', isAlert);
}

show();
