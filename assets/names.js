'use strict';
// A box that names things offers those that begin so: arrows choose, Enter takes, Escape leaves what was typed. In a box of many names
// the one is offered that is being typed.
(() => {
  let list = null,
    box = null,
    asked = 0;
  const close = () => {
    list?.remove();
    list = null;
    box?.setAttribute('aria-expanded', 'false');
    box?.removeAttribute('aria-activedescendant');
  };
  const typed = one => ('many' in one.dataset ? one.value.slice(one.value.lastIndexOf(',') + 1) : one.value).trim();
  const take = option => {
    const name = option.dataset.name;
    if (option.dataset.href) return (location.href = option.dataset.href);
    if ('many' in box.dataset) {
      const before = box.value.slice(0, box.value.lastIndexOf(',') + 1);
      box.value = (before ? before.trimEnd() + ' ' : '') + name + ', ';
    } else box.value = name;
    close();
    box.dispatchEvent(new Event('change', { bubbles: true }));
  };
  const offer = async () => {
    const n = ++asked,
      word = typed(box);
    if (!word && !('empty' in box.dataset)) return close();
    const answer = await fetch(box.dataset.names + '?' + new URLSearchParams({ q: word })).catch(() => null);
    const found = answer?.ok ? await answer.json() : [];
    if (n !== asked || document.activeElement !== box) return;
    const names = found.filter(one => one.href || one.name !== word);
    close();
    if (!names.length) return;
    list = document.createElement('ul');
    Object.assign(list, { id: 'names', className: 'names' });
    list.setAttribute('role', 'listbox');
    list.setAttribute('aria-label', document.body.dataset.offered);
    names.forEach(({ name, href, kind }, i) => {
      const option = document.createElement('li');
      Object.assign(option, { id: 'name-' + i, role: 'option', textContent: name, dir: 'auto' });
      option.setAttribute('aria-selected', 'false');
      option.dataset.name = name;
      if (href) {
        option.dataset.href = href;
        const what = document.createElement('span');
        what.textContent = ' ' + (JSON.parse(document.body.dataset.kinds)[kind] ?? '');
        option.append(what);
      }
      list.append(option);
    });
    list.addEventListener('mousedown', event => {
      event.preventDefault();
      const option = event.target.closest('[role=option]');
      if (option) take(option);
    });
    const place = box.getBoundingClientRect(),
      low = innerHeight - place.bottom < 220;
    Object.assign(list.style, {
      left: place.left + 'px',
      width: Math.max(place.width, 200) + 'px',
      [low ? 'bottom' : 'top']: (low ? innerHeight - place.top + 2 : place.bottom + 2) + 'px',
    });
    (box.closest('dialog, main') ?? document.body).append(list);
    box.setAttribute('aria-expanded', 'true');
  };
  const begin = one => {
    if (!one?.matches('input[data-names]')) return;
    box = one;
    for (const [name, value] of Object.entries({ role: 'combobox', 'aria-autocomplete': 'list', 'aria-controls': 'names' }))
      box.setAttribute(name, value);
    box.setAttribute('aria-expanded', 'false');
  };
  document.addEventListener('focusin', event => begin(event.target));
  // One in which somebody was put before this ran.
  begin(document.activeElement);
  document.addEventListener('focusout', close);
  addEventListener('scroll', close, true);
  document.addEventListener('input', event => event.target === box && offer());
  document.addEventListener(
    'keydown',
    event => {
      if (event.key === 'Escape') asked++;
      if (!list && event.target === box && event.key === 'ArrowDown' && 'empty' in box.dataset) return offer();
      if (!list || event.target !== box) return;
      const all = [...list.children],
        at = all.findIndex(one => one.getAttribute('aria-selected') === 'true');
      if (event.key === 'Escape') close();
      else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
        const next = all[(at + (event.key === 'ArrowDown' ? 1 : at < 0 ? 0 : -1) + all.length) % all.length];
        all.forEach(one => one.setAttribute('aria-selected', String(one === next)));
        box.setAttribute('aria-activedescendant', next.id);
      } else if (event.key === 'Enter' && at >= 0) take(all[at]);
      else return;
      event.preventDefault();
      event.stopPropagation();
    },
    true,
  );
})();
