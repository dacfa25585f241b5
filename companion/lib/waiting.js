/** What waits to be handed over: kept in the browser until Ypomna has answered. A browser that is closed loses nothing of it. */
const NAME = 'ypomna';
const STORE = 'waiting';

function opened() {
  return new Promise((done, failed) => {
    const asked = indexedDB.open(NAME, 1);
    asked.onupgradeneeded = () => asked.result.createObjectStore(STORE, { keyPath: 'id' });
    asked.onsuccess = () => done(asked.result);
    asked.onerror = () => failed(asked.error);
  });
}

async function within(mode, act) {
  const database = await opened();
  try {
    return await new Promise((done, failed) => {
      const transaction = database.transaction(STORE, mode, { durability: 'strict' });
      const asked = act(transaction.objectStore(STORE));
      transaction.oncomplete = () => done(asked.result);
      transaction.onerror = () => failed(transaction.error);
      transaction.onabort = () => failed(transaction.error);
    });
  } finally {
    database.close();
  }
}

export const put = record => within('readwrite', store => store.put(record));
export const get = id => within('readonly', store => store.get(id));
export const remove = id => within('readwrite', store => store.delete(id));

/**
 * Changes one as it is now: whoever makes its copy and whoever hands it over write to it at the same time, each what is theirs.
 *
 * @param {(record: object) => void} act
 * @returns {Promise<object|null>} null if it was thrown away
 */
export async function change(id, act) {
  let changed = null;
  await within('readwrite', store => {
    const asked = store.get(id);
    asked.onsuccess = () => {
      if (asked.result) {
        changed = asked.result;
        act(changed);
        store.put(changed);
      }
    };
    return asked;
  });
  return changed;
}

/** In the order in which they were kept. */
export async function all() {
  const records = await within('readonly', store => store.getAll());
  return records.sort((a, b) => a.at.localeCompare(b.at));
}
