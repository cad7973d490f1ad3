import { existsSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import type { Policy } from '../core/internal.js';
import type { FirstLive, Looker } from '../live/index.js';
import { printable } from '../render/style.js';
import { appAddress } from './app-option.js';
import { policyOf, readTexts, type Request } from './files.js';
import { writeWhole, type OutputOptions } from './output.js';
import { openProject } from './project.js';
import { Refused, STATUS } from './status.js';
import type { Terminal } from './terminal.js';

export interface LearnCommandOptions extends Pick<OutputOptions, 'output'> {
  readonly at?: string;
  readonly login?: string;
  readonly allowHost?: string;
  readonly account?: readonly string[];
  readonly patience: number;
}

/** `cavrin live --learn`: writes a first live.yaml by looking. */
export async function learnFirst(
  request: Request,
  options: LearnCommandOptions,
  terminal: Terminal,
): Promise<number> {
  const { at: named, login } = options;
  if (named === undefined || login === undefined) {
    throw new Refused(
      '--learn needs to know where the app is and where its login page: --at http://127.0.0.1:3000 --login /login',
    );
  }
  const at = appAddress(named, options.allowHost);
  if (!login.startsWith('/')) {
    throw new Refused(`${login} is no address of a login page: write its path, as in --login /login`);
  }
  const policyFile = policyOf(request);
  const folder = policyFile === null || policyFile === '-' ? '.' : dirname(policyFile);
  const file = options.output ?? join(folder, 'live.yaml');
  const isNew = !existsSync(resolve(terminal.folder, file));
  if (!isNew) {
    throw new Refused(`${file} is there already, and is not written over: name another file with --output`);
  }
  const { lookers, variables } = accountsOf(
    options.account ?? [],
    await policyIn(request, policyFile),
    terminal,
  );
  const { Interrupted, learn, RunEnded } = await import('../live/index.js');
  try {
    const { text, learnt } = await learn({
      at,
      login,
      lookers,
      variables,
      folder: resolve(terminal.folder, folder),
      env: terminal.env,
      patience: options.patience * 1000,
    });
    writeWhole(file, text, terminal);
    terminal.err.write(`${[`Written: ${printable(file)}`, ...toldOf(learnt)].join('\n')}\n`);
    return learnt.login === null ? STATUS.found : STATUS.good;
  } catch (error) {
    if (!(error instanceof RunEnded)) throw error;
    terminal.err.write(
      `error: ${printable(error.message)}\n${error.hint === null ? '' : `Hint: ${printable(error.hint)}\n`}`,
    );
    return error instanceof Interrupted ? STATUS.unsettled : STATUS.wrong;
  }
}

async function policyIn(request: Request, file: string | null): Promise<Policy | null> {
  if (file === null) return null;
  const project = await openProject(readTexts(request, 'policy only'));
  return 'faults' in project ? null : project.policy;
}

/** An account as a call names it, `ines:env:INES` or `ines=ines@harbour.example:env:INES`, with the password that its variable holds. */
export function namedAccount(
  text: string,
  { env, secrets }: Pick<Terminal, 'env' | 'secrets'>,
): { readonly looker: Looker; readonly variable: string } {
  const [, account = '', name = null, variable = ''] =
    /^([^=]+?)(?:=(.+))?:env:([A-Za-z_]\w*)$/.exec(text) ?? [];
  if (variable === '') {
    throw new Refused(
      `${text} names no account: write ines:env:INES, or ines=ines@harbour.example:env:INES where the login name is another`,
    );
  }
  const password = env[variable];
  if (password === undefined || password === '') {
    throw new Refused(`the variable ${variable} is not set, which holds the password of ${account}`);
  }
  for (const shown of [account, name ?? account]) secrets.addName(shown);
  secrets.add(password);
  return { looker: { account, name: name ?? account, password }, variable };
}

/** Two people to look as: those that are named, else the first two of the policy who get in by a password alone. */
function accountsOf(
  named: readonly string[],
  policy: Policy | null,
  terminal: Terminal,
): { readonly lookers: readonly [Looker, Looker]; readonly variables: ReadonlyMap<string, string> } {
  const variables = new Map<string, string>();
  const lookers = named.map((text): Looker => {
    const { looker, variable } = namedAccount(text, terminal);
    variables.set(looker.account, variable);
    return looker;
  });
  const own = [...(policy?.accounts.values() ?? [])]
    .filter(({ state, secondFactor }) => state === 'active' && !secondFactor)
    .map(({ name, password }): Looker => ({ account: name, name, password }));
  const [one, other] = lookers.length > 0 ? lookers : own;
  if (one === undefined || other === undefined) {
    throw new Refused(
      'two accounts are needed to tell what differs between them: --account ines:env:INES --account tomas:env:TOMAS',
    );
  }
  return { lookers: [one, other], variables };
}

function toldOf({
  login,
  session,
  remember,
  who,
  logout,
  access,
  refresh,
  notes,
}: FirstLive['learnt']): string[] {
  const found = (what: string, is: string | null) =>
    `  ${is === null ? '–' : '✓'} ${what}: ${printable(is ?? 'not found; it is left to say')}`;
  const names = session.map(({ cookie }) => cookie.name).join(', ');
  const kept = remember.map(({ cookie }) => cookie.name).join(', ');
  return [
    found('login', login?.request ?? null),
    ...(names === '' && access !== null ? [] : [found('session cookie', names === '' ? null : names)]),
    ...(kept === '' ? [] : [found('remember cookie', kept)]),
    ...(access === null ? [] : [found('access token', access.answer)]),
    ...(refresh === null ? [] : [found('refresh token', refresh.answer)]),
    found(
      'who one is',
      who === null ? null : who.by === 'header' ? `the header ${who.header}` : `the element ${who.selector}`,
    ),
    found('logout', logout === null ? null : logout.leads.trim() || logout.selector),
    ...notes.map((note) => `  ! ${printable(note)}`),
  ];
}
