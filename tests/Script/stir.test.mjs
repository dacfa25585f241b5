import assert from 'node:assert/strict';
import { test } from 'node:test';
import { run, until } from './help.mjs';

/** A page in which the script waits for what is due. */
function page() {
  const { window, document } = run('<!doctype html><body></body>', 'capture-stir.js', {
    change: text => text.replace('})(ASK);', '})("ask");'),
  });
  const ask = () => {
    let said = null;
    document.addEventListener('ask!', event => (said = JSON.parse(event.detail)), { once: true });
    document.dispatchEvent(new window.Event('ask?'));
    return said;
  };
  return { window, document, ask };
}

test('a timer is due until it has fired or was taken back', async () => {
  const { window, ask } = page();
  assert.deepEqual(ask().due, []);
  let fired = 0;
  window.setTimeout(() => fired++, 40);
  const back = window.setTimeout(() => fired++, 5000);
  assert.equal(ask().due.length, 2);
  window.clearTimeout(back);
  assert.equal(ask().due.length, 1);
  assert.ok(await until(() => fired === 1));
  assert.deepEqual(ask().due, []);
});

test('a timer that changes nothing again and again is no longer waited for; one that adds something is', async () => {
  const { window, document, ask } = page();
  let ticks = 0;
  const idle = window.setInterval(() => ticks++, 5);
  assert.deepEqual(ask().repeats, [5]);
  assert.ok(await until(() => ticks > 8));
  assert.deepEqual(ask().repeats, []);
  window.clearInterval(idle);
  window.setInterval(() => document.body.append(document.createElement('p')), 20);
  assert.ok(await until(() => document.querySelectorAll('p').length > 8));
  assert.deepEqual(ask().repeats, [20]);
});

test('a page that was changed is not still', async () => {
  const { document, ask } = page();
  assert.equal(ask().still, 1e6);
  document.body.append('Tide table');
  assert.ok(await until(() => ask().still < 1e6));
});

test('a clock that is set again and again is the same passage after three times', async () => {
  const { window, document, ask } = page();
  document.body.innerHTML = '<p>0</p>';
  const clock = document.querySelector('p').firstChild;
  await until(() => ask().still < 1e6);
  for (let n = 1; n < 6; n++) {
    clock.data = String(n);
    await new Promise(done => window.setTimeout(done, 5));
  }
  const still = ask().still;
  clock.data = '9';
  await new Promise(done => window.setTimeout(done, 5));
  assert.ok(ask().still > still, 'the ninth hour is no change');
});

test('what a page asks for an answer under another name is not answered', () => {
  const { window, document } = page();
  let heard = 0;
  document.addEventListener('other!', () => heard++);
  document.dispatchEvent(new window.Event('other?'));
  assert.equal(heard, 0);
});
