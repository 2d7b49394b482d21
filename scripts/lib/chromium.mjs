// Chromium for the end-to-end tests: found, or installed from Debian's packages if we may.
import { aptInstall, find, isRoot } from './run.mjs';

export function ensureChromium() {
  const names = ['/usr/bin/chromium', 'chromium', 'chromium-browser', 'google-chrome-stable', 'google-chrome'];
  let path = process.env.CHROMIUM ?? find(...names);
  if (!path && isRoot) {
    aptInstall('chromium');
    path = find(...names);
  }
  if (!path)
    throw new Error('Chromium is missing. Install it (Debian: apt-get install chromium), or set CHROMIUM to its path.');
  return path;
}
