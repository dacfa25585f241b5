/**
 * Hands over what waits. Each record has steps; a step that is done is written down before the next is begun, and each request can be
 * repeated: so whoever is cut off anywhere goes on from there.
 */
import { settings } from './settings.js';
import { ask, code, codeOf, Refused } from './server.js';
import { all, change, remove } from './waiting.js';

const PIECE = 1_000_000;
const OFFSET = 'application/offset+octet-stream';
/** How long a copy waits for the capture of the same act, in milliseconds. */
const TOGETHER = 180_000;
const POLL = 1_500;

let running = null;

/** @param {(record: object) => void} told each time that something of a record is otherwise */
export function handOver(told) {
  running ??= run(told).finally(() => {
    running = null;
  });
  return running;
}

async function run(told) {
  for (let again = true, turns = 0; again && turns < 400; ++turns) {
    again = false;
    const to = await settings();
    if (!to.token) {
      return;
    }
    for (const record of await all()) {
      if (record.state !== 'waits' || (record.notBefore ?? 0) > Date.now()) {
        continue;
      }
      try {
        again = (await advance(to, record)) || again;
      } catch (error) {
        await stumble(record, error);
      }
      told(record);
    }
    if (again) {
      await new Promise(done => setTimeout(done, POLL));
    }
  }
}

/** Who failed stays, and says why. What passes is tried again, later and later. */
async function stumble(record, error) {
  const passes = error instanceof Refused ? error.passes : true;
  record.failed = (record.failed ?? 0) + 1;
  record.why =
    error instanceof Refused ? { status: error.status, said: error.said } : { status: -1, said: String(error?.message ?? error) };
  record.notBefore = Date.now() + Math.min(3_600_000, 5_000 * 2 ** Math.min(10, record.failed));
  if (!passes) {
    record.state = 'failed';
  }
  await save(record);
}

/** Writes down what came of a step. While its copy is made, that is not ours. */
async function save(record, step = null) {
  await change(record.id, now => {
    Object.assign(now, { state: record.state, failed: record.failed, why: record.why, notBefore: record.notBefore });
    if (step !== null) {
      now.steps[step] = record.steps[step];
    }
  });
}

/** @returns {Promise<boolean>} whether something of it is still under way at the server */
async function advance(to, record) {
  const { server, copy, item } = record.steps;
  if (server && !server.job) {
    const answer = await ask(to, 'POST', '/api/captures', {
      json: { url: record.url, extent: record.extent, ...(record.part ? { part: record.part } : {}), ...said(record) },
      fields: { 'Idempotency-Key': `${record.id}-server-${record.again ?? 0}` },
    });
    server.job = codeOf(answer.head) ?? code(answer.said?.job) ?? lost();
    await save(record, 'server');
  }
  if (server && !server.over) {
    await look(to, server);
    await save(record, 'server');
  }
  if (copy?.file && !copy.making && !copy.job) {
    const patient = server && !server.over && Date.now() - Date.parse(record.at) < TOGETHER;
    await upload(to, record, copy, patient);
    if (!copy.job) {
      return true;
    }
  }
  if (copy?.job && !copy.over) {
    await look(to, copy);
    await save(record, 'copy');
  }
  if (item && !item.code) {
    const answer = await ask(to, 'POST', '/api/items', {
      json: item.wish,
      fields: { 'Idempotency-Key': `${record.id}-item-${record.again ?? 0}` },
    });
    item.code = codeOf(answer.head) ?? code(answer.said?.code) ?? lost();
    await save(record, 'item');
  }
  const holder = (copy?.over && copy.capture) || (server?.over && server.capture) || null;
  const pending = (server && !server.over) || (copy && !copy.over);
  if (item?.passage && !item.linked && !pending) {
    if (holder) {
      await ask(to, 'POST', `/api/items/${item.code}/links`, {
        json: { to: holder, passage: item.passage },
        fields: { 'Idempotency-Key': `${record.id}-link-${record.again ?? 0}` },
      });
    }
    item.linked = true;
    await save(record, 'item');
  }
  if (pending) {
    return true;
  }
  const failed = [server, copy].filter(one => one?.state === 'failed');
  if (failed.length > 0 && failed.length === [server, copy].filter(Boolean).length) {
    record.state = 'failed';
    record.why = { status: 0, said: '', reason: failed[0].reason };
  } else {
    record.state = 'kept';
  }
  // The bytes are there now; what became of them is still told.
  if (copy && record.state === 'kept') {
    copy.file = copy.picture = null;
  }
  await save(record, copy ? 'copy' : null);
  if (record.state === 'kept') {
    await forgetOld();
  }
  return false;
}

function said(record) {
  const { title, why, tags, dossier, due } = record.wish;
  return {
    ...(title ? { title } : {}),
    ...(why ? { why } : {}),
    ...(tags.length > 0 ? { tags } : {}),
    ...(dossier ? { dossier } : {}),
    ...(due ? { due } : {}),
  };
}

function lost() {
  throw new Refused(502);
}

async function look(to, step) {
  const { said: job } = await ask(to, 'GET', `/api/jobs/${step.job}`);
  step.stage = typeof job?.stage === 'string' ? job.stage.slice(0, 40) : null;
  if (job?.state === 'kept' || job?.state === 'failed') {
    step.over = true;
    step.state = job.state;
    step.capture = code(job.capture);
    step.item = code(job.item);
    step.verdict = ['whole', 'gaps', 'failed'].includes(job.verdict) ? job.verdict : null;
    step.reason = typeof job.reason === 'string' ? job.reason.slice(0, 60) : null;
  }
}

async function upload(to, record, copy, patient) {
  const fields = {
    ...said(record),
    seenBy: 'browser',
    url: record.url,
    capturedAt: record.at,
    seen: copy.seen,
    missing: copy.missing,
    ...(copy.part ? { part: copy.part } : {}),
    ...(record.steps.server?.job ? { with: record.steps.server.job } : {}),
  };
  if (copy.picture && !copy.pictureUpload) {
    copy.pictureUpload = await sent(to, record, copy, 'picture', copy.picture, 'picture.png', { beside: true }, false);
    if (!copy.pictureUpload) {
      return;
    }
    await save(record, 'copy');
  }
  if (copy.pictureUpload) {
    fields.picture = copy.pictureUpload;
  }
  copy.job = await sent(to, record, copy, 'file', copy.file, copy.name, fields, patient);
  await save(record, 'copy');
}

/**
 * @param {boolean} patient whether the last piece stays here for now
 * @returns {Promise<string|null>} the code of the upload when all of it is there; null while the last piece stays here
 */
async function sent(to, record, copy, which, blob, name, fields, patient) {
  const key = `${which}Begun`;
  if (!copy[key]) {
    const digest = await crypto.subtle.digest('SHA-256', await blob.arrayBuffer());
    const sha256 = [...new Uint8Array(digest)].map(byte => byte.toString(16).padStart(2, '0')).join('');
    const answer = await ask(to, 'POST', '/api/arrivals/upload', { json: { name, bytes: blob.size, sha256, fields } });
    copy[key] = codeOf(answer.head) ?? lost();
    await save(record, 'copy');
  }
  const path = `/api/arrivals/upload/${copy[key]}`;
  let at;
  try {
    at = Number((await ask(to, 'HEAD', path)).head.get('Upload-Offset'));
  } catch (error) {
    if (!(error instanceof Refused) || error.status !== 404) {
      throw error;
    }
    // All of it came, and its answer was lost; or it was given up there, and begins again.
    const job = await ask(to, 'GET', `/api/jobs/${copy[key]}`).catch(() => null);
    if (job) {
      return copy[key];
    }
    copy[key] = null;
    await save(record, 'copy');
    throw new Refused(0);
  }
  if (!Number.isSafeInteger(at) || at < 0 || at > blob.size) {
    lost();
  }
  while (at < blob.size) {
    const next = Math.min(blob.size, at + PIECE);
    if (patient && next === blob.size) {
      return null;
    }
    const answer = await ask(to, 'PATCH', path, {
      body: blob.slice(at, next),
      fields: { 'Content-Type': OFFSET, 'Upload-Offset': String(at) },
      seconds: 120,
    });
    const there = Number(answer.head.get('Upload-Offset'));
    if (!Number.isSafeInteger(there) || there <= at) {
      lost();
    }
    at = there;
  }
  return copy[key];
}

/** What is over is told for a week, at most fifty of them. */
async function forgetOld() {
  const over = (await all()).filter(one => one.state === 'kept').reverse();
  for (const [n, one] of over.entries()) {
    if (n >= 50 || Date.now() - Date.parse(one.at) > 7 * 86_400_000) {
      await remove(one.id);
    }
  }
}
