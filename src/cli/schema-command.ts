import { Argument, Command } from 'commander';
import { jsonSchemaOf, liveJsonSchema } from '../core/internal.js';
import { giveOut } from './output.js';
import { STATUS } from './status.js';
import { jsonText } from '../render/json.js';
import type { Terminal } from './terminal.js';

/** `cavrin schema`. */
export function schemaCommand(terminal: Terminal, done: (status: number) => void): Command {
  return new Command('schema')
    .summary('print the JSON Schema of policy, walk or live files, for editors')
    .description(
      'Prints the JSON Schema of a policy, of a file of walks or of a live.yaml, with which editors complete keys and mark mistakes while ' +
        'one writes.\n' +
        'Exit status: 0 printed, 2 the call is wrong.',
    )
    .addArgument(
      new Argument('[file]', 'which file it is for').choices(['policy', 'walks', 'live']).default('policy'),
    )
    .option('--output <file>', 'write it to a file instead of standard output')
    .action((file: 'policy' | 'walks' | 'live', options: { output?: string }) => {
      const schema = file === 'live' ? liveJsonSchema() : jsonSchemaOf(file);
      giveOut(jsonText(schema), { format: 'json', ...options }, terminal);
      done(STATUS.good);
    });
}
