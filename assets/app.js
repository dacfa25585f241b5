'use strict';
// Keys, copying, the reading window. Everything works without this, only less quickly.
(() => {
  document.documentElement.classList.add('js');
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  if (zone && !document.cookie.split('; ').includes('zone=' + zone))
    document.cookie = 'zone=' + zone + '; path=/; max-age=31536000; samesite=strict' + (location.protocol === 'https:' ? '; secure' : '');

  // Whoever works here has a page for being without a network; what was shared then is asked for now.
  if (document.body.dataset.person) {
    navigator.serviceWorker?.register('/service-worker.js', { scope: '/keep' }).catch(() => {});
    const waiting = JSON.parse(localStorage.getItem('ypomna-shared') ?? '[]');
    if (waiting.length && location.pathname !== '/keep') {
      const note = document.createElement('p');
      note.className = 'note';
      note.setAttribute('role', 'status');
      note.append(document.body.dataset.shared + ' ');
      for (const search of waiting) {
        const link = document.createElement('a');
        link.href = '/keep' + search;
        link.textContent = new URLSearchParams(search).get('url') || new URLSearchParams(search).get('text') || search;
        link.addEventListener('click', () => localStorage.setItem('ypomna-shared', JSON.stringify(waiting.filter(one => one !== search))));
        note.append(link, ' ');
      }
      document.querySelector('main')?.prepend(note);
    }
  }

  const later = document.body.dataset.later;
  if (later)
    addEventListener('load', () => {
      const sheet = document.createElement('link');
      sheet.rel = 'stylesheet';
      sheet.href = later;
      document.head.append(sheet);
    });

  const tell = text => {
    document.getElementById('told').textContent = text;
  };
  const items = () =>
    [...document.querySelectorAll('[data-list] > [data-item], .outline ul:not([hidden]) > [data-item]')].filter(
      one => !one.parentElement.closest('[hidden]'),
    );
  const step = by => {
    const all = items();
    if (!all.length) return;
    const at = all.indexOf(document.activeElement.closest('[data-item]'));
    const next = all[at < 0 ? (by > 0 ? 0 : all.length - 1) : Math.min(all.length - 1, Math.max(0, at + by))];
    next.focus();
    next.scrollIntoView({ block: 'nearest' });
  };
  const here = () => document.activeElement.closest('[data-item]');

  // What was found is gone through result by result: where it stands in the list is kept in this tab.
  const foundList = document.querySelector('[data-found]');
  if (foundList)
    sessionStorage.setItem(
      'ypomna-found',
      JSON.stringify({
        from: location.pathname + location.search,
        next: foundList.dataset.next || null,
        open: [...foundList.querySelectorAll('a.open')].map(link => link.getAttribute('href')),
      }),
    );
  document.addEventListener('keydown', event => {
    if (
      event.altKey ||
      event.ctrlKey ||
      event.metaKey ||
      event.target.closest('input:not([type=checkbox]), textarea, select, dialog[open]')
    )
      return;
    const link = document.querySelector('[data-step="' + event.key + '"]');
    const act = {
      '/': () => document.querySelector('[data-key="/"]')?.focus(),
      '?': () => document.getElementById('keys').showModal(),
      n: () => document.getElementById('quick-note')?.showModal(),
      u: () => document.querySelector('form.undo button')?.click(),
      j: () => step(1),
      k: () => step(-1),
      x: () => here()?.querySelector('input[type=checkbox]')?.click(),
      c: () => document.querySelector('button.needs-two')?.click(),
      Enter: () => event.target.matches('[data-item]') && here().querySelector('a.open')?.click(),
    }[event.key];
    if (link) {
      event.preventDefault();
      link.click();
      return;
    }
    if (act && !(event.key === 'Enter' && !event.target.matches('[data-item]'))) {
      event.preventDefault();
      act();
    }
  });

  // What says how to keep a page has no place in the address of a look-up.
  document.querySelector('form.onebox')?.addEventListener('submit', event => {
    if (event.submitter?.formMethod === 'post') return;
    const asides = [...event.target.querySelectorAll('.how input, .how textarea')].filter(one => !one.disabled);
    asides.forEach(one => {
      one.disabled = true;
    });
    setTimeout(() =>
      asides.forEach(one => {
        one.disabled = false;
      }),
    );
  });

  document.addEventListener('input', event => {
    if (event.target.matches('[data-slide]'))
      document.getElementById(event.target.dataset.slide).style.setProperty('--cut', event.target.value + '%');
  });

  document.addEventListener('click', async event => {
    const adds = event.target.closest('[data-adds]');
    if (adds) {
      const box = adds.form.elements.tags;
      const there = box.value
        .split(',')
        .map(one => one.trim())
        .filter(Boolean);
      if (!there.includes(adds.dataset.adds)) box.value = [...there, adds.dataset.adds].join(', ');
      box.focus();
      return;
    }
    const copy = event.target.closest('[data-copy]');
    if (copy) {
      try {
        await navigator.clipboard.writeText(copy.dataset.copy);
      } catch {
        const box = Object.assign(document.createElement('textarea'), { value: copy.dataset.copy });
        document.body.append(box);
        box.select();
        document.execCommand('copy');
        box.remove();
      }
      const was = copy.textContent;
      copy.textContent = document.body.dataset.copied;
      tell(document.body.dataset.copied);
      setTimeout(() => {
        copy.textContent = was;
      }, 1500);
    }
    document.querySelectorAll('details.more[open]').forEach(menu => {
      if (!menu.contains(event.target)) menu.open = false;
    });
    const opens = event.target.closest('[data-opens]');
    if (opens) document.getElementById(opens.dataset.opens).showModal();
    const unfold = event.target.closest('[data-unfold]');
    if (unfold) {
      const open = unfold.closest('tbody').nextElementSibling.classList.toggle('open');
      unfold.setAttribute('aria-expanded', open);
    }
  });

  document.addEventListener('keydown', event => {
    const menu = event.key === 'Escape' && event.target.closest('details.more[open]');
    if (!menu) return;
    menu.open = false;
    menu.querySelector('summary').focus();
  });

  // The column and the list show the same captures: what is pointed at in one is marked in the other.
  const layerOf = item => item && document.querySelector('.column [data-code="' + item.id.slice(2) + '"]');
  document.addEventListener('focusin', event => {
    document.querySelectorAll('.column .here').forEach(l => l.classList.remove('here'));
    layerOf(event.target.closest('.captures > [data-item]'))?.classList.add('here');
  });

  // What is in an order made by hand is dragged, or moved by Alt and an arrow; the buttons do the same.
  let dragged = null;
  const side = (row, event) => {
    const box = row.getBoundingClientRect();
    return event.clientY < box.top + box.height / 2 ? 'before' : 'after';
  };
  const unmark = () =>
    document.querySelectorAll('.drop-before, .drop-after').forEach(one => one.classList.remove('drop-before', 'drop-after'));
  document.addEventListener('pointerdown', event => {
    const row = event.target.closest('[data-moves]');
    // Links would be dragged by themselves.
    if (row) row.draggable = !event.target.closest('input, textarea, select, button');
  });
  document.addEventListener('dragstart', event => {
    dragged = event.target.closest?.('[data-moves]') ?? null;
    if (!dragged) return;
    event.dataTransfer.effectAllowed = 'move';
    event.dataTransfer.setData('text/plain', dragged.innerText);
    event.dataTransfer.setDragImage(dragged, 0, 0);
  });
  const over = event => {
    const row = dragged && event.target.closest?.('[data-moves]');
    return row && row !== dragged && row.parentElement === dragged.parentElement ? row : null;
  };
  document.addEventListener('dragover', event => {
    const row = over(event);
    unmark();
    if (!row) return;
    event.preventDefault();
    row.classList.add('drop-' + side(row, event));
  });
  document.addEventListener('dragend', () => {
    dragged = null;
    unmark();
  });
  document.addEventListener('drop', event => {
    const row = over(event);
    if (!row) return;
    event.preventDefault();
    const form = document.createElement('form'),
      { moves, dossier, back, token } = dragged.dataset;
    form.method = 'post';
    form.action = moves;
    for (const [name, value] of Object.entries({ _token: token, dossier, back, beside: row.dataset.code, act: side(row, event) }))
      if (value !== undefined) form.append(Object.assign(document.createElement('input'), { type: 'hidden', name, value }));
    document.body.append(form);
    form.submit();
  });
  document.addEventListener('keydown', event => {
    const row = event.altKey && event.target.closest('[data-moves]');
    const act = row && { ArrowUp: 'before', ArrowDown: 'after' }[event.key];
    if (!act) return;
    event.preventDefault();
    row.querySelector('button[name=act][value=' + act + ']')?.click();
  });

  // Files are handed in piece by piece: what was broken off goes on where it stood.
  const place = document.querySelector('[data-arrivals]');
  if (place) {
    const piece = 8 * 1024 * 1024,
      sending = document.getElementById('sending');
    const ask = async (path, options) => {
      const answer = await fetch(path, { ...options, headers: { ...options.headers, 'X-Token': place.dataset.token } });
      const said = await answer.json().catch(() => ({ error: answer.statusText }));
      if (!answer.ok) throw new Error(said.error);
      return said;
    };
    const report = () => htmx.ajax('GET', place.dataset.report, { target: '#arrivals', swap: 'innerHTML' });
    const handIn = async files => {
      const failed = [];
      for (const [n, file] of [...files].entries()) {
        try {
          const form = new FormData();
          for (const [name, value] of [
            ['name', file.name],
            ['bytes', file.size],
            ['modified', Math.floor(file.lastModified / 1000)],
            ['confidential', place.querySelector('[name=confidential]')?.checked ? 1 : 0],
          ])
            form.append(name, value);
          const begun = await ask(place.dataset.arrivals, { method: 'POST', body: form });
          const code = begun.code;
          let there = begun.there;
          do {
            sending.textContent = `${n + 1} / ${files.length}: ${file.name}, ${Math.floor((100 * there) / Math.max(1, file.size))} %`;
            // What is altered on its way is told at once, where the browser can take digests.
            const part = await file.slice(there, there + piece).arrayBuffer();
            const digest = globalThis.crypto?.subtle
              ? [...new Uint8Array(await crypto.subtle.digest('SHA-256', part))].map(byte => byte.toString(16).padStart(2, '0')).join('')
              : null;
            ({ there } = await ask(`/import/${code}/${there}`, {
              method: 'PUT',
              body: part,
              headers: digest ? { 'X-Piece-Sha256': digest } : {},
            }));
          } while (there < file.size);
        } catch (problem) {
          failed.push(`${file.name}: ${problem.message}`);
        }
        if (n % 10 === 0) report();
      }
      sending.textContent = failed.join(' ');
      report();
    };
    place.addEventListener('submit', event => {
      event.preventDefault();
      const chosen = document.getElementById('files');
      handIn([...chosen.files]);
      chosen.value = '';
    });
    document.addEventListener('dragover', event => {
      event.preventDefault();
      place.classList.add('over');
    });
    document.addEventListener('dragleave', event => {
      if (!event.relatedTarget) place.classList.remove('over');
    });
    document.addEventListener('drop', event => {
      event.preventDefault();
      place.classList.remove('over');
      handIn([...event.dataTransfer.files]);
    });
  }

  // Messages come from our script in a page, or in frames of it; that proves it by what the server gave it. What a page's own
  // scripts say, and whatever comes from elsewhere, counts for nothing.
  const within = (source, frame) => {
    try {
      for (let one = source, n = 0; one && n < 20; one = one.parent, n++) {
        if (one === frame.contentWindow) return true;
        if (one === one.parent) return false;
      }
    } catch {
      /* it is gone */
    }
    return false;
  };
  const heard = (event, frame, proof) =>
    event.origin === 'null' &&
    event.data !== null &&
    typeof event.data === 'object' &&
    typeof proof === 'string' &&
    proof !== '' &&
    event.data.proof === proof &&
    within(event.source, frame)
      ? event.data
      : null;

  // A link in the page that is read may lead to a capture of another moment: the margin follows. Everything shown comes from the server.
  const frame = document.getElementById('page'),
    bar = document.getElementById('bar'),
    findings = document.getElementById('findings');
  if (frame && bar) {
    // Parts that are missing or come from another moment, as the page and its frames report them.
    const found = { gap: new Map(), elsewhen: new Map() };
    let momentRead = new Date(bar.querySelector('time').dateTime);
    const proof = () => bar.querySelector('[data-proof]').dataset.proof;
    // What the capture asks for and nobody has, as the server finds it: nothing else is offered to be kept, whatever the page reports.
    let asksFor = null;
    const askFor = async () => {
      if (asksFor || !findings.dataset.keep) return;
      const code = bar.dataset.code;
      asksFor = new Set();
      const answer = await fetch('/c/' + code + '/missing').catch(() => null);
      const { missing } = answer?.ok ? await answer.json() : { missing: [] };
      if (code === bar.dataset.code) {
        asksFor = new Set(missing);
        showFindings();
      }
    };
    const distance = from => {
      const days = Math.abs(from - momentRead) / 864e5,
        later = from > momentRead;
      const [n, unit] =
        days >= 60 ? [days / 30.44, 'month'] : days >= 2 ? [days, 'day'] : days >= 1 / 12 ? [days * 24, 'hour'] : [days * 1440, 'minute'];
      const amount = new Intl.NumberFormat(document.documentElement.lang, {
        style: 'unit',
        unit,
        unitDisplay: 'long',
        maximumFractionDigits: 0,
      }).format(Math.max(1, Math.round(n)));
      return findings.dataset[later ? 'later' : 'earlier'].replace('{amount}', amount);
    };
    const showFindings = () => {
      for (const [kind, held] of Object.entries(found)) {
        const box = findings.querySelector('[data-kind=' + kind + ']');
        box.hidden = held.size === 0;
        box.querySelector('summary').textContent = box.dataset.title.replace('{n}', held.size);
        box.querySelector('ul').replaceChildren(
          ...[...held].slice(0, 200).map(([url, text]) => {
            const line = document.createElement('li'),
              address = document.createElement('bdi');
            address.textContent = url.replace(/^https?:\/\//, '');
            address.className = 'address';
            const [said, certain] = [].concat(text);
            line.append(address, ...(said ? [document.createElement('br'), said] : []));
            if (['different', 'same'].includes(certain)) {
              const sure = document.createElement('span');
              sure.className = certain === 'different' ? 'rubric' : 'soft';
              sure.textContent = findings.dataset[certain];
              line.append(document.createElement('br'), sure);
            }
            if (kind === 'gap' && asksFor?.has(url)) {
              // Still to be had today, perhaps: one press tries to keep it.
              const form = document.createElement('form'),
                keep = document.createElement('button');
              form.method = 'post';
              form.action = findings.dataset.keep;
              form.target = '_blank';
              for (const [name, value] of [
                ['q', url],
                ['_token', findings.dataset.token],
              ]) {
                const field = document.createElement('input');
                field.type = 'hidden';
                field.name = name;
                field.value = value;
                form.append(field);
              }
              keep.className = 'quiet';
              keep.textContent = findings.dataset.keepWords;
              keep.setAttribute('aria-label', findings.dataset.keepWords + ' ' + url);
              form.append(keep);
              line.append(form);
            }
            return line;
          }),
        );
      }
    };
    window.addEventListener('message', event => {
      const said = heard(event, frame, proof());
      if (
        !said ||
        !['gap', 'elsewhen'].includes(said.ypomna) ||
        said.code !== bar.dataset.code ||
        typeof said.url !== 'string' ||
        found[said.ypomna].size >= 500
      )
        return;
      const from = new Date(said.from ?? NaN);
      if (said.ypomna === 'elsewhen' && isNaN(from)) return;
      found[said.ypomna].set(said.url.slice(0, 2000), said.ypomna === 'elsewhen' ? [distance(from), said.certain] : '');
      showFindings();
      if (said.ypomna === 'gap') askFor();
    });
    // A passage in the page: the one that this address is of is shown, and one that is marked gets an address.
    const wanted = new URLSearchParams(location.search).get('passage'),
      passage = document.getElementById('passage'),
      missing = document.getElementById('passage-missing');
    window.addEventListener('message', event => {
      const said = event.source === frame.contentWindow ? heard(event, frame, proof()) : null;
      if (!said || said.code !== bar.dataset.code) return;
      if (said.ypomna === 'reading' && wanted && !document.getElementById('finder-q')?.value)
        frame.contentWindow.postMessage({ ypomnaShow: wanted }, '*');
      if (said.ypomna === 'no-passage' && missing) missing.hidden = false;
      if (said.ypomna === 'marked' && passage && typeof said.text === 'string') {
        const text = said.text.trim().slice(0, 500);
        passage.hidden = text === '';
        const button = passage.querySelector('button');
        if (text)
          button.dataset.copy =
            new URL(bar.querySelector('[data-permanent]').dataset.permanent, location.href) + '?passage=' + encodeURIComponent(text);
      }
    });
    // Words in this capture: the server knows in which forms they stand there, the page shows where.
    const finder = document.getElementById('finder');
    if (finder) {
      const box = document.getElementById('finder-q'),
        tellFinds = document.getElementById('finder-told'),
        acts = document.getElementById('finder-acts'),
        life = document.getElementById('finder-life');
      // The list from which one came, with the place in it.
      const list = JSON.parse(sessionStorage.getItem('ypomna-found') ?? 'null'),
        place = list?.open.indexOf(location.pathname + location.search) ?? -1,
        back = document.getElementById('finder-list');
      let at = 0,
        finds = 0;
      if (place >= 0) {
        back.hidden = false;
        back.querySelector('a').href = list.from + '#found-' + (place + 1);
      }
      const show = () => {
        if (!box.value.trim()) return;
        tellFinds.textContent = finds
          ? finder.dataset.words.replace('{at}', at + 1).replace('{n}', finds)
          : finder.dataset[acts.dataset.said === 'some' ? 'elsewhere' : 'nothing'];
        frame.contentWindow.postMessage({ ypomnaFind: at }, '*');
      };
      const find = async () => {
        const words = box.value.trim();
        finds = at = 0;
        acts.hidden = life.hidden = true;
        tellFinds.textContent = '';
        if (!words) return frame.contentWindow.postMessage({ ypomnaFinds: [] }, '*');
        const code = bar.dataset.code,
          answer = await fetch('/c/' + code + '/finds?' + new URLSearchParams({ q: words })).catch(() => null);
        if (!answer?.ok || code !== bar.dataset.code) return;
        const said = await answer.json();
        acts.dataset.said = said.finds.length ? 'some' : 'none';
        life.hidden = false;
        life.querySelector('a').href = said.life;
        acts.hidden = place < 0 && !said.finds.length;
        frame.contentWindow.postMessage({ ypomnaFinds: said.finds, near: wanted ?? '' }, '*');
      };
      finder.addEventListener('submit', event => {
        event.preventDefault();
        find();
      });
      const on = by => {
        if (at + by >= 0 && at + by < finds) {
          at += by;
          return show();
        }
        // Behind the last find comes the next result, before the first the one before; behind the last result the list goes on.
        if (place < 0) {
          at = finds ? (at + by + finds) % finds : 0;
          return show();
        }
        location.href = list.open[place + by] ?? (by > 0 && list.next ? list.next : list.from + '#found-' + (place + 1));
      };
      document.getElementById('finder-on').addEventListener('click', () => on(1));
      document.getElementById('finder-back').addEventListener('click', () => on(-1));
      window.addEventListener('message', event => {
        const said = event.source === frame.contentWindow ? heard(event, frame, proof()) : null;
        if (!said || said.code !== bar.dataset.code) return;
        if (said.ypomna === 'reading') find();
        if (said.ypomna === 'finds' && Number.isInteger(said.count) && Number.isInteger(said.at)) {
          finds = Math.min(2000, Math.max(0, said.count));
          at = Math.min(Math.max(0, said.at), Math.max(0, finds - 1));
          show();
        }
        if (said.ypomna === 'step' && ['n', 'p'].includes(said.key) && !acts.hidden) on(said.key === 'n' ? 1 : -1);
      });
    }
    // Notes in the margin, level with the passages that they are about.
    const glosses = document.getElementById('glosses'),
      glossForm = document.getElementById('gloss-form');
    let about = null,
      places = new Map();
    const level = () => {
      let free = glossForm && !glossForm.hidden ? glossForm.offsetHeight + 12 : 0;
      const notes = [...glosses.querySelectorAll('[data-gloss]')],
        spot = one => places.get(Number(one.dataset.gloss));
      // Those in the page in its order, each as near to its passage as those above let it be; behind them those whose passage is gone.
      for (const one of [...notes.filter(one => spot(one) !== undefined), ...notes.filter(one => spot(one) === undefined)]) {
        const wish = spot(one),
          away = wish !== undefined && wish < -one.offsetHeight;
        one.style.top = (away ? wish : Math.max(free, wish ?? free)) + 'px';
        if (!away) free = Math.max(free, wish ?? free) + one.offsetHeight + 12;
      }
    };
    const showGlosses = html => {
      document.getElementById('gloss-list').innerHTML = html;
      const notes = [...glosses.querySelectorAll('[data-gloss]')];
      glosses.hidden = !notes.length && !(glossForm && !glossForm.hidden);
      frame.contentWindow.postMessage({ ypomnaGlosses: notes.map(one => [Number(one.dataset.gloss), one.dataset.text]) }, '*');
      level();
    };
    const fetchGlosses = async () => {
      const code = bar.dataset.code,
        answer = glosses ? await fetch('/c/' + code + '/glosses').catch(() => null) : null;
      if (answer?.ok && code === bar.dataset.code) showGlosses(await answer.text());
    };
    if (glosses) {
      window.addEventListener('message', event => {
        const said = event.source === frame.contentWindow ? heard(event, frame, proof()) : null;
        if (!said || said.code !== bar.dataset.code) return;
        if (said.ypomna === 'reading') fetchGlosses();
        if (said.ypomna === 'glosses' && Array.isArray(said.places)) {
          places = new Map(said.places.filter(([n, y]) => Number.isInteger(n) && Number.isFinite(y)));
          level();
        }
        if (said.ypomna === 'marked' && typeof said.text === 'string' && said.text.trim())
          about = Object.fromEntries(['text', 'prefix', 'suffix'].map(name => [name, String(said[name] ?? '').slice(0, 500)]));
      });
      glosses.addEventListener('click', event => {
        const one = event.target.closest('[data-gloss]');
        if (one && !event.target.closest('a')) frame.contentWindow.postMessage({ ypomnaGloss: Number(one.dataset.gloss) }, '*');
      });
      // Whoever points at a note, or has come to it by keys, sees what it is about.
      const point = number => frame.contentWindow.postMessage({ ypomnaPointed: number }, '*');
      for (const [come, gone] of [
        ['mouseover', 'mouseout'],
        ['focusin', 'focusout'],
      ]) {
        glosses.addEventListener(come, event => {
          const one = event.target.closest('[data-gloss]');
          if (one) point(Number(one.dataset.gloss));
        });
        glosses.addEventListener(gone, () => point(-1));
      }
      glosses.addEventListener('keydown', event => {
        if (event.key === 'Enter' && event.target.matches('[data-gloss]'))
          frame.contentWindow.postMessage({ ypomnaGloss: Number(event.target.dataset.gloss) }, '*');
      });
      const close = () => {
        glossForm.hidden = true;
        glosses.hidden = !glosses.querySelector('[data-gloss]');
        level();
      };
      document.getElementById('gloss-begin')?.addEventListener('click', () => {
        if (!about) return;
        glossForm.querySelector('.passage').textContent = about.text;
        glossForm.hidden = glosses.hidden = false;
        glossForm.elements.note.focus();
        level();
      });
      document.getElementById('gloss-leave')?.addEventListener('click', close);
      glossForm?.addEventListener('submit', async event => {
        event.preventDefault();
        const form = new FormData(glossForm);
        for (const [name, value] of [
          ['exact', about.text],
          ['prefix', about.prefix],
          ['suffix', about.suffix],
        ])
          form.append(name, value);
        const answer = await fetch('/c/' + bar.dataset.code + '/glosses', { method: 'POST', body: form, headers: { 'X-Fragment': '1' } });
        if (!answer.ok) return tell(answer.statusText);
        glossForm.reset();
        close();
        showGlosses(await answer.text());
      });
    }
    window.addEventListener('message', async event => {
      const said = event.data;
      if (
        event.source !== frame.contentWindow ||
        event.origin !== 'null' ||
        !said ||
        said.ypomna !== 'reading' ||
        typeof said.code !== 'string' ||
        typeof said.proof !== 'string' ||
        !/^[2-9a-hjkmnp-z]{12}$/.test(said.code) ||
        said.code === bar.dataset.code
      )
        return;
      // The server says whether it is so.
      const query = location.search,
        parameters = new URLSearchParams(query);
      parameters.set('proof', said.proof);
      const answer = await fetch('/c/' + said.code + '/bar?' + parameters);
      if (!answer.ok) return;
      bar.innerHTML = await answer.text();
      bar.dataset.code = said.code;
      asksFor = null;
      momentRead = new Date(bar.querySelector('time').dateTime);
      for (const held of Object.values(found)) held.clear();
      showFindings();
      const permanent = bar.querySelector('[data-permanent]').dataset.permanent;
      history.replaceState(null, '', permanent + query);
      fetchGlosses();
    });
  }

  // Two captures beside each other: the changes are marked in both pages, which scroll together by what they have in common.
  const comparing = document.getElementById('comparison');
  if (comparing) {
    const facts = JSON.parse(comparing.textContent),
      frames = { old: document.getElementById('page-old'), new: document.getElementById('page-new') };
    const places = { old: new Map(), new: new Map() },
      spots = { old: new Map(), new: new Map() };
    const other = side => (side === 'old' ? 'new' : 'old');
    const say = (side, what) => frames[side].contentWindow.postMessage(what, '*');
    let together = true;
    const fit = () => {
      for (const frame of Object.values(frames)) {
        const box = frame.parentElement.getBoundingClientRect(),
          caption = frame.parentElement.querySelector('figcaption').offsetHeight;
        const scale = Math.min(1, box.width / 1000);
        Object.assign(frame.style, {
          width: box.width / scale + 'px',
          height: (box.height - caption) / scale + 'px',
          transform: 'scale(' + scale + ')',
        });
      }
    };
    fit();
    window.addEventListener('resize', fit);
    // Where a place of one page lies in the other: between the nearest passages that both have.
    const across = (side, y) => {
      let before = [0, 0],
        after = null;
      for (const [id, here] of places[side]) {
        const there = places[other(side)].get(id);
        if (there === undefined) continue;
        if (here <= y) before = [here, there];
        else {
          after = [here, there];
          break;
        }
      }
      if (!after) return before[1] + y - before[0];
      return before[1] + ((y - before[0]) * (after[1] - before[1])) / Math.max(1, after[0] - before[0]);
    };
    // A page that was there before us has told so already.
    for (const side of ['old', 'new']) say(side, { ypomnaCompare: 'marks', side, marks: facts[side] });
    const sideOf = source => Object.keys(frames).find(side => frames[side].contentWindow === source);
    window.addEventListener('message', event => {
      const side = sideOf(event.source),
        said = side ? heard(event, frames[side], frames[side].dataset.proof) : null;
      if (!said) return;
      if (said.ypomna === 'reading') say(side, { ypomnaCompare: 'marks', side, marks: facts[side] });
      if (said.ypomna === 'places' && Array.isArray(said.places) && Array.isArray(said.marks)) {
        places[side] = new Map(said.places.filter(([id, y]) => Number.isInteger(id) && Number.isFinite(y)).sort((a, b) => a[1] - b[1]));
        spots[side] = new Map(said.marks.filter(([n, y]) => Number.isInteger(n) && Number.isFinite(y)));
        heat(side, said.height);
      }
      if (said.ypomna === 'scrolled' && together && Number.isFinite(said.y)) {
        say(other(side), { ypomnaCompare: 'scroll', y: across(side, said.y + 200) - 200 });
      }
      if (said.ypomna === 'chosen') document.getElementById('change-' + (Number(said.n) + 1))?.focus();
      if (said.ypomna === 'pointed') pointedAt(said);
    });
    // Where along the page the changes lie.
    const heat = (side, height) => {
      const bar = frames[side].parentElement.querySelector('.heat');
      bar.replaceChildren(
        ...[...spots[side]].map(([n, y]) => {
          const spot = document.createElement('i'),
            item = document.getElementById('change-' + (n + 1));
          spot.style.top = 100 * Math.min(1, Math.max(0, y / Math.max(1, height))) + '%';
          spot.className = item ? item.dataset.kind + ' ' + item.dataset.weight : '';
          return spot;
        }),
      );
    };
    const go = n => {
      const side = spots.new.has(n) ? 'new' : 'old';
      for (const one of ['old', 'new']) say(one, { ypomnaCompare: 'go', n });
      if (!spots[other(side)].has(n) && spots[side].has(n))
        say(other(side), { ypomnaCompare: 'scroll', y: across(side, spots[side].get(n)) - 200 });
    };
    document.addEventListener('focusin', event => {
      const item = event.target.closest('[data-change]');
      document.querySelectorAll('[data-change].here').forEach(one => one.classList.toggle('here', one === item));
      if (item) {
        item.closest('details:not([open])')?.setAttribute('open', '');
        item.classList.add('here');
        go(Number(item.dataset.change));
      }
    });
    document.getElementById('together')?.addEventListener('change', event => {
      together = event.target.checked;
    });
    const dialog = document.getElementById('pass-over');
    const pointedAt = said => {
      for (const side of ['old', 'new']) say(side, { ypomnaCompare: 'point', on: false });
      dialog.querySelector('[name=selector]').value = String(said.selector ?? '').slice(0, 500);
      dialog.querySelector('[name=quote]').value = String(said.text ?? '').slice(0, 300);
      dialog.showModal();
    };
    document.addEventListener('click', event => {
      const passes = event.target.closest('[data-passes]');
      if (passes) pointedAt({ selector: passes.dataset.passes, text: passes.dataset.words });
      if (event.target.closest('[data-point]')) {
        tell(event.target.closest('[data-point]').dataset.point);
        for (const side of ['old', 'new']) say(side, { ypomnaCompare: 'point', on: true });
      }
    });
  }

  // A chronology: time runs downward; at one rail what the evidence speaks of, at the other when it was captured, a thread between both.
  const chronology = document.getElementById('chronology');
  if (chronology) {
    const entries = JSON.parse(document.getElementById('chronology-entries').textContent),
      pen = chronology.getContext('2d'),
      colour = name => getComputedStyle(document.documentElement).getPropertyValue(name).trim() || '#333';
    const days = entries.flatMap(([first, last, , , captured]) => [first, last, captured].filter(day => day !== null)),
      least = Math.min(...days) - 20,
      most = Math.max(...days) + 20;
    // Above all stands what the two rails are.
    const head = 24;
    let width = 0,
      height = 0,
      from = least,
      scale = 1,
      chosen = -1;
    const y = day => (day - from) * scale,
      iso = day => new Date(day * 864e5).toISOString().slice(0, 10);
    const fit = () => {
      const box = chronology.getBoundingClientRect(),
        dense = devicePixelRatio || 1;
      [width, height] = [box.width, box.height];
      chronology.width = width * dense;
      chronology.height = height * dense;
      pen.setTransform(dense, 0, 0, dense, 0, 0);
    };
    const ticks = () => {
      const all = [],
        step = scale * 365 < 60 ? Math.ceil(60 / (scale * 365)) * 12 : scale * 30 < 50 ? 12 : scale * 30 < 400 ? 1 : 0;
      if (!step) {
        for (let day = Math.ceil(from); y(day) < height; day += scale < 40 ? 7 : 1) all.push([day, iso(day)]);
        return all;
      }
      const begin = new Date(from * 864e5);
      for (let at = new Date(Date.UTC(begin.getUTCFullYear(), 0, 1)), n = 0; n < 600; n++, at.setUTCMonth(at.getUTCMonth() + step)) {
        const day = at / 864e5;
        if (y(day) > height) break;
        if (y(day) >= 0) all.push([day, at.toISOString().slice(0, step >= 12 ? 4 : 7)]);
      }
      return all;
    };
    const draw = () => {
      const [ink, soft, rule, green, red, leaf] = ['--ink', '--soft', '--rule', '--verdigris', '--rubric', '--leaf'].map(colour),
        left = Math.max(150, width * 0.2),
        right = width - 60;
      pen.clearRect(0, 0, width, height);
      pen.font = '12px system-ui, sans-serif';
      pen.textBaseline = 'middle';
      pen.lineWidth = 1;
      for (const [day, text] of ticks()) {
        pen.strokeStyle = rule;
        pen.beginPath();
        pen.moveTo(70, y(day));
        pen.lineTo(width, y(day));
        pen.stroke();
        pen.fillStyle = soft;
        pen.fillText(text, 4, y(day));
      }
      pen.strokeStyle = ink;
      for (const x of [left, right]) {
        pen.beginPath();
        pen.moveTo(x, 0);
        pen.lineTo(x, height);
        pen.stroke();
      }
      const lanes = [];
      let told = head - 8;
      entries.forEach(([first, last, about, unsure, captured, title], n) => {
        const top = first === null ? y(last) - 60 : y(first),
          bottom = last === null ? y(first) + 60 : y(last + 1),
          middle = first === null ? y(last) : last === null ? y(first) : (top + bottom) / 2;
        const far = captured === null ? middle : y(captured + 0.5);
        if (Math.max(bottom, far) < -20 || Math.min(top, far) > height + 20) return;
        const here = n === chosen;
        pen.lineWidth = here ? 2 : 1;
        if (captured !== null) {
          pen.strokeStyle = here ? red : green;
          pen.globalAlpha = here ? 1 : 0.35;
          pen.beginPath();
          pen.moveTo(left, middle);
          pen.bezierCurveTo(left + (right - left) * 0.6, middle, right - (right - left) * 0.4, far, right, far);
          pen.stroke();
          pen.globalAlpha = 1;
          pen.strokeRect(right - 3, far - 3, 6, 6);
        }
        pen.strokeStyle = pen.fillStyle = here ? red : ink;
        if (bottom - top > 9 || first === null || last === null) {
          // A stretch: whole where it is certain, hollow where it is about, fading where it is open.
          let lane = 0;
          while (lanes[lane] > top && lane < 8) lane++;
          lanes[lane] = bottom;
          const x = left - 8 - lane * 9;
          if (first === null || last === null) {
            const fade = pen.createLinearGradient(0, top, 0, bottom);
            fade.addColorStop(first === null ? 0 : 1, 'transparent');
            fade.addColorStop(first === null ? 1 : 0, here ? red : ink);
            pen.fillStyle = fade;
          }
          if (about) {
            pen.setLineDash([3, 3]);
            pen.strokeRect(x - 3, top, 6, bottom - top);
            pen.setLineDash([]);
          } else pen.fillRect(x - 3, top, 6, bottom - top);
        } else {
          pen.beginPath();
          pen.arc(left, middle, 4, 0, 7);
          if (about) pen.stroke();
          else pen.fill();
        }
        pen.fillStyle = here ? red : ink;
        if (here || middle - told >= 15) {
          const text = (about ? '≈ ' : '') + title + (unsure ? ' ?' : '');
          pen.lineWidth = 4;
          pen.strokeStyle = leaf;
          pen.strokeText(text, left + 10, middle, Math.max(60, right - left - 90));
          pen.fillText(text, left + 10, middle, Math.max(60, right - left - 90));
          told = Math.max(told, middle);
        }
      });
      pen.fillStyle = leaf;
      pen.fillRect(0, 0, width, head);
      pen.fillStyle = soft;
      pen.fillText(chronology.dataset.spoken, left + 10, 10);
      const words = chronology.dataset.captured;
      pen.fillText(words, right - pen.measureText(words).width - 10, 10);
    };
    let waiting = 0;
    const again = () => {
      cancelAnimationFrame(waiting);
      waiting = requestAnimationFrame(draw);
    };
    const whole = () => {
      scale = (height - head) / Math.max(1, most - least);
      from = least - head / scale;
      again();
    };
    const zoom = (by, at) => {
      const day = from + at / scale;
      scale = Math.min(60, Math.max(height / (most - least) / 2, scale * by));
      from = day - at / scale;
      again();
    };
    const choose = n => {
      chosen = Math.min(entries.length - 1, Math.max(0, n));
      const [first, last] = entries[chosen],
        day = first ?? last;
      if (y(day) < 30 || y(day) > height - 30) from = day - height / scale / 2;
      tell(entries[chosen][5]);
      document.querySelectorAll('.chronicle .here').forEach(one => one.classList.remove('here'));
      document.getElementById('entry-' + chosen)?.classList.add('here');
      again();
    };
    const open = n => {
      location.href = chronology.dataset.item.replace('CODE', entries[n][6]);
    };
    const near = event => {
      const at = event.clientY - chronology.getBoundingClientRect().top;
      let found = -1,
        best = 12;
      entries.forEach(([first, last], n) => {
        const away = Math.abs(y(first === null ? last : last === null ? first : (first + last + 1) / 2) - at);
        if (away < best) [found, best] = [n, away];
      });
      return found;
    };
    chronology.addEventListener(
      'wheel',
      event => {
        event.preventDefault();
        zoom(event.deltaY < 0 ? 1.2 : 1 / 1.2, event.clientY - chronology.getBoundingClientRect().top);
      },
      { passive: false },
    );
    let held = null;
    chronology.addEventListener('pointerdown', event => {
      held = [event.clientY, from, false];
      chronology.setPointerCapture(event.pointerId);
    });
    chronology.addEventListener('pointermove', event => {
      if (!held) return;
      held[2] = held[2] || Math.abs(event.clientY - held[0]) > 4;
      from = held[1] - (event.clientY - held[0]) / scale;
      again();
    });
    chronology.addEventListener('pointerup', event => {
      const found = held && !held[2] ? near(event) : -1;
      held = null;
      if (found >= 0) choose(found);
    });
    chronology.addEventListener('dblclick', event => {
      const found = near(event);
      if (found >= 0) open(found);
    });
    chronology.addEventListener('keydown', event => {
      const act = {
        '+': () => zoom(1.4, height / 2),
        '-': () => zoom(1 / 1.4, height / 2),
        0: whole,
        ArrowDown: () => choose(chosen + 1),
        ArrowUp: () => choose(chosen - 1),
        Home: () => choose(0),
        End: () => choose(entries.length - 1),
        PageDown: () => {
          from += (height / scale) * 0.8;
          again();
        },
        PageUp: () => {
          from -= (height / scale) * 0.8;
          again();
        },
        Enter: () => chosen >= 0 && open(chosen),
      }[event.key];
      if (!act || event.altKey || event.ctrlKey || event.metaKey) return;
      event.preventDefault();
      event.stopPropagation();
      act();
    });
    addEventListener('resize', () => {
      fit();
      again();
    });
    matchMedia('(prefers-color-scheme: dark)').addEventListener('change', again);
    fit();
    whole();
  }
})();
