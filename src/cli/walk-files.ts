import { lstatSync, readdirSync, realpathSync, statSync, type Stats } from 'node:fs';
import { dirname, join, resolve, sep } from 'node:path';
import { problem, type Diagnostic } from '../core/internal.js';
import { reasonOf } from './status.js';

/** What a path leads to: null where there is nothing, the reason where that cannot be told. */
export function kindOf(path: string): Stats | string | null {
  try {
    return statSync(path, { throwIfNoEntry: false }) ?? null;
  } catch (error) {
    // With a file where a folder should be there is nothing either.
    return (error as NodeJS.ErrnoException).code === 'ENOTDIR' ? null : reasonOf(error);
  }
}

/** What lies beside a policy: the walks that are read with it, what looks like walks and is not, and what cannot be told. */
interface Beside {
  readonly walks: readonly string[];
  readonly notRead: readonly string[];
  readonly faults: readonly Diagnostic[];
}

const YAML = /\.ya?ml$/i;

/** The files of walks beside a policy: in `walks`, at any depth, and `walks.yaml`. */
export function walksBeside(policy: string, folder: string): Beside {
  if (policy === '-') return { walks: [], notRead: [], faults: [] };
  const home = dirname(policy);
  const faults: Diagnostic[] = [];
  const names = namesIn(home, folder, faults);
  const files = names.filter((name) => /^walks\.ya?ml$/i.test(name)).map((name) => join(home, name));
  const below = join(home, 'walks');
  const kind = kindOf(resolve(folder, below));
  if (typeof kind === 'string') faults.push(problem('cannot-read', { file: below, reason: kind }, null));
  const isFolder = isFolderAt(resolve(folder, below));
  const notRead = names
    .filter((name) => /^walk(?:\.ya?ml)?$/i.test(name) || (name === 'walks' && !isFolder))
    .map((name) => join(home, name));
  if (!isFolder) return { walks: files, notRead, faults };
  const finding = new Finding(home, folder, faults);
  if (leavesProject(below, home, folder)) faults.push(problem('link-leaves', { file: below }, null));
  else finding.below(below);
  return { walks: [...finding.found, ...files], notRead, faults };
}

/** So many files of walks are read, of so many bytes in all: more is no project, and is not looked through. */
const MOST_FILES = 10_000;
export const MOST_BYTES = 64 * 1024 * 1024;

/** Looks for files of walks below a folder: each folder once, whatever links lead to it, and none that lies outside the project. */
class Finding {
  private readonly visited = new Set<string>();
  readonly found: string[] = [];

  constructor(
    private readonly home: string,
    private readonly folder: string,
    private readonly faults: Diagnostic[],
  ) {
    // A link to a folder above leads round.
    for (let above = realpathSync(resolve(folder, home)); ; above = dirname(above)) {
      const kind = kindOf(above);
      if (kind !== null && typeof kind !== 'string') this.visited.add(identityOf(kind));
      if (above === dirname(above)) return;
    }
  }

  below(name: string): void {
    const kind = kindOf(resolve(this.folder, name));
    if (kind === null || typeof kind === 'string') return;
    if (this.visited.has(identityOf(kind))) return;
    this.visited.add(identityOf(kind));
    for (const each of namesIn(name, this.folder, this.faults)) {
      if (this.found.length >= MOST_FILES) {
        this.faults.push(problem('too-many-walks', { folder: name }, null));
        return;
      }
      this.take(join(name, each));
    }
  }

  /** A folder is gone through, a file of walks is taken. */
  private take(path: string): void {
    const kind = kindOf(resolve(this.folder, path));
    if (typeof kind === 'string' && !YAML.test(path)) {
      // It may be a folder full of walks.
      this.faults.push(problem('cannot-read', { file: path, reason: kind }, null));
    } else if (kind === null || typeof kind === 'string' || !kind.isDirectory()) {
      if (YAML.test(path)) this.found.push(path);
    } else if (leavesProject(path, this.home, this.folder)) {
      this.faults.push(problem('link-leaves', { file: path }, null));
    } else this.below(path);
  }
}

/**
 * Whether a name is a link that leads out of the project of a policy. Nobody named what lies there, it may be a stranger who had the
 * link made, and errors show lines of what is read.
 */
export function leavesProject(name: string, home: string, folder: string): boolean {
  const full = resolve(folder, name);
  try {
    if (lstatSync(full, { throwIfNoEntry: false })?.isSymbolicLink() !== true) return false;
    const project = projectOf(realpathSync(resolve(folder, home)));
    const real = realpathSync(full);
    return real !== project && !real.startsWith(project.endsWith(sep) ? project : project + sep);
  } catch {
    // What leads round or nowhere, or is closed, is told when it is read.
    return false;
  }
}

function identityOf({ dev, ino }: Stats): string {
  return `${dev} ${ino}`;
}

/** The folder of the repository that a folder lies in, or the folder itself where it lies in none. */
function projectOf(home: string): string {
  for (let here = home; ; here = dirname(here)) {
    if (kindOf(join(here, '.git')) !== null) return here;
    if (here === dirname(here)) return home;
  }
}

function isFolderAt(path: string): boolean {
  const kind = kindOf(path);
  return kind !== null && typeof kind !== 'string' && kind.isDirectory();
}

/** The names in a folder that is there; one that cannot be listed is told of, since walks may be in it. */
function namesIn(name: string, folder: string, faults: Diagnostic[]): string[] {
  try {
    return readdirSync(resolve(folder, name)).sort();
  } catch (error) {
    faults.push(problem('cannot-read', { file: name, reason: reasonOf(error) }, null));
    return [];
  }
}
