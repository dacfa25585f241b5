import { existsSync } from 'node:fs';

const alone = '/usr/bin/chromium-headless-shell';

/** The browser's engine without a window's parts, where it is installed: the same pages in less time. */
export const engine = existsSync(alone) ? alone : '/usr/bin/chromium';
