/** All tabs: which are kept is ticked; those that are held already say so. */
import { api, day, text } from '../lib/browser.js';
import { heldByPrefix } from '../lib/held.js';
import { settings } from '../lib/settings.js';

const $ = id => document.getElementById(id);
document.documentElement.lang = api.i18n.getUILanguage();
document.documentElement.dir = text('@@bidi_dir');
document.title = $('title').textContent = text('all_tabs');
$('keep').textContent = text('keep_ticked');
$('close-label').textContent = text('close_them');
$('allow').textContent = text('allow_tabs');
const port = api.runtime.connect({ name: 'tabs' });

async function show() {
  const isAllowed = await api.permissions.contains({ permissions: ['tabs'] });
  $('allow').hidden = isAllowed;
  $('list').hidden = !isAllowed;
  $('told').textContent = text(isAllowed ? 'tick_what_is_kept' : 'tabs_are_not_seen');
  if (!isAllowed) {
    return;
  }
  const own = await api.tabs.getCurrent();
  const tabs = (await api.tabs.query({ windowType: 'normal' })).filter(one => one.id !== own?.id && /^https?:/.test(one.url ?? ''));
  $('tabs').replaceChildren(...tabs.map(row));
  if (tabs.length === 0) {
    $('told').textContent = text('no_tab_of_the_web');
  }
  const to = await settings();
  for (const tab of tabs) {
    // By its digest: which page it is stays here until it is kept.
    const held = await heldByPrefix(to, tab.url).catch(() => null);
    const said = document.querySelector(`[data-tab="${tab.id}"] .soft`);
    if (said && held?.held) {
      said.textContent = held.held === 1 ? text('held_once', day(held.last)) : text('held_often', held.held, day(held.last));
    }
  }
}

function row(tab) {
  const item = document.createElement('li');
  item.dataset.tab = tab.id;
  const label = document.createElement('label');
  const tick = document.createElement('input');
  tick.type = 'checkbox';
  tick.value = tab.id;
  tick.checked = true;
  const name = document.createElement('bdi');
  name.textContent = (tab.title || tab.url).slice(0, 160);
  const address = document.createElement('bdi');
  address.className = 'address';
  address.textContent = tab.url.slice(0, 200);
  const said = document.createElement('span');
  said.className = 'soft';
  label.append(tick, ' ', name, ' ', said);
  item.append(label, address);
  return item;
}

$('allow').addEventListener('click', async () => {
  await api.permissions.request({ permissions: ['tabs'], origins: ['http://*/*', 'https://*/*'] });
  await show();
});
$('list').addEventListener('submit', event => {
  event.preventDefault();
  const ticked = [...document.querySelectorAll('#tabs input:checked')].map(one => Number(one.value));
  if (ticked.length === 0) {
    $('told').textContent = text('nothing_is_ticked');
    return;
  }
  $('keep').disabled = true;
  $('told').textContent = text('keeping_tabs', ticked.length);
  port.postMessage({ tabs: ticked, close: $('close-them').checked });
});
port.onMessage.addListener(message => {
  if (Number.isSafeInteger(message.kept)) {
    const said = document.querySelector(`[data-tab="${message.kept}"] .soft`);
    if (said) {
      said.textContent = text('is_in_this_browser');
    }
  }
  if (message.trouble) {
    $('told').textContent = message.trouble;
    $('keep').disabled = false;
  }
  if (Number.isSafeInteger(message.over)) {
    $('told').textContent = text('tabs_are_kept', message.over);
    $('keep').disabled = false;
  }
});
show();
