import { join } from 'node:path';
import { Argument, Command } from 'commander';
import { readTexts } from './files.js';
import { playTexts, withWalkOptions, type WalkOptions } from './walk-command.js';
import type { Terminal } from './terminal.js';

/** The examples that come with the package, beside the folder of the built program. */
const EXAMPLES = join(import.meta.dirname, '..', 'examples');

/** Of each example the walks that show most of what there is to see. */
const CHOSEN = {
  harbour: [
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
  ],
  'fennel-row': [
    'A gardener sees the beds of their own garden',
    'Another garden looks as if it did not exist',
    'The data of a garden is as closed as its page',
    'A steward clears beds of their own garden only',
    'Everybody reads the catalogue, and each sees what is for them',
    'Nothing is lent while stock is taken',
    'Whoever signs up is shown around, for two weeks',
    'Terms that wait are where the login leads, and are accepted once',
  ],
} as const;
type Example = keyof typeof CHOSEN;

/** `cavrin demo`. */
export function demoCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('demo')
    .summary('play an example that comes with the program')
    .description(
      'Plays the walks of a made-up app with made-up people, which come with the program: Brackwater Harbour, or Fennel Row, ' +
        'which has tenants, flags, barriers, several logins, an identity provider, a machine and acting for others. It reads ' +
        'nothing from the current folder. The files are in examples of the package.',
    )
    .addArgument(new Argument('[example]', 'which example').choices(Object.keys(CHOSEN)).default('harbour'));
  return withWalkOptions(command).action(async (example: Example, options: WalkOptions) => {
    const texts = readTexts({ folder: EXAMPLES, policy: join(example, 'cavrin.yaml'), walks: [] });
    done(await playTexts(texts, options, terminal, CHOSEN[example]));
  });
}
