import { Argument, Command } from 'commander';
import { jsonSchemaOf } from '../core/internal.js';
import { giveOut } from './output.js';
import { STATUS } from './status.js';
import { jsonText } from '../render/json.js';
import type { Terminal } from './terminal.js';

/** `cavrin schema`. */
export function schemaCommand(terminal: Terminal, done: (status: number) => void): Command {
  return new Command('schema')
    .summary('print the JSON Schema of policy or walk files, for editors')
    .description(
      'Prints the JSON Schema of a policy or of a file of walks, with which editors complete keys and mark mistakes while ' +
        'one writes.\n' +
        'Exit status: 0 printed, 2 the call is wrong.',
    )
    .addArgument(
      new Argument('[file]', 'which file it is for').choices(['policy', 'walks']).default('policy'),
    )
    .option('--output <file>', 'write it to a file instead of standard output')
    .action((file: 'policy' | 'walks', options: { output?: string }) => {
      giveOut(jsonText(jsonSchemaOf(file)), { format: 'json', ...options }, terminal);
      done(STATUS.good);
    });
}
