/**
 * The line at the foot of a page, in a frame of our own origin: it says what is so, and takes the answer. It hears nobody but the
 * browser's own events and our own worker; where something lies over it, it keeps nothing until the extension's button or key says so.
 */
import { api, day, text } from '../lib/browser.js';

const CYCLES = { of: ['page', 'selection', 'part'], as: ['evidence', 'text', 'reference'], how: ['both', 'server', 'seen'] };
const LETTERS = { of: 'o', as: 'a', how: 'h', why: 'w', tags: 't', dossier: 'd', due: 'u' };
const $ = id => document.getElementById(id);

const answers = { of: 'page', as: 'evidence', how: 'both', why: '', tags: [], dossier: null, due: '' };
let hasSelection = false;
let phase = 'asking';
let isCovered = false;
let field = null;
const names = { tags: null, dossiers: null };

document.documentElement.lang = api.i18n.getUILanguage();
document.documentElement.dir = text('@@bidi_dir');
if (window.top === window) {
  document.querySelector('main').classList.add('alone');
}

let key = location.hash.slice(1);
let port;
history.replaceState(null, '', location.pathname);
connect(false);

/** The browser stops the worker when nobody spoke for a while; it is there again as soon as somebody speaks. */
function connect(again) {
  let isHeard = false;
  port = api.runtime.connect({ name: 'line' });
  port.onMessage.addListener(message => {
    isHeard = true;
    hear(message);
  });
  port.onDisconnect.addListener(() => (isHeard ? connect(true) : say(text('line_is_over'), true)));
  port.postMessage({ hello: key, again });
}

function hear(message) {
  if (message.key) {
    key = message.key;
  }
  if (message.subject) {
    $('sentence').title = message.subject.url;
    document.title = message.subject.title || 'Ypomna';
  }
  if (message.answers) {
    Object.assign(answers, message.answers, { of: message.of ?? 'page', why: '', due: '' });
    phase = message.isWeb ? 'asking' : 'nothing';
    say(text(message.isWeb ? 'looking' : 'no_page_of_the_web'));
    draw();
    window.focus();
    $('keep').focus();
  }
  if ('facts' in message) {
    hasSelection = message.facts?.selection === true;
    if (!hasSelection && answers.of === 'selection') {
      answers.of = 'page';
    }
    draw();
  }
  if (message.so) {
    tellSo(message.so);
  }
  if (message.names) {
    names[message.names] = message.items;
    fillNames();
  }
  if (message.changed) {
    askAgain(text('page_is_another'));
  }
  if (message.trouble) {
    askAgain(message.trouble);
  }
  if (message.confirm) {
    keep(true);
  }
  if ('progress' in message) {
    tellProgress(message.progress);
  }
}

function say(sentence, isAlert = false) {
  $('sentence').textContent = sentence;
  $('sentence').classList.toggle('alert', isAlert);
}

function askAgain(why) {
  if (phase === 'keeping') {
    phase = 'asking';
    draw();
    $('keep').focus();
  }
  say(why, true);
}

function tellSo(so) {
  const last = so.last ? day(so.last) : '';
  if (so.held === 0) {
    say(text(so.gone ? 'gone_never_held' : 'never_held'));
  } else if (so.gone) {
    say(so.read ? text('gone_last_held', day(so.read.at)) : text('gone_held', so.held));
  } else {
    const held = so.held === 1 ? text('held_once', last) : text('held_often', so.held, last);
    const since = so.changed === true ? ` ${text('changed_since')}` : so.changed === false ? ` ${text('same_since')}` : '';
    say(held + since);
  }
  leadTo(so.read?.href, text('read_it'));
}

function leadTo(href, words) {
  $('read').hidden = !href || !/^https?:/.test(href);
  if (!$('read').hidden) {
    $('read').href = href;
    $('read').textContent = words;
    $('read').append(letter('r'));
  }
}

function tellProgress(one) {
  phase = 'over';
  if (!one) {
    say(text('line_is_over'));
  } else if (one.state === 'kept') {
    const gaps = one.verdict === 'gaps' || one.missing.length > 0;
    const how = text(one.verdict === 'failed' ? 'kept_unusable' : gaps ? 'kept_with_gaps' : 'kept_whole');
    say([how, one.missing[0] ?? '', one.href ?? ''].filter(Boolean).join(' '), gaps);
    leadTo(one.href, text('read_it'));
  } else if (one.state === 'failed') {
    say(text('not_kept', one.why ?? ''), true);
  } else {
    const stage =
      one.waits && one.why
        ? text('waits_because', one.why)
        : text(`stage_${one.stage === 'copying' || one.stage === 'sending' ? one.stage : 'server'}`);
    say(`${stage} ${one.isSafe ? text('can_be_closed') : text('not_yet_closed')}`);
  }
  draw();
}

function letter(key_) {
  const kbd = document.createElement('kbd');
  kbd.textContent = key_;
  return kbd;
}

function draw() {
  $('answers').hidden = phase !== 'asking';
  $('keep').hidden = phase !== 'asking';
  for (const button of document.querySelectorAll('[data-act]')) {
    const act = button.dataset.act;
    const value = CYCLES[act]
      ? text(`${act}_${answers[act]}`)
      : act === 'tags'
        ? answers.tags.join(', ')
        : act === 'dossier'
          ? (answers.dossier?.name ?? '')
          : answers[act];
    const span = document.createElement('span');
    span.textContent = value === '' ? text(`say_${act}`) : value.slice(0, 30);
    button.replaceChildren(span, letter(LETTERS[act]));
    button.classList.toggle('said', value !== '');
    button.title = text(`about_${act}`);
  }
  $('keep').replaceChildren(text('keep'), letter('Enter'));
  $('close').replaceChildren(letter('Esc'));
  $('close').setAttribute('aria-label', text('close'));
  $('answers').setAttribute('aria-label', text('what_and_how'));
}

function cycle(act) {
  const all = CYCLES[act].filter(one => one !== 'selection' || hasSelection);
  answers[act] = all[(all.indexOf(answers[act]) + 1) % all.length];
  draw();
}

function open(act) {
  field = act;
  $('asking').hidden = false;
  $('sentence').hidden = true;
  $('asked').textContent = text(`say_${act}`);
  $('said').type = act === 'due' ? 'date' : 'text';
  $('said').value = act === 'tags' ? answers.tags.join(', ') : act === 'dossier' ? (answers.dossier?.name ?? '') : answers[act];
  $('said').focus();
  $('said').select?.();
  const wanted = act === 'tags' ? 'tags' : act === 'dossier' ? 'dossiers' : null;
  $('names').replaceChildren();
  if (wanted && names[wanted] === null) {
    port.postMessage({ names: wanted });
  }
  fillNames();
}

function fillNames() {
  const list = field === 'tags' ? names.tags : field === 'dossier' ? names.dossiers : null;
  $('names').replaceChildren(
    ...(list ?? []).map(one => {
      const option = document.createElement('option');
      option.value = one.name;
      return option;
    }),
  );
}

function leave(taken) {
  const value = $('said').value.trim();
  if (taken && field === 'tags') {
    answers.tags = [
      ...new Set(
        value
          .split(',')
          .map(one => one.trim().replaceAll('/', '-'))
          .filter(Boolean),
      ),
    ];
  } else if (taken && field === 'dossier') {
    const found = (names.dossiers ?? []).find(one => one.name.toLowerCase() === value.toLowerCase());
    if (value !== '' && !found) {
      $('asked').textContent = text('no_such_dossier');
      return;
    }
    answers.dossier = found ? { code: found.code, name: found.name } : null;
  } else if (taken) {
    answers[field] = value;
  }
  field = null;
  $('asking').hidden = true;
  $('sentence').hidden = false;
  draw();
  $('keep').focus();
}

function keep(isSure = false) {
  if (phase !== 'asking') {
    return;
  }
  if (field !== null) {
    leave(true);
  }
  if (isCovered && !isSure) {
    say(text('something_lies_over_it'), true);
    return;
  }
  phase = 'keeping';
  say(text('stage_begins'));
  draw();
  port.postMessage({ keep: answers });
}

function close() {
  port.postMessage({ close: true });
  if (window.top === window) {
    window.close();
  }
}

document.addEventListener('keydown', event => {
  if (!event.isTrusted || event.isComposing || event.ctrlKey || event.altKey || event.metaKey) {
    return;
  }
  if (field !== null) {
    if (event.key === 'Enter' || event.key === 'Escape') {
      event.preventDefault();
      leave(event.key === 'Enter');
    }
    return;
  }
  const act = Object.keys(LETTERS).find(one => LETTERS[one] === event.key.toLowerCase());
  if (event.key === 'Escape') {
    close();
  } else if (
    event.key === 'Enter' &&
    !(document.activeElement instanceof HTMLAnchorElement) &&
    document.activeElement?.id !== 'close' &&
    !document.activeElement?.dataset?.act
  ) {
    event.preventDefault();
    if (phase === 'over') {
      close();
    } else {
      keep();
    }
  } else if (event.key === 'r' && !$('read').hidden) {
    $('read').click();
  } else if (act && phase === 'asking') {
    event.preventDefault();
    (CYCLES[act] ? cycle : open)(act);
  }
});
document.addEventListener('click', event => {
  const button = event.target.closest('button');
  if (!event.isTrusted || !button) {
    return;
  }
  const { act } = button.dataset;
  if (act) {
    (CYCLES[act] ? cycle : open)(act);
  } else if (button.id === 'keep') {
    keep();
  } else if (button.id === 'close') {
    close();
  }
});
$('asking').addEventListener('submit', event => event.preventDefault());

// A page can lay something over the line, or make it invisible, so that somebody presses what they do not see (Intersection Observer,
// level 2: only what is known to be seen is said to be visible).
if (window.top !== window) {
  new IntersectionObserver(
    entries => {
      isCovered = entries.at(-1).isVisible === false;
    },
    { trackVisibility: true, delay: 100 },
  ).observe(document.querySelector('main'));
}
draw();
