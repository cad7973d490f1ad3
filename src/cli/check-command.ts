import { Command, Option } from 'commander';
import { inReadingOrder, runChecks, type Policy, type Severity } from '../core/internal.js';
import { CHECK_FORMATS } from '../render/formats.js';
import { count } from '../render/style.js';
import { readTexts } from './files.js';
import { complain, giveOutIn, withFiles, withOutputOptions, type OutputOptions } from './output.js';
import { openProject } from './project.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';
import { watching, withWatch, type WatchOptions } from './watch.js';

declare const CAVRIN_VERSION: string;

/** `cavrin check`. */
export function checkCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('check')
    .summary('report what is wrong or careless in a policy and its walks')
    .description(
      'Reads a policy and its walks, reports every error in them, and finds what is careless in the policy: loops, landings ' +
        'that refuse, rules that never match, return addresses that lead off the site, logouts that end too little.\n' +
        'Exit status: 0 nothing found that fails, 1 something careless was found, 2 the input is wrong.',
    );
  const failOn = new Option('--fail-on <severity>', 'from which severity on a finding fails')
    .choices(SEVERITIES)
    .default('warning');
  return withWatch(
    withOutputOptions(withFiles(command), 'say nothing where nothing is found', CHECK_FORMATS).addOption(
      failOn,
    ),
  ).action(async (policy: string | undefined, walks: string[], options: CheckOptions & WatchOptions) => {
    const request = { folder: terminal.folder, policy, walks };
    done(await watching(request, options, terminal, () => check(request, options, terminal)));
  });
}

const SEVERITIES: readonly Severity[] = ['error', 'warning', 'advice'];

interface CheckOptions extends OutputOptions {
  readonly failOn: Severity;
}

async function check(
  request: Parameters<typeof readTexts>[0],
  options: CheckOptions,
  terminal: Terminal,
): Promise<number> {
  const project = await openProject(readTexts(request));
  if ('faults' in project) return complain(project.faults, CHECK_FORMATS, options, terminal);
  const { policy, input, walks, notes } = project;
  const findings = inReadingOrder([...notes, ...runChecks(policy, input, walks)]);
  // Whoever reads by eye needs nothing where nothing is found; a program that reads it does.
  if (options.format !== 'text' || findings.length > 0 || options.quiet !== true) {
    const read = readWords(policy, walks.length);
    const look = lookOf(terminal, terminal.out, options.color);
    giveOutIn(CHECK_FORMATS, { findings, read, version: CAVRIN_VERSION }, look, options, terminal);
  }
  const failing = SEVERITIES.slice(0, SEVERITIES.indexOf(options.failOn) + 1);
  return findings.some(({ severity }) => failing.includes(severity)) ? STATUS.found : STATUS.good;
}

/** What was read: `20 pages, 7 rules, 16 walks`. */
function readWords({ pages, rules }: Policy, walks: number): string {
  return [count(pages.length, 'page'), count(rules.length, 'rule'), count(walks, 'walk')].join(', ');
}
