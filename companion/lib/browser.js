/** What differs between browsers stands here, and nowhere else. */

export const api = globalThis.browser ?? globalThis.chrome;

/** No page, and no script of ours in a page, reads what is stored: the token is there. */
export async function closeStorage() {
  await api.storage.local.setAccessLevel?.({ accessLevel: 'TRUSTED_CONTEXTS' });
}

/**
 * The page of a tab as its browser writes it into a file (RFC 2557).
 *
 * @returns {Promise<Blob|null>} null where the browser cannot
 */
export async function pageAsFile(tabId) {
  if (!api.pageCapture) {
    return null;
  }
  // The browser writes it into a file of its own, which it may have taken away before that can be read: then it writes another one.
  for (let tries = 1; ; ++tries) {
    const file = await api.pageCapture.saveAsMHTML({ tabId });
    if (!file) {
      return null;
    }
    try {
      const late = new Promise((done, failed) => setTimeout(() => failed(new Error('late')), 20_000));
      return new Blob([await Promise.race([file.arrayBuffer(), late])], { type: 'multipart/related' });
    } catch (error) {
      if (tries === 6) {
        throw error;
      }
    }
  }
}

/** What is seen of the active tab of a window, as a picture. */
export async function seen(windowId) {
  const data = await api.tabs.captureVisibleTab(windowId, { format: 'png' });
  return new Blob([Uint8Array.from(atob(data.slice(data.indexOf(',') + 1)), one => one.charCodeAt(0))], { type: 'image/png' });
}

/** Runs a function in a page, apart from the page's own scripts. Fails where no script may run. */
export async function inPage(target, func, args = []) {
  const [answer] = await api.scripting.executeScript({ target, func, args });
  if (answer === undefined || answer.result === undefined) {
    throw new Error('no-page');
  }
  return answer;
}

/** How the browser is called, for the list of paired browsers. */
export function browserName() {
  const brands = globalThis.navigator?.userAgentData?.brands?.map(one => one.brand) ?? [];
  return brands.find(one => !/not.?a.?brand/i.test(one) && one !== 'Chromium') ?? brands.find(one => one === 'Chromium') ?? 'Browser';
}

export function text(key, ...values) {
  return api.i18n.getMessage(key, values.map(String)) || key;
}

export function day(moment) {
  return new Intl.DateTimeFormat(undefined, { day: 'numeric', month: 'short', year: 'numeric' }).format(new Date(moment));
}

/** A page of ours, for a tab. The address that a page of the web could be shown is another one, and holds for this session alone. */
export function ownPage(path) {
  return new URL(path, `${self.location.origin}/`).href;
}
