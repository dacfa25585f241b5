'use strict';
// Registers whose cells are changed in place, and outlines whose branches are folded.
(() => {
  const tell = text => {
    document.getElementById('told').textContent = text;
  };
  const cancel = (cell, held) => {
    cell.replaceChildren(...held);
    cell.querySelector('[data-cell]')?.focus();
  };
  const edit = button => {
    const cell = button.closest('td'),
      row = button.closest('tr'),
      held = [...cell.childNodes],
      box = document.createElement('input');
    Object.assign(box, { type: button.dataset.cell === 'due' ? 'date' : 'text', value: button.dataset.value, className: 'in-cell' });
    box.setAttribute('aria-label', button.getAttribute('aria-label'));
    if (button.dataset.cell === 'tags') Object.assign(box.dataset, { names: '/names/tags', many: '' });
    const why = document.createElement('p');
    why.className = 'rubric';
    why.setAttribute('role', 'alert');
    let over = false;
    const leave = () => {
      if (over) return;
      over = true;
      cancel(cell, held);
    };
    const save = async () => {
      if (box.value === button.dataset.value) return leave();
      const body = new FormData();
      for (const [name, value] of Object.entries({
        _token: row.dataset.token,
        column: button.dataset.cell,
        value: box.value,
        state: row.dataset.state,
      }))
        body.append(name, value);
      const answer = await fetch(row.dataset.path, { method: 'POST', body }).catch(() => null);
      const said = await answer?.json().catch(() => null);
      if (!answer?.ok || !said?.html) {
        // What was typed stays until it is taken, or given up.
        why.textContent = said?.error ?? document.body.dataset.notTaken;
        box.setAttribute('aria-invalid', 'true');
        cell.append(why);
        return box.focus();
      }
      over = true;
      row.dataset.state = said.state;
      cell.innerHTML = said.html;
      cell.querySelector('[data-cell]')?.focus();
      tell(document.body.dataset.saved);
    };
    box.addEventListener('keydown', event => {
      if (event.key === 'Enter') save();
      else if (event.key === 'Escape') leave();
      else return;
      event.preventDefault();
      event.stopPropagation();
    });
    box.addEventListener('blur', () => {
      if (box.value === button.dataset.value) leave();
    });
    cell.replaceChildren(box);
    box.focus();
    box.select?.();
  };
  document.addEventListener('click', event => {
    const button = event.target.closest('[data-cell]');
    if (button) edit(button);
    const fold = event.target.closest('[data-fold]');
    if (fold) turn(fold, fold.getAttribute('aria-expanded') !== 'true');
    const all = event.target.closest('[data-folds]');
    if (all) {
      const open = all.dataset.folds === 'true';
      for (const one of document.querySelectorAll('[data-fold]')) if ((one.getAttribute('aria-expanded') === 'true') !== open) one.click();
    }
  });
  document.addEventListener('dblclick', event => {
    const button = event.target.closest('td')?.querySelector('[data-cell]');
    if (button && !event.target.closest('a, button, input')) edit(button);
  });
  const turn = (fold, open) => {
    fold.setAttribute('aria-expanded', String(open));
    fold.closest('li').querySelector(':scope > ul').hidden = !open;
  };
  // Maps are zoomed by wheel and by + and -, and moved by arrows and by dragging; what stands on them keeps its size.
  for (const map of document.querySelectorAll('[data-map]')) {
    const whole = map.getAttribute('viewBox');
    const show = (x, y, w) => {
      w = Math.min(360, Math.max(0.2, w));
      const h = w / 2;
      x = Math.min(180 - w, Math.max(-180, x));
      y = Math.min(90 - h, Math.max(-90, y));
      map.setAttribute('viewBox', [x, y, w, h].join(' '));
      for (const dot of map.querySelectorAll('circle')) dot.setAttribute('r', w / 110);
    };
    const seen = () => map.getAttribute('viewBox').split(' ').map(Number);
    const zoom = (by, px = 0.5, py = 0.5) => {
      const [x, y, w, h] = seen(),
        now = Math.min(360, Math.max(0.2, w * by));
      show(x + (w - now) * px, y + (h - now / 2) * py, now);
    };
    map.addEventListener(
      'wheel',
      event => {
        event.preventDefault();
        const box = map.getBoundingClientRect();
        zoom(event.deltaY > 0 ? 1.25 : 0.8, (event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
      },
      { passive: false },
    );
    map.addEventListener('keydown', event => {
      const [x, y, w, h] = seen();
      const act = {
        '+': () => zoom(0.8),
        '-': () => zoom(1.25),
        0: () => show(...whole.split(' ').map(Number)),
        ArrowLeft: () => show(x - w / 10, y, w),
        ArrowRight: () => show(x + w / 10, y, w),
        ArrowUp: () => show(x, y - h / 10, w),
        ArrowDown: () => show(x, y + h / 10, w),
      }[event.key];
      if (!act) return;
      event.preventDefault();
      act();
    });
    map.addEventListener('pointermove', event => {
      if (event.buttons !== 1) return;
      const [x, y, w] = seen(),
        scale = w / map.getBoundingClientRect().width;
      show(x - event.movementX * scale, y - event.movementY * scale, w);
    });
  }
  document.addEventListener('keydown', event => {
    const row = event.target.closest?.('.outline li');
    if (!row || event.altKey || event.ctrlKey || event.metaKey) return;
    const fold = row.querySelector(':scope > [data-fold]'),
      isOpen = fold?.getAttribute('aria-expanded') === 'true';
    if (event.key === 'ArrowRight' && fold && !isOpen) fold.click();
    else if (event.key === 'ArrowLeft' && isOpen) fold.click();
    else if (event.key === 'ArrowLeft') row.parentElement.closest('li')?.focus();
    else return;
    event.preventDefault();
  });
})();
