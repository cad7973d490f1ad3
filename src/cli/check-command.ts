import { Command } from 'commander';
import { hasErrors, inReadingOrder, loadProject, runChecks } from '../core/index.js';
import { diagnosticsText } from '../render/diagnostics-text.js';
import { findingsJson } from '../render/findings-json.js';
import { readTexts } from './files.js';
import { complain, giveOut, withFiles, withOutputOptions, type OutputOptions } from './output.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

/** `cavrin check`. */
export function checkCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('check')
    .summary('report what is wrong or careless in a policy and its walks')
    .description(
      'Reads a policy and its walks, reports every error in them, and finds what is careless in the policy: loops, landings ' +
        'that refuse, rules that never match, return addresses that lead off the site, logouts that end too little.\n' +
        'Exit status: 0 nothing found, 1 something careless was found, 2 the input is wrong.',
    );
  return withOutputOptions(withFiles(command), 'say nothing where nothing is found').action(
    async (policy: string | undefined, walks: string[], options: OutputOptions) => {
      done(await check(policy, walks, options, terminal));
    },
  );
}

async function check(
  file: string | undefined,
  walkFiles: string[],
  options: OutputOptions,
  terminal: Terminal,
): Promise<number> {
  const texts = readTexts({ folder: terminal.folder, policy: file, walks: walkFiles });
  const project = texts.policy === null ? null : await loadProject(texts.policy, texts.walks);
  const faults = [...texts.faults, ...inReadingOrder(project?.diagnostics ?? [])];
  const policy = project?.policy ?? null;
  const input = project?.input ?? null;
  if (policy === null || input === null || hasErrors(faults)) {
    if (options.format === 'json') giveOut(findingsJson(faults), options, terminal);
    return complain(faults, options, terminal);
  }
  const findings = inReadingOrder([...faults, ...runChecks(policy, input, project?.walks)]);
  if (options.format === 'json') giveOut(findingsJson(findings), options, terminal);
  else if (findings.length > 0 || options.quiet !== true) {
    giveOut(diagnosticsText(findings, lookOf(terminal, terminal.out, options.color)), options, terminal);
  }
  return findings.length === 0 ? STATUS.good : STATUS.found;
}
