import { join } from 'node:path';
import { Command } from 'commander';
import { readTexts } from './files.js';
import { playTexts, withWalkOptions, type WalkOptions } from './walk-command.js';
import type { Terminal } from './terminal.js';

/** The examples that come with the package, beside the folder of the built program. */
const EXAMPLES = join(import.meta.dirname, '..', 'examples');

/** `cavrin demo`. */
export function demoCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('demo')
    .summary('play the harbour example that comes with the program')
    .description(
      'Plays the walks of Brackwater Harbour, a made-up app with made-up people, which come with the program. It reads ' +
        'nothing from the current folder. The files are in examples/harbour of the package.',
    );
  return withWalkOptions(command).action(async (options: WalkOptions) => {
    const texts = readTexts({ folder: EXAMPLES, policy: join('harbour', 'cavrin.yaml'), walks: [] });
    done(await playTexts(texts, options, terminal));
  });
}
