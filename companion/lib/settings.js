/** What is remembered: where Ypomna is, the way in, and the answers that were given last. */
import { api } from './browser.js';

const USUAL = {
  server: null,
  token: null,
  person: null,
  until: null,
  answers: { as: 'evidence', how: 'both', dossier: null, tags: [] },
  asks: false,
};

export async function settings() {
  return { ...USUAL, ...(await api.storage.local.get(Object.keys(USUAL))) };
}

export async function remember(some) {
  await api.storage.local.set(some);
}

export async function forgetPairing() {
  await api.storage.local.remove(['server', 'token', 'person', 'until', 'asks']);
}
