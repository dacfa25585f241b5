/** What is so of a page: whether it is held, how often, and what became of it since. */
import { ask, code, Refused } from './server.js';

/** How pages that are gone call themselves, in some languages. */
const WORDS = [
  '\\b(?:404|410)\\b',
  'not found',
  'no longer (?:available|exists)',
  'page (?:is )?(?:gone|missing)',
  'nicht (?:mehr )?gefunden',
  'introuvable',
  'no encontrad',
  'non trovat',
  'δεν βρέθηκε',
  'не найден',
  '見つかりません',
  '找不到',
];
const GONE = new RegExp(WORDS.join('|'), 'i');

/** Whether a page that answers looks like one that is gone: by its status, or by what it calls itself. */
export function looksGone(facts) {
  const status = facts?.seen?.status;
  return (
    status === 404 ||
    status === 410 ||
    (!(status >= 200 && status < 300) && GONE.test(facts?.title ?? '')) ||
    (GONE.test(facts?.title ?? '') && (facts?.text ?? '').length < 1_500)
  );
}

/** @returns {Promise<{held: number, last: string|null, lastAlive: string|null, address: string|null, capture: string|null}>} */
export async function heldOf(to, url) {
  const { said } = await ask(to, 'GET', `/api/addresses?url=${encodeURIComponent(plain(url))}`, { seconds: 10 });
  const held = Number.isSafeInteger(said?.held) && said.held > 0 ? said.held : 0;
  return {
    held,
    last: moment(said?.last),
    lastAlive: moment(said?.lastAlive),
    address: code(said?.code),
    capture: null,
  };
}

/** The last capture of an address, and the last one alive. */
export async function capturesOf(to, address) {
  const { said } = await ask(to, 'GET', `/api/addresses/${address}/captures?limit=50`, { seconds: 10 });
  const list = (Array.isArray(said?.items) ? said.items : [])
    .map(one => ({
      code: code(one?.code),
      status: Number(one?.status),
      at: moment(one?.capturedAt),
    }))
    .filter(one => one.code && one.at);
  return { last: list[0] ?? null, alive: list.find(one => one.status >= 200 && one.status < 300) ?? null };
}

/**
 * Whether what is read here is what was captured last: which share of its words is another.
 *
 * @returns {Promise<number|null>} null if that cannot be told
 */
export async function differs(to, capture, text) {
  try {
    const { said } = await ask(to, 'GET', `/c/${capture}/text`, { seconds: 10 });
    return typeof said === 'string' ? share(said, text) : null;
  } catch (error) {
    if (error instanceof Refused) {
      return null;
    }
    throw error;
  }
}

/** Share of words that only one of two texts has. */
export function share(one, other) {
  const count = text => {
    const words = new Map();
    for (const word of text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []) {
      words.set(word, (words.get(word) ?? 0) + 1);
    }
    return words;
  };
  const [a, b] = [count(one), count(other)];
  let [apart, all] = [0, 0];
  for (const word of new Set([...a.keys(), ...b.keys()])) {
    apart += Math.abs((a.get(word) ?? 0) - (b.get(word) ?? 0));
    all += Math.max(a.get(word) ?? 0, b.get(word) ?? 0);
  }
  return all === 0 ? 0 : apart / all;
}

/** As it is asked for: without its fragment. */
export function plain(url) {
  const address = new URL(url);
  address.hash = '';
  return address.href;
}

/**
 * Whether an address is held, without saying which one it is: five digits of its digest are told, and the rest is looked up here.
 *
 * @returns {Promise<{held: number, last: string|null}|null>}
 */
export async function heldByPrefix(to, url) {
  const digest = await crypto.subtle.digest('SHA-256', new TextEncoder().encode(plain(url)));
  const hex = [...new Uint8Array(digest)].map(byte => byte.toString(16).padStart(2, '0')).join('');
  const { said } = await ask(to, 'GET', `/api/held/${hex.slice(0, 5)}`, { seconds: 10 });
  const found = (Array.isArray(said?.items) ? said.items : []).find(one => one?.rest === hex.slice(5));
  return found ? { held: Number(found.held) || 0, last: moment(found.last) } : null;
}

function moment(value) {
  return typeof value === 'string' && !Number.isNaN(Date.parse(value)) ? value : null;
}
