import { Command } from 'commander';
import { coverageOf, proposalsFor, stageOf } from '../core/internal.js';
import { percentOf } from '../render/coverage/coverage-text.js';
import { diagnosticsText } from '../render/diagnostics-text.js';
import { COVERAGE_FORMATS } from '../render/formats.js';
import { count, printable } from '../render/style.js';
import { walksYaml } from '../render/walk-yaml.js';
import { readTexts } from './files.js';
import { complain, giveOutIn, mustBeWritable, withFiles, withOutputOptions, writeWhole } from './output.js';
import { openProject } from './project.js';
import { withShare, type ShareOptions } from './share.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

/** `cavrin coverage`. */
export function coverageCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('coverage')
    .summary('what of the policy no walk touches, and walks that would')
    .description(
      'Plays the walks and counts what they touch: pages by kind of account and by method, rules, landings, refusals, ' +
        'reasons, parts, barriers, every limit just before and just past it, and every step of a way in or out.\n' +
        'Exit status: 0 counted, 1 less is touched than --at-least asks for, 2 the input is wrong.',
    );
  withShare(
    withFiles(command),
    { is: 'touched', such: '90%' },
    'write the fewest, shortest walks that touch the rest, with what comes out today as what they expect',
  );
  return withOutputOptions(command, null, COVERAGE_FORMATS).action(
    async (policy: string | undefined, walks: string[], options: ShareOptions) => {
      done(await cover({ folder: terminal.folder, policy, walks }, options, terminal));
    },
  );
}

async function cover(
  request: Parameters<typeof readTexts>[0],
  options: ShareOptions,
  terminal: Terminal,
): Promise<number> {
  if (options.propose !== undefined) mustBeWritable(options.propose, terminal);
  const project = await openProject(readTexts(request));
  if ('faults' in project) return complain(project.faults, COVERAGE_FORMATS, options, terminal);
  const { policy, input, walks, notes } = project;
  const look = lookOf(terminal, terminal.err, options.color);
  if (notes.length > 0) terminal.err.write(diagnosticsText(notes, look));
  const stage = stageOf(policy);
  const coverage = coverageOf(stage, input, walks);
  const shown = { coverage, app: policy.app, input, walks: walks.length };
  giveOutIn(COVERAGE_FORMATS, shown, lookOf(terminal, terminal.out, options.color), options, terminal);
  if (options.propose !== undefined) {
    const proposed = proposalsFor(stage, input, walks);
    const named = proposed.map(({ name, steps }) => ({ name: `To confirm: ${name}`, steps }));
    writeWhole(options.propose, walksYaml(named, HEAD), terminal);
    const after = coverageOf(stage, input, [...walks, ...proposed]);
    const left = after.all - after.touched;
    terminal.err.write(
      `wrote ${count(proposed.length, 'walk')} to ${printable(options.propose)}; with them ${percentOf(after)} % is touched` +
        `${left === 0 ? '' : `, and for ${count(left, 'thing')} none was found`}\n`,
    );
  }
  const least = options.atLeast ?? 0;
  if (coverage.touched >= (coverage.all * least) / 100) return STATUS.good;
  terminal.err.write(`${percentOf(coverage)} % of the policy is touched, and ${least} % are asked for\n`);
  return STATUS.found;
}

const HEAD = [
  'Walks that touch what none did when they were proposed. Each step expects what comes out today:',
  'read it, correct the policy or the step where that is wrong, and take "To confirm" off the name.',
];
