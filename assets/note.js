'use strict';
// Notes are saved by themselves, shown as they will look, and not lost where there is no network. Without this they are saved by a button.
(() => {
  const store = {
    key: code => 'note ' + document.body.dataset.person + ' ' + code,
    get(code) {
      try {
        return JSON.parse(localStorage.getItem(this.key(code)));
      } catch {
        return null;
      }
    },
    set(code, value) {
      try {
        if (value) localStorage.setItem(this.key(code), JSON.stringify(value));
        else localStorage.removeItem(this.key(code));
      } catch {
        /* no room, or not allowed: it is saved by the network alone */
      }
    },
  };
  // Each heading of a note is a place with an address.
  const places = () => {
    for (const heading of document.querySelectorAll('[data-note-shown] [id^="in-"]')) {
      const link = document.createElement('a');
      Object.assign(link, { className: 'place', href: '#' + heading.id, textContent: '¶' });
      link.setAttribute('aria-label', document.querySelector('[data-note-shown]').dataset.place.replace('{name}', heading.textContent));
      heading.append(' ', link);
    }
  };
  places();
  // To-dos are ticked where they stand.
  const boxes = () => {
    if (!document.querySelector('form[data-note]')) return;
    for (const box of document.querySelectorAll('[data-note-shown] span[data-todo]')) {
      const button = document.createElement('button');
      Object.assign(button, { type: 'button', className: 'quiet box', textContent: box.textContent });
      Object.assign(button.dataset, box.dataset);
      button.setAttribute('aria-pressed', String(box.textContent === '☑'));
      button.setAttribute('aria-label', box.dataset.text);
      box.replaceWith(button);
    }
  };
  boxes();
  document.addEventListener('click', async event => {
    const box = event.target.closest('[data-note-shown] button[data-todo]'),
      form = document.querySelector('form[data-note]');
    if (!box || !form) return;
    const body = new FormData(),
      done = box.getAttribute('aria-pressed') !== 'true';
    for (const [name, value] of Object.entries({
      _token: form.elements._token.value,
      item: form.dataset.note,
      line: box.dataset.todo,
      text: box.dataset.text,
      done: done ? '1' : '0',
    }))
      body.append(name, value);
    const answer = await fetch('/todos', { method: 'POST', body, redirect: 'manual' }).catch(() => null);
    // Where somebody was faster, the note as it is now says so.
    if (answer?.type === 'opaqueredirect') location.reload();
    else if (answer) location.assign(location.pathname);
  });
  const form = document.querySelector('form[data-note]');
  if (form) {
    const code = form.dataset.note,
      box = form.elements.note,
      base = form.elements.base,
      look = form.querySelector('.as-it-looks'),
      said = document.getElementById('note-said'),
      shown = document.querySelector('[data-note-shown]'),
      names = document.getElementById('note-names'),
      writing = form.closest('details');
    const token = form.elements._token.value;
    const say = name => {
      said.textContent = form.dataset['said' + name];
      said.dataset.state = name;
    };
    const post = (path, values) => {
      const body = new FormData();
      for (const [name, value] of Object.entries({ _token: token, ...values })) body.append(name, value);
      return fetch(path, { method: 'POST', body, redirect: 'error' });
    };
    let saving = false,
      decided = true,
      timer = 0,
      looks = 0,
      typed = 0;
    const later = wait => {
      clearTimeout(timer);
      timer = setTimeout(save, wait);
    };
    const save = async () => {
      if (saving || !decided || box.value === base.value) return;
      saving = true;
      say('Saving');
      const mine = box.value,
        at = typed;
      try {
        const answer = await post(form.dataset.save, { base: base.value, note: mine });
        if (answer.status === 409) {
          decided = false;
          const both = document.createElement('div');
          both.innerHTML = (await answer.json()).html;
          document.querySelector('.both-changed')?.remove();
          document.getElementById('note').prepend(both.firstElementChild);
          document.querySelector('.both-changed button').focus();
          say('Typed');
          return;
        }
        if (answer.status === 503) return later(1000);
        if (!answer.ok) return say('Refused');
        const now = await answer.json();
        if (at === typed && box.value !== now.note) {
          // What somebody else wrote comes to where it stands; the caret stays by the words before it.
          const end = box.value.length - box.selectionEnd;
          box.value = now.note;
          box.selectionEnd = box.selectionStart = Math.max(0, now.note.length - end);
        }
        // Whoever typed on meanwhile did so from what was sent.
        base.value = at === typed ? now.note : mine;
        document.querySelectorAll('form [name=state]').forEach(one => {
          one.value = now.state;
        });
        shown.innerHTML = now.shown;
        places();
        boxes();
        if (at === typed) {
          look.innerHTML = now.html;
          store.set(code, null);
          say(now.mine ? 'Saved' : 'Merged');
        } else {
          store.set(code, { base: mine, note: box.value });
          later(500);
        }
      } catch {
        say('Waits');
        later(5000);
      } finally {
        saving = false;
      }
    };
    const showLook = async () => {
      const n = ++looks;
      const answer = await post(form.dataset.look, { note: box.value }).catch(() => null);
      if (answer?.ok && n === looks) look.innerHTML = await answer.text();
    };
    let lookTimer = 0;
    box.addEventListener('input', () => {
      typed++;
      store.set(code, { base: base.value, note: box.value });
      say('Typed');
      later(1200);
      clearTimeout(lookTimer);
      lookTimer = setTimeout(showLook, 250);
      offer();
    });
    addEventListener('online', save);
    document.addEventListener('visibilitychange', () => document.visibilityState === 'hidden' && save());
    form.addEventListener('submit', event => {
      event.preventDefault();
      save();
    });
    document.addEventListener('submit', event => event.target.matches('[data-decides]') && store.set(code, null));
    writing.addEventListener('toggle', () => {
      shown.hidden = writing.open;
    });
    writing.querySelector('summary').addEventListener('click', () => setTimeout(() => writing.open && box.focus()));
    shown.hidden = writing.open;

    // Items by name: a bracket and the beginning of a title.
    let wanted = 0;
    const before = () => /\[([^[\]\n]{2,80})$/.exec(box.value.slice(0, box.selectionStart));
    const close = () => {
      names.hidden = true;
      box.removeAttribute('aria-activedescendant');
    };
    const pick = option => {
      const match = before();
      if (!match) return close();
      const title = option.textContent.replace(/[[\]\\]/g, '\\$&');
      box.setRangeText(`[${title}](${option.dataset.path})`, match.index, box.selectionStart, 'end');
      close();
      box.dispatchEvent(new Event('input'));
      box.focus();
    };
    const offer = async () => {
      const match = before(),
        n = ++wanted;
      if (!match) return close();
      const answer = await fetch(form.dataset.names + '?' + new URLSearchParams({ q: match[1] })).catch(() => null);
      if (!answer?.ok || n !== wanted) return;
      const found = await answer.json();
      names.replaceChildren(
        ...found.map(({ name, path }, i) => {
          const option = document.createElement('li');
          Object.assign(option, { id: 'note-name-' + i, role: 'option', textContent: name, dir: 'auto' });
          option.setAttribute('aria-selected', 'false');
          option.dataset.path = path;
          return option;
        }),
      );
      names.hidden = !found.length;
    };
    names.addEventListener('mousedown', event => {
      event.preventDefault();
      const option = event.target.closest('[role=option]');
      if (option) pick(option);
    });
    box.addEventListener('keydown', event => {
      if (event.key === 'Escape' && names.hidden) return writing.querySelector('summary').focus();
      if (names.hidden) return;
      const all = [...names.children],
        at = all.findIndex(one => one.getAttribute('aria-selected') === 'true');
      if (event.key === 'Escape') close();
      else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
        const next = all[(at + (event.key === 'ArrowDown' ? 1 : at < 0 ? 0 : -1) + all.length) % all.length];
        all.forEach(one => one.setAttribute('aria-selected', String(one === next)));
        box.setAttribute('aria-activedescendant', next.id);
        next.scrollIntoView({ block: 'nearest' });
      } else if (event.key === 'Enter' && at >= 0) pick(all[at]);
      else return;
      event.preventDefault();
    });
    box.addEventListener('blur', close);

    // What was typed before and has not come through.
    const kept = store.get(code);
    if (kept && typeof kept.note === 'string' && typeof kept.base === 'string' && kept.note !== base.value) {
      writing.open = true;
      box.value = kept.note;
      base.value = kept.base;
      say('Brought');
      showLook();
      later(300);
    } else store.set(code, null);
  }

  // A quick note waits in this browser until the server has it; it never comes twice.
  const quick = document.querySelector('#quick-note form');
  if (quick) {
    const list = 'quick notes ' + document.body.dataset.person;
    const waiting = () => {
      try {
        const read = JSON.parse(localStorage.getItem(list) ?? '[]');
        return Array.isArray(read) ? read.filter(one => typeof one?.note === 'string' && typeof one.key === 'string') : [];
      } catch {
        return [];
      }
    };
    const put = notes => {
      try {
        if (notes.length) localStorage.setItem(list, JSON.stringify(notes));
        else localStorage.removeItem(list);
        return true;
      } catch {
        return false;
      }
    };
    const tell = text => {
      document.getElementById('told').textContent = text;
    };
    const renew = () => {
      quick.elements.key.value = [...crypto.getRandomValues(new Uint8Array(8))].map(one => one.toString(16).padStart(2, '0')).join('');
    };
    renew();
    let busy = false;
    const send = async () => {
      if (busy) return;
      busy = true;
      try {
        for (let notes = waiting(); notes.length; notes = waiting()) {
          const body = new FormData(quick);
          body.set('note', notes[0].note);
          body.set('key', notes[0].key);
          const answer = await fetch(quick.action, { method: 'POST', body, redirect: 'manual' });
          if (answer.type !== 'opaqueredirect') return;
          put(waiting().filter(one => one.key !== notes[0].key));
          tell(quick.dataset.saidSaved);
        }
      } catch {
        setTimeout(send, 5000);
      } finally {
        busy = false;
      }
    };
    quick.addEventListener('submit', event => {
      if (navigator.onLine) return;
      const note = quick.elements.note.value;
      if (!put([...waiting(), { note, key: quick.elements.key.value }])) return;
      event.preventDefault();
      quick.reset();
      renew();
      quick.closest('dialog').close();
      tell(quick.dataset.saidWaits);
    });
    addEventListener('online', send);
    send();
  }
})();
