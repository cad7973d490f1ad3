// The commands are tested as built, so every run of the tests builds them first.
import { execFileSync } from 'node:child_process';

export default function build() {
  execFileSync(process.execPath, ['scripts/build.mjs'], { stdio: 'inherit' });
}
