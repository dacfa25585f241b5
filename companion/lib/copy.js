/** Makes the copy of a page as it is seen here: its file, how it looks, and what the browser saw of the answer. */
import { inPage, pageAsFile, seen, text } from './browser.js';
import { beginPictures, endPictures, facts, fieldsOfAnswer, loadAll, showPiece } from './inpage.js';

/** The longest side of a picture, in pixels, and the most pieces it is put together from. */
const LONGEST = 16_000;
const MOST_PIECES = 24;
/** Browsers give two pictures a second. */
const PAUSE = 520;

export async function factsOf(target) {
  return (await inPage(target, facts)).result;
}

/** What the browser holds of the server's answer: `{fields}`, or nothing, where it does not hold it. */
export async function answerOf(target) {
  const fields = await inPage(target, fieldsOfAnswer).then(
    answer => answer.result,
    () => false,
  );
  return Array.isArray(fields) ? { fields: fields.map(([name, value]) => ({ name: String(name), value: String(value) })) } : {};
}

/** What is loaded by scrolling is loaded first. */
export async function load(target) {
  const { result } = await inPage(target, loadAll, [{ long: text('missing_long'), pictures: text('missing_pictures', '%') }]);
  return result.missing.filter(one => typeof one === 'string').slice(0, 20);
}

export { pageAsFile };

/**
 * How the page looks, from top to bottom.
 *
 * @param {number[]|null} box part of it, in pixels of the page: left, top, width, height
 * @param {() => Promise<boolean>} isThere whether the tab is still the one that is seen
 * @returns {Promise<{picture: Blob|null, missing: string[]}>}
 */
export async function picture(target, windowId, box, isThere) {
  const missing = [];
  const { result: page } = await inPage(target, beginPictures);
  try {
    const scale = Math.min(4, Math.max(0.25, page.scale));
    const from = box ? Math.max(0, box[1]) : 0;
    const whole = box ? Math.min(box[3], page.height - from) : page.height;
    const length = Math.min(whole, Math.floor(LONGEST / scale), page.view * MOST_PIECES);
    const left = box ? Math.max(0, Math.min(box[0], page.width - 1)) : 0;
    const width = Math.max(1, box ? Math.min(box[2], page.width - left) : page.width);
    if (length < whole - 1) {
      missing.push(text('missing_picture_end', Math.round(length)));
    }
    const canvas = new OffscreenCanvas(Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(length * scale)));
    const drawing = canvas.getContext('2d');
    let last = 0;
    for (let done = 0, n = 0; done < length && n < MOST_PIECES + 2; ++n) {
      const { result: at } = await inPage(target, showPiece, [from + done, n === 0]);
      await new Promise(go => setTimeout(go, Math.max(0, last + PAUSE - Date.now())));
      if (!(await isThere())) {
        return { picture: null, missing: [...missing, text('missing_picture')] };
      }
      last = Date.now();
      const piece = await createImageBitmap(await seen(windowId));
      if (!(await isThere())) {
        return { picture: null, missing: [...missing, text('missing_picture')] };
      }
      const skip = Math.round((from + done - at.top) * scale);
      const rows = Math.min(piece.height - skip, Math.round((length - done) * scale));
      if (rows <= 0) {
        break;
      }
      const across = Math.min(Math.round(width * scale), piece.width - Math.round(left * scale));
      drawing.drawImage(piece, Math.round(left * scale), skip, across, rows, 0, Math.round(done * scale), across, rows);
      piece.close();
      done += rows / scale;
    }
    return { picture: await canvas.convertToBlob({ type: 'image/png' }), missing };
  } finally {
    await inPage(target, endPictures).catch(() => {});
  }
}
