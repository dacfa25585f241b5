import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('../..', import.meta.url));
export const notice = 'http://www.saltmarch-ferries.test/safety/stern-door';

/** A command of bin/ypomna on the demo that is being tested; gives what it printed. */
export function ypomna(...words) {
  return execFileSync('php', [root + 'bin/ypomna', ...words], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'inherit'] });
}

export const setClock = moment => ypomna('standin:clock', moment);

/** Opens what is held of an address. */
export async function lookUp(page, address) {
  await page.goto('/');
  await page.getByLabel('Address of a page').fill(address);
  await page.getByRole('button', { name: 'Look up' }).click();
}

/** The walled-in page in our window. */
export const framed = page => page.frameLocator('#page');

/** Keeps a page on the first screen and waits for its permanent address. */
export async function keep(page, address) {
  await page.goto('/');
  await page.getByLabel('Address of a page').fill(address);
  await page.getByRole('button', { name: 'Capture now' }).click();
  await page.getByText('Permanent address').waitFor({ timeout: 60_000 });
  return page.getByRole('link', { name: /\/c\// }).getAttribute('href');
}
