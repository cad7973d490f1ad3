// The browser in which walks are played for real: the one of this machine, or Debian's where it may be installed.
import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const PLACES = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

/** The path of Chromium; null where there is none. */
export function findChromium() {
  const named = process.env.CHROMIUM;
  return [...(named ? [named] : []), ...PLACES].find((place) => existsSync(place)) ?? null;
}

/** The shells that complete for people, where they may be installed: what is not here is not tested. */
export function ensureShells() {
  const missing = ['zsh', 'fish'].filter((shell) => !existsSync(`/usr/bin/${shell}`));
  if (missing.length === 0 || process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) return;
  const options = { stdio: 'ignore', env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
  try {
    execFileSync('apt-get', ['update', '--quiet'], options);
    execFileSync('apt-get', ['install', '--yes', '--quiet', '--no-install-recommends', ...missing], options);
  } catch {
    // bash is everywhere.
  }
}

/** Makes sure that there is a Chromium, or stops with one clear line. */
export function ensureChromium() {
  if (findChromium() !== null) return;
  const mayInstall = process.getuid?.() === 0 && existsSync('/usr/bin/apt-get');
  try {
    if (!mayInstall) throw new Error('not root on Debian');
    const options = { stdio: 'ignore', env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
    execFileSync('apt-get', ['update', '--quiet'], options);
    execFileSync('apt-get', ['install', '--yes', '--quiet', '--no-install-recommends', 'chromium'], options);
  } catch {
    // Told below, in one line.
  }
  if (findChromium() === null) {
    console.error('The tests need Chromium: install the package chromium, or name its program in CHROMIUM.');
    process.exit(1);
  }
}
