import { Command, Option } from 'commander';
import {
  asItself,
  CONDITIONS,
  explainRequest,
  guestState,
  nearest,
  parseNetwork,
  problem,
  reach,
  readRequestLine,
  SOME_CLIENT,
  stageOf,
  type Condition,
  type Diagnostic,
  type LoginState,
} from '../core/internal.js';
import { WHY_FORMATS } from '../render/formats.js';
import { readTexts } from './files.js';
import { complain, giveOutIn, withOutputOptions, withPolicy, type OutputOptions } from './output.js';
import { openProject } from './project.js';
import { STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';

interface WhyOptions extends OutputOptions {
  readonly as?: string;
  readonly state: Condition;
  readonly from: string;
  readonly all?: boolean;
}

/** `cavrin why`. */
export function whyCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('why')
    .summary('explain one request: what decides it, and what would admit the visitor')
    .description(
      'Explains one request: the page and every rule that was looked at, the audience, what the visitor holds, what comes of ' +
        'it, and the smallest change that would admit them.\n' +
        'Exit status: 0 explained, 2 the input is wrong.',
    )
    .argument('<request>', 'a request such as "GET /ledger", or just its address');
  withPolicy(command)
    .option('--as <account>', 'who asks (default: a guest)')
    .addOption(
      new Option('--state <state>', 'what has become of their login')
        .choices(CONDITIONS)
        .default('signed-in'),
    )
    .option('--all', 'show the rules too that are for other paths')
    .option('--from <address>', 'the network address that the request comes from', SOME_CLIENT);
  return withOutputOptions(command, null, WHY_FORMATS).action(
    async (request: string, policy: string | undefined, options: WhyOptions) => {
      done(await explain(request, policy, options, terminal));
    },
  );
}

async function explain(
  request: string,
  file: string | undefined,
  options: WhyOptions,
  terminal: Terminal,
): Promise<number> {
  const texts = readTexts({ folder: terminal.folder, policy: file, walks: [] }, 'policy only');
  const project = await openProject(texts);
  if ('faults' in project) return complain(project.faults, WHY_FORMATS, options, terminal);
  const { policy, input } = project;
  const stage = stageOf(policy);
  const line = readRequestLine(request);
  const who = loginState(stage, options);
  const faults = [
    ...(typeof line === 'string' ? [fault(line, 'write it like "GET /ledger"')] : []),
    ...('code' in who ? [who] : []),
    ...(parseNetwork(options.from) === null || options.from.includes('/')
      ? [fault(`${options.from} is no network address`, 'write one like 10.1.2.3 or 2001:db8::7')]
      : []),
  ];
  if (typeof line === 'string' || 'code' in who || faults.length > 0) {
    return complain(faults, WHY_FORMATS, options, terminal);
  }
  const explained = explainRequest(stage, who, line.method, line.address, options.from);
  const look = { ...lookOf(terminal, terminal.out, options.color), all: options.all === true };
  giveOutIn(WHY_FORMATS, { explained, who, input }, look, options, terminal);
  return STATUS.good;
}

/** The login state that the options ask for, or why there is none. */
function loginState(stage: ReturnType<typeof stageOf>, options: WhyOptions): LoginState | Diagnostic {
  const { accounts } = stage.app.policy;
  const { as: name, state } = options;
  if (name === undefined) {
    return state === 'signed-in'
      ? guestState(stage.app.policy)
      : fault(`${state} is a state of a login`, 'say whose: add --as and an account');
  }
  const account = accounts.get(name);
  if (account === undefined) {
    return problem('unknown-account', { name, near: nearest(name, accounts.keys()) }, null);
  }
  if (account.state !== 'active' && state === 'signed-in') {
    return { ...guestState(stage.app.policy), account: name };
  }
  const reached = state === 'signed-in' ? asItself(stage, account) : reach(stage, account, state);
  const says = `the policy cannot bring ${name} into the state ${state}`;
  return reached ?? fault(says, 'see the states that it can with: cavrin grid');
}

function fault(says: string, hint: string): Diagnostic {
  return problem('bad-request', { problem: says, hint }, null);
}
