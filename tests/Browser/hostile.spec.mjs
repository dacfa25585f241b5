import { test, expect } from '@playwright/test';
import { names, readAll, UNHEARD } from './canary/hostile.mjs';
import { ypomna } from './help.mjs';
import { signedIn } from './sign-in.mjs';

test('a hostile page reaches nothing, by any way that is known', async ({ request, baseURL }) => {
  test.setTimeout(420_000);
  const { proven, leaks, shown } = await readAll(
    baseURL,
    file => ypomna('import', file),
    async url => (await request.get('/find?q=' + encodeURIComponent(url))).text(),
    { cookies: (await signedIn(baseURL)).cookies, prove: true },
  );
  // Without the wall the same pages do reach the canary: a test that hears nothing anyway would prove nothing.
  const ways = new Set(proven.map(way => way.replace(/ \(.*/, '')));
  expect(names.filter(name => !ways.has(name) && !UNHEARD.includes(name))).toEqual([]);
  // Nor would one that reads nothing.
  expect(shown).toEqual({ alive: names, still: names });
  expect(leaks).toEqual({ alive: [], still: [] });
});
