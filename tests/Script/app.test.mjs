import assert from 'node:assert/strict';
import { test } from 'node:test';
import { run, until } from './help.mjs';

const page = body => `<!doctype html><html lang="en"><body data-copied="Copied">${body}<p id="told"></p></body></html>`;
const inPage = (body, before) =>
  run(page(body), 'app.js', {
    before: window => {
      window.Element.prototype.scrollIntoView = () => {};
      before?.(window);
    },
  });
const press = (window, key, more = {}) =>
  window.document.activeElement.dispatchEvent(new window.KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }));

test('the keys j and k go through a list and stop at its ends', () => {
  const { window, document } = inPage('<ul data-list><li data-item id=a tabindex=-1></li><li data-item id=b tabindex=-1></li></ul>');
  const went = ['j', 'j', 'j', 'k', 'k'].map(key => (press(window, key), document.activeElement.id));
  assert.deepEqual(went, ['a', 'b', 'b', 'a', 'a']);
});

test('a key means nothing where one writes, nor together with Control', () => {
  const { window, document } = inPage('<input id=q data-key="/"><textarea id=t></textarea>');
  press(window, '/', { ctrlKey: true });
  assert.equal(document.activeElement, document.body);
  press(window, '/');
  assert.equal(document.activeElement.id, 'q');
  document.getElementById('t').focus();
  press(window, '/');
  assert.equal(document.activeElement.id, 't');
});

test('x ticks the item that one is at, c presses the button for two, arrows follow their link', () => {
  const { window, document } = inPage(
    '<ul data-list><li data-item tabindex=-1><input type=checkbox></li></ul><button class=needs-two></button>' +
      '<a data-step="ArrowLeft" href="#l"></a>',
  );
  const clicked = [];
  document.addEventListener('click', event => clicked.push(event.target.localName));
  for (const key of ['j', 'x', 'c', 'ArrowLeft']) press(window, key);
  assert.equal(document.querySelector('input').checked, true);
  assert.deepEqual(clicked, ['input', 'button', 'a']);
});

test('a tag is added once', () => {
  const { document } = inPage(
    '<form><input name=tags value="Ferries, Rust"><button type=button data-adds=Rust></button>' +
      '<button type=button data-adds=Docks></button></form>',
  );
  const [rust, docks] = document.querySelectorAll('button');
  [rust, docks, docks].forEach(button => button.click());
  assert.equal(document.querySelector('input').value, 'Ferries, Rust, Docks');
});

test('what is copied is told, and the button says again what it does', async () => {
  const copied = [];
  const { window, document } = inPage('<button data-copy="sha256:1234">Copy</button>', own => {
    Object.defineProperty(own.navigator, 'clipboard', { value: { writeText: async text => copied.push(text) } });
  });
  const button = document.querySelector('button');
  button.click();
  assert.ok(await until(() => button.textContent === 'Copied'));
  assert.deepEqual(copied, ['sha256:1234']);
  assert.equal(document.getElementById('told').textContent, 'Copied');
  await new Promise(done => window.setTimeout(done, 1600));
  assert.equal(button.textContent, 'Copy');
});

test('a menu closes by Escape, which leads back to it, and by a press beside it', () => {
  const { window, document } = inPage('<details class=more open><summary>More</summary><a href="#x">Print</a></details><p id=beside></p>');
  const menu = document.querySelector('details');
  document.querySelector('a').focus();
  press(window, 'Escape');
  assert.equal(menu.open, false);
  assert.equal(document.activeElement.localName, 'summary');
  menu.open = true;
  document.querySelector('summary').dispatchEvent(new window.Event('click', { bubbles: true }));
  assert.equal(menu.open, true);
  document.getElementById('beside').click();
  assert.equal(menu.open, false);
});

test('how a page is captured has no place in the address of a look-up', async () => {
  const { document } = inPage(
    '<form class=onebox><input name=q><div class=how><input name=wait value=3></div><button id=find></button>' +
      '<button id=keep formmethod=post></button></form>',
  );
  const wait = document.querySelector('[name=wait]');
  const states = [];
  document.addEventListener('submit', event => {
    states.push([event.submitter.id, wait.disabled]);
    event.preventDefault();
  });
  // Browsers know it, this document does not.
  Object.defineProperty(document.getElementById('keep'), 'formMethod', { value: 'post' });
  document.getElementById('find').click();
  assert.ok(await until(() => !wait.disabled));
  document.getElementById('keep').click();
  assert.deepEqual(states, [
    ['find', true],
    ['keep', false],
  ]);
});

test('a file that was broken off goes on where it stood, each piece with its digest; what fails is told by name', async () => {
  const asked = [];
  const answers = {
    'POST /import': { code: 'abc', there: 3 },
    'PUT /import/abc/3': { there: 8 },
  };
  const { window, document } = inPage(
    '<form data-arrivals="/import" data-token="t0ken" data-report="/import/report"><input type=file id=files></form>' +
      '<p id=sending></p><div id=arrivals></div>',
    own => {
      own.htmx = { ajax: (...given) => asked.push(given.slice(0, 2).join(' ')) };
      own.Blob.prototype.arrayBuffer ??= function () {
        return new Promise(done => {
          const reader = new own.FileReader();
          reader.onload = () => done(reader.result);
          reader.readAsArrayBuffer(this);
        });
      };
      own.fetch = async (path, options) => {
        const name = options.body?.get?.('name');
        asked.push(
          [options.method, path, options.headers['X-Token'], options.body?.byteLength, options.headers['X-Piece-Sha256']?.length].join(' '),
        );
        if (name === 'bad.warc') return { ok: false, json: async () => ({ error: 'The disk is full.' }) };
        return { ok: true, json: async () => answers[`${options.method} ${path}`] };
      };
    },
  );
  const drop = new window.Event('drop', { bubbles: true, cancelable: true });
  drop.dataTransfer = { files: [new window.File(['abcdefgh'], 'good.warc'), new window.File(['x'], 'bad.warc')] };
  document.dispatchEvent(drop);
  assert.ok(
    await until(() => document.getElementById('sending').textContent === 'bad.warc: The disk is full.'),
    document.getElementById('sending').textContent,
  );
  const digest = asked.find(one => one.startsWith('PUT')).endsWith(' 64') ? ' 64' : ' ';
  assert.deepEqual(asked, [
    'POST /import t0ken  ',
    'PUT /import/abc/3 t0ken 5' + digest,
    'GET /import/report',
    'POST /import t0ken  ',
    'GET /import/report',
  ]);
});
