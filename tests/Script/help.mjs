// A document without a browser, in which one of our scripts runs as it is delivered.
import { readFileSync } from 'node:fs';
import { afterEach } from 'node:test';
import { JSDOM, VirtualConsole } from 'jsdom';

const open = [];
afterEach(() => open.splice(0).forEach(window => window.close()));

const source = name => readFileSync(new URL(`../../assets/${name}`, import.meta.url), 'utf8');

export function run(html, script, { url = 'http://ypomna.test/', before = () => {}, change = text => text } = {}) {
  const broken = [];
  const told = new VirtualConsole();
  told.on('jsdomError', problem => broken.push(problem));
  const { window } = new JSDOM(html, { url, runScripts: 'outside-only', pretendToBeVisual: true, virtualConsole: told });
  open.push(window);
  before(window);
  window.eval(change(source(script)));
  return { window, document: window.document, broken };
}

/** Waits until it is so, at most a second. */
export async function until(is) {
  for (let n = 0; n < 100 && !is(); n++) await new Promise(done => setTimeout(done, 10));
  return is();
}
