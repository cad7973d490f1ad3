import { InvalidArgumentError } from 'commander';
import {
  nameFault,
  sourceOf,
  type Description,
  type Diagnostic,
  type Evidence,
  type Recording,
  type Source,
} from '../core/internal.js';
import { appAddress } from './app-option.js';
import { readText } from './files.js';
import { namedAccount } from './live-learn.js';
import { Refused, Unfinished } from './status.js';
import type { Terminal } from './terminal.js';

/** The sources that a call names. */
export interface NamedSources {
  readonly openapi?: readonly string[];
  readonly har?: readonly NamedHar[];
  readonly sitemap?: readonly string[];
  readonly routes?: readonly string[];
  /** A running app, with its login page and accounts to look as. */
  readonly at?: string;
  readonly login?: string;
  readonly account?: readonly string[];
  readonly allowHost?: string;
  readonly patience: number;
}

/** A recording, and whose it is; null: nobody logs in in it. */
export interface NamedHar {
  readonly person: string | null;
  readonly file: string;
}

/** Sources of machines are larger than what people write. */
const LARGEST = 256 * 1024 * 1024;

/** Reads the value of `--har`: `ines=ines.har`, or `guest=guest.har`. */
export function namedHar(text: string, before: readonly NamedHar[] = []): NamedHar[] {
  const [, person = '', file = ''] = /^([^=]+)=(.+)$/s.exec(text) ?? [];
  const fault = person === 'guest' ? null : nameFault(person);
  if (fault === 'unusable') {
    throw new InvalidArgumentError('say whose recording it is, as in ines=ines.har or guest=guest.har');
  }
  if (fault === 'reserved') {
    throw new InvalidArgumentError(`${person} has a meaning of its own: call the person otherwise`);
  }
  return [...before, { person: person === 'guest' ? null : person, file }];
}

/** Reads all sources; gives what is wrong with them where one cannot be used. */
export async function readSources(
  named: NamedSources,
  terminal: Terminal,
): Promise<Evidence | { readonly faults: readonly Diagnostic[] }> {
  const { readHar, readOpenApi, readRoutes, readSitemap } = await import('../sources/index.js');
  const faults: Diagnostic[] = [];
  const read = <Found extends object>(
    file: string,
    reader: (source: Source) => Found | Diagnostic,
  ): Found[] => {
    const source = readText(file, terminal.folder, false, LARGEST);
    const found = 'text' in source ? reader(source) : source;
    if (isDiagnostic(found)) {
      faults.push(found);
      return [];
    }
    return [found];
  };
  const recordings = (named.har ?? []).flatMap(({ person, file }) =>
    read<Recording>(file, (source) => readHar(source, person)),
  );
  const descriptions = [
    ...(named.openapi ?? []).flatMap((file) => read<Description>(file, readOpenApi)),
    ...(named.routes ?? []).flatMap((file) => read<Description>(file, readRoutes)),
    ...(named.sitemap ?? []).flatMap((file) => read<Description>(file, readSitemap)),
  ];
  if (faults.length > 0) return { faults };
  const round = named.at === undefined ? null : await looked(named.at, named, terminal);
  return {
    recordings: [...recordings, ...(round?.recordings ?? [])],
    descriptions: [...descriptions, ...(round === null ? [] : [round.told])],
  };
}

/** Looks round in a running app, and reads what was recorded. */
async function looked(
  named: string,
  { login, account = [], allowHost, patience }: NamedSources,
  terminal: Terminal,
): Promise<{ readonly recordings: readonly Recording[]; readonly told: Description }> {
  const at = appAddress(named, allowHost);
  if (login?.startsWith('/') !== true) {
    throw new Refused('--at needs the address of the login page, as in --login /login');
  }
  const lookers = account.map((text) => namedAccount(text, terminal).looker);
  if (lookers.length === 0) {
    throw new Refused('--at needs accounts to look as: --account ines:env:INES --account tomas:env:TOMAS');
  }
  const misnamed = lookers.find(({ account: name }) => nameFault(name) !== null);
  if (misnamed !== undefined) {
    throw new Refused(
      `${misnamed.account} cannot be the name of an account: write another, as in --account ines=${misnamed.account}:env:INES`,
    );
  }
  const { Interrupted, lookRound, RunEnded } = await import('../live/index.js');
  const { readHar } = await import('../sources/index.js');
  try {
    const { recordings, notes } = await lookRound({
      at,
      login,
      lookers,
      folder: terminal.folder,
      env: terminal.env,
      patience: patience * 1000,
    });
    const read = recordings.map(({ person, har }) => readHar(sourceOf(at, har), person));
    return {
      recordings: read.filter((each) => 'exchanges' in each),
      told: { from: at, app: null, origin: null, requests: [], schemes: [], notes },
    };
  } catch (error) {
    if (!(error instanceof RunEnded)) throw error;
    if (error instanceof Interrupted) throw new Unfinished(error.message);
    throw new Refused(`${error.message}${error.hint === null ? '' : `: ${error.hint}`}`);
  }
}

function isDiagnostic(found: object): found is Diagnostic {
  return 'severity' in found && 'code' in found;
}
