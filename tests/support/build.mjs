// The commands are tested as built, so every run of the tests builds them first.
import { execFileSync } from 'node:child_process';
import { ensureChromium, ensureShells, findChromium } from './chromium.mjs';

export default function build() {
  execFileSync(process.execPath, ['scripts/run.mjs', 'scripts/build.ts'], { stdio: 'inherit' });
  ensureChromium();
  ensureShells();
  process.env.CHROMIUM = findChromium();
}
