import { Command, Option } from 'commander';
import {
  compareOutcomes,
  diffPolicies,
  runChecks,
  worstOf,
  type PolicyOutcome,
  type Sides,
  type Worst,
} from '../core/internal.js';
import { DIFF_FORMATS } from '../render/formats.js';
import { policyOf, readTexts, type Texts } from './files.js';
import { readGitName, readGitText } from './git-text.js';
import { cacheFolder, KnownScenes } from './known-scenes.js';
import { complain, giveOutIn, withOutputOptions } from './output.js';
import { openProject, type Usable } from './project.js';
import { withWorkOptions, type WorkOptions } from './prove-options.js';
import { planOf, proofOf, settle } from './prove-plan.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

/** For each `--fail-on`, what fails. */
const FAILS = {
  widened: ['widened'],
  loosened: ['widened', 'loosened'],
  any: ['widened', 'loosened', 'changed'],
} as const satisfies Readonly<Record<string, readonly Worst[]>>;

interface DiffOptions extends WorkOptions {
  readonly failOn: keyof typeof FAILS;
  /** Whether laws, promises and exposure bounds are compared too. */
  readonly proof: boolean;
}

/** `cavrin diff`. */
export function diffCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('diff')
    .summary('show what a change of policy means')
    .description(
      'Compares two policies: where everybody lands, reading and writing; every setting, and whether it loosens or tightens; ' +
        'the findings of check; and the laws, promises and exposure bounds of prove. Widened access is told apart from narrowed.\n' +
        'git:REV, such as git:main, is the same file as that revision has it; git:REV:path is another one.\n' +
        'Exit status: 0 no change, or none that --fail-on names; 1 there is; 2 the input is wrong; 3 not all was settled.',
    )
    .argument('<old>', 'the policy before, or git:REV or git:REV:path')
    .argument(
      '[new]',
      'the policy after, in the same forms; - reads standard input (default: cavrin.yaml here or in the nearest parent)',
    )
    .addOption(
      new Option(
        '--fail-on <change>',
        'which changes give the exit status 1; loosened has what is widened too',
      )
        .choices(Object.keys(FAILS))
        .default('any'),
    )
    .option('--no-proof', 'leave out laws, promises and exposure bounds, which take the time of two proofs');
  return withWorkOptions(withOutputOptions(command, null, DIFF_FORMATS)).action(
    async (old: string, next: string | undefined, options: DiffOptions) => {
      done(await compare(old, next, options, terminal));
    },
  );
}

async function compare(
  old: string,
  next: string | undefined,
  options: DiffOptions,
  terminal: Terminal,
): Promise<number> {
  const [before, after] = [
    await openProject(textsOf(old, next, terminal)),
    await openProject(textsOf(next, old, terminal)),
  ];
  const faults = [before, after].flatMap((each) => ('faults' in each ? each.faults : []));
  if ('faults' in before || 'faults' in after) return complain(faults, DIFF_FORMATS, options, terminal);
  const diff = diffPolicies(before.policy, after.policy);
  const known = new KnownScenes(
    options.proof ? cacheFolder(options.cache, terminal.folder, process.env) : null,
  );
  const outcomes: Sides<PolicyOutcome> = {
    before: await outcomeOf(before, known, options, terminal),
    after: await outcomeOf(after, known, options, terminal),
  };
  const outcome = compareOutcomes(outcomes);
  const compared = {
    app: after.policy.app,
    names: { before: before.input.source.file, after: after.input.source.file },
    inputs: { before: before.input, after: after.input },
    diff,
    outcome,
  };
  giveOutIn(DIFF_FORMATS, compared, lookOf(terminal, terminal.out, options.color), options, terminal);
  const fails: readonly Worst[] = FAILS[options.failOn];
  if (fails.includes(worstOf(diff, outcome))) return STATUS.found;
  return isSettled(outcomes) ? STATUS.good : STATUS.unsettled;
}

/** The text of a policy that is a file or, where it is called for so, one of a revision. */
function textsOf(name: string | undefined, other: string | undefined, terminal: Terminal): Texts {
  const inGit = name === undefined ? null : readGitName(name);
  if (inGit === null) return readTexts({ folder: terminal.folder, policy: name, walks: [] }, 'policy only');
  const otherInGit = other === undefined ? null : readGitName(other);
  const given = otherInGit === null ? other : (otherInGit.path ?? undefined);
  const usual = policyOf({ folder: terminal.folder, policy: given === '-' ? undefined : given, walks: [] });
  const read = readGitText(inGit, usual ?? 'cavrin.yaml', terminal.folder);
  return 'text' in read
    ? { policy: read, walks: [], faults: [], notRead: [] }
    : { policy: null, walks: [], faults: [read], notRead: [] };
}

/** What check and, where it is asked for, prove find. */
async function outcomeOf(
  project: Usable,
  known: KnownScenes,
  options: DiffOptions,
  terminal: Terminal,
): Promise<PolicyOutcome> {
  const findings = runChecks(project.policy, project.input);
  if (!options.proof) return { findings, proof: null };
  const plan = planOf(project, null, options);
  return { findings, proof: proofOf(plan, await settle(plan, known, options, terminal, () => undefined)) };
}

function isSettled({ before, after }: Sides<PolicyOutcome>): boolean {
  return [before, after].every(
    ({ proof }) => proof?.verdicts.every(({ finding }) => finding.verdict !== 'open') ?? true,
  );
}
