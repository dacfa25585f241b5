import { expect } from '@playwright/test';
import axe from 'axe-core';

/** The rules whose answer depends on the colours: alone asked again in the dark. */
const COLOURS = ['color-contrast', 'link-in-text-block'];

/** Nothing of our page shuts anybody out, in light and dark. Archived pages in frames are not ours. */
export async function accessible(page) {
  await page.emulateMedia({ colorScheme: 'light' });
  await page.evaluate(axe.source);
  const found = { light: await broken(page, {}) };
  await page.emulateMedia({ colorScheme: 'dark' });
  found.dark = await broken(page, { runOnly: COLOURS });
  await page.emulateMedia({ colorScheme: null });
  expect(found, new URL(page.url()).pathname).toEqual({ light: [], dark: [] });
}

const broken = (page, options) =>
  page.evaluate(async options => {
    const { violations } = await axe.run({ exclude: ['iframe'] }, { resultTypes: ['violations'], ...options });
    return violations.map(one => `${one.id}: ${one.nodes.map(node => node.target).join(' ')}`);
  }, options);
