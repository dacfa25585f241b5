/**
 * Asks Ypomna. It may be somebody else who answers there: nothing is followed, no address is taken from an answer, every answer is
 * bounded in size and time, and only what has the form that is wanted is taken from it.
 */
const MOST = 4_000_000;
const SECONDS = 30;
const CODE = /^[2-9a-hjkmnp-z]{12}$/;

export class Refused extends Error {
  /**
   * @param {number} status 0 where nobody answered
   * @param {string} said a sentence, if the server had one
   */
  constructor(status, said = '') {
    super(said || `status ${status}`);
    this.status = status;
    this.said = said;
  }

  /** Whether it may be otherwise a while later. */
  get passes() {
    return this.status === 0 || this.status === 401 || this.status === 408 || this.status === 429 || this.status >= 500;
  }
}

/**
 * @param {{server: string, token?: string}} to
 * @param {{json?: object, body?: Blob, fields?: Record<string, string>, seconds?: number}} more
 * @returns {Promise<{status: number, said: any, head: Headers}>}
 */
export async function ask(to, method, path, more = {}) {
  const address = new URL(path, to.server);
  if (address.origin !== new URL(to.server).origin) {
    throw new Refused(0, '');
  }
  const fields = { ...(to.token ? { Authorization: `Bearer ${to.token}` } : {}), ...more.fields };
  if (more.json !== undefined) {
    fields['Content-Type'] = 'application/json';
  }
  let answer;
  let said;
  try {
    answer = await fetch(address, {
      method,
      headers: fields,
      body: more.json !== undefined ? JSON.stringify(more.json) : more.body,
      redirect: 'error',
      credentials: 'omit',
      cache: 'no-store',
      referrerPolicy: 'no-referrer',
      signal: AbortSignal.timeout((more.seconds ?? SECONDS) * 1_000),
    });
    said = await bounded(answer);
  } catch (error) {
    throw error instanceof Refused ? error : new Refused(0);
  }
  if (!answer.ok) {
    throw new Refused(answer.status, sentence(said));
  }
  return { status: answer.status, said, head: answer.headers };
}

/** A code out of an answer; null if it is none. */
export function code(value) {
  return typeof value === 'string' && CODE.test(value) ? value : null;
}

/** The code at the end of where an answer leads. */
export function codeOf(head) {
  return code((head.get('Location') ?? '').split('/').pop());
}

export function place(to, path) {
  return new URL(path, to.server).href;
}

async function bounded(answer) {
  const type = answer.headers.get('Content-Type') ?? '';
  if (!answer.body) {
    return null;
  }
  const reader = answer.body.getReader();
  const pieces = [];
  let length = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) {
      break;
    }
    length += value.length;
    if (length > MOST) {
      await reader.cancel();
      throw new Refused(502);
    }
    pieces.push(value);
  }
  const words = await new Blob(pieces).text();
  if (words === '' || !/\bjson\b/.test(type)) {
    return words;
  }
  try {
    return JSON.parse(words);
  } catch {
    throw new Refused(502);
  }
}

function sentence(said) {
  const first = said?.errors?.[0]?.detail ?? said?.error ?? said?.detail ?? '';
  return typeof first === 'string' ? first.slice(0, 300) : '';
}
