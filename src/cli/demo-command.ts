import { join } from 'node:path';
import { Command } from 'commander';
import { readTexts } from './files.js';
import { playTexts, withWalkOptions, type WalkOptions } from './walk-command.js';
import type { Terminal } from './terminal.js';

/** The examples that come with the package, beside the folder of the built program. */
const EXAMPLES = join(import.meta.dirname, '..', 'examples');

/** The walks that show most of what there is to see. */
const CHOSEN: readonly string[] = [
  'Each role lands at its own page',
  'A wrong password stays at the form, and the right one still works',
  'A form is guarded when it is sent, not only when it is shown',
  'A skipper returns to the berth they asked for',
  'A return address cannot lead off the site',
  'An hour without a request ends the session',
  'A typed address after logout asks for the login',
  'Just past the leeway one refresh renews it',
  'Until the code is given a visitor is no more than a guest',
  'Opening the app again leads where a login does',
  'Suspended while signed in',
  'A copied session opens what its owner may see, and ends with the logout',
];

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
    done(await playTexts(texts, options, terminal, CHOSEN));
  });
}
