import assert from 'node:assert/strict';
import { createServer } from 'node:http';
import { after, before, test } from 'node:test';
import { heldByPrefix, heldOf, looksGone, plain, share } from '../../companion/lib/held.js';
import { ask, code, codeOf, Refused } from '../../companion/lib/server.js';

// What of the companion needs no browser.
let server, to, answer;
before(async () => {
  server = createServer((request, response) => answer(request, response));
  await new Promise(done => server.listen(0, '127.0.0.1', done));
  to = { server: `http://127.0.0.1:${server.address().port}/`, token: 'secret' };
});
after(() => server.close());

const says = (said, fields = {}, status = 200) => {
  answer = (request, response) =>
    response
      .writeHead(status, { 'Content-Type': 'application/json', ...fields })
      .end(typeof said === 'string' ? said : JSON.stringify(said));
};

test('pages that are gone are recognised by their status and by what they call themselves', () => {
  const page = (status, title, text = 'x'.repeat(5_000)) => ({ seen: { status }, title, text });
  for (const one of [page(404, 'Notice'), page(410, ''), page(null, 'Seite nicht gefunden'), page(200, 'Page not found', 'Sorry.')])
    assert.equal(looksGone(one), true);
  for (const one of [page(200, 'Notice'), page(500, 'Notice'), page(200, 'What was not found in the ferry'), null])
    assert.equal(looksGone(one), false);
});

test('how far two texts are apart', () => {
  assert.equal(share('The door was checked.', 'the DOOR was checked'), 0);
  assert.equal(share('', ''), 0);
  assert.equal(share('a b c', 'd e f'), 1);
  assert.equal(share('one two three four', 'one two three five'), 2 / 5);
  assert.equal(share('η πόρτα', 'η πόρτα'), 0);
});

test('an address is asked for without its fragment, or by five digits of its digest', async () => {
  assert.equal(plain('http://lantern.test/a?x=1#part'), 'http://lantern.test/a?x=1');
  const asked = [];
  answer = (request, response) => {
    asked.push(request.url);
    response.writeHead(200, { 'Content-Type': 'application/json' });
    response.end(JSON.stringify({ items: [{ rest: 'f'.repeat(59), held: 1 }, null, { rest: 7 }] }));
  };
  assert.equal(await heldByPrefix(to, 'http://lantern.test/a#x'), null);
  assert.match(asked[0], /^\/api\/held\/[0-9a-f]{5}$/);
});

test('nothing of an answer is taken but what has its form', async () => {
  says({ held: '4', last: 'javascript:alert(1)', lastAlive: 7, code: '../../x' });
  assert.deepEqual(await heldOf(to, 'http://lantern.test/'), { held: 0, last: null, lastAlive: null, address: null, capture: null });
  assert.equal(code('abcdefghjkmn'), 'abcdefghjkmn');
  for (const wrong of ['abcdefghjkm', 'ABCDEFGHJKMN', 'abcdefghjkmn/', '../../../../', null, {}]) assert.equal(code(wrong), null);
  assert.equal(codeOf(new Headers({ Location: 'http://evil.test/api/jobs/abcdefghjkmn' })), 'abcdefghjkmn');
});

test('the token goes to the paired address alone', async () => {
  for (const path of ['http://evil.test/x', '//evil.test/x', 'https://127.0.0.1:1/']) await assert.rejects(ask(to, 'GET', path), Refused);
  answer = (request, response) => response.writeHead(302, { Location: 'http://evil.test/' }).end();
  await assert.rejects(ask(to, 'GET', '/api/me'), error => error instanceof Refused && error.status === 0);
});

test('what is refused says why, and what passes is told from what does not', async () => {
  says({ errors: [{ pointer: '/url', detail: 'No such host.' }] }, {}, 422);
  await assert.rejects(ask(to, 'POST', '/api/captures', { json: {} }), error => error.said === 'No such host.' && !error.passes);
  for (const [status, passes] of [
    [429, true],
    [503, true],
    [401, true],
    [403, false],
    [404, false],
  ]) {
    says('', {}, status);
    await assert.rejects(ask(to, 'GET', '/api/me'), error => error.passes === passes);
  }
  says('{"half":', {});
  await assert.rejects(ask(to, 'GET', '/api/me'), error => error.status === 502);
  says('');
  assert.equal((await ask(to, 'HEAD', '/api/me')).said, null);
});

test('an answer without an end is cut off', async () => {
  answer = (request, response) => {
    response.writeHead(200, { 'Content-Type': 'application/json' });
    const more = setInterval(() => response.write('x'.repeat(500_000)), 1);
    response.on('close', () => clearInterval(more));
  };
  await assert.rejects(ask(to, 'GET', '/api/tags'), error => error.status === 502);
});
