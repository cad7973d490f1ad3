import { InvalidArgumentError } from 'commander';
import {
  type Description,
  type Diagnostic,
  type Evidence,
  type Recording,
  type Source,
} from '../core/internal.js';
import { readText } from './files.js';

/** The sources that a call names. */
export interface NamedSources {
  readonly openapi?: readonly string[];
  readonly har?: readonly NamedHar[];
  readonly sitemap?: readonly string[];
  readonly routes?: readonly string[];
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
  if (!/^\p{L}[\p{L}\p{N}._-]{0,63}$/u.test(person)) {
    throw new InvalidArgumentError('say whose recording it is, as in ines=ines.har or guest=guest.har');
  }
  if (['everyone', 'guests', 'signed-in', 'login', 'landing', 'none'].includes(person)) {
    throw new InvalidArgumentError(`${person} has a meaning of its own: call the person otherwise`);
  }
  return [...before, { person: person === 'guest' ? null : person, file }];
}

/** Reads all sources; gives what is wrong with them where one cannot be used. */
export async function readSources(
  named: NamedSources,
  folder: string,
): Promise<Evidence | { readonly faults: readonly Diagnostic[] }> {
  const { readHar, readOpenApi, readRoutes, readSitemap } = await import('../sources/index.js');
  const faults: Diagnostic[] = [];
  const read = <Found extends object>(
    file: string,
    reader: (source: Source) => Found | Diagnostic,
  ): Found[] => {
    const source = readText(file, folder, false, LARGEST);
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
  return faults.length > 0 ? { faults } : { recordings, descriptions };
}

function isDiagnostic(found: object): found is Diagnostic {
  return 'severity' in found && 'code' in found;
}
