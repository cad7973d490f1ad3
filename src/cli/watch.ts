import { accessSync, constants } from 'node:fs';
import { basename, dirname, join, resolve, sep } from 'node:path';
import type { Command } from 'commander';
import type { FSWatcher } from 'chokidar';
import { policyOf, type Request } from './files.js';
import { printable } from '../render/style.js';
import { CannotWatch, reasonOf } from './status.js';
import type { Terminal } from './terminal.js';

export interface WatchOptions {
  readonly watch?: boolean;
}

/** Declares `--watch`. */
export function withWatch(command: Command): Command {
  return command.option('--watch', 'run again whenever the policy or its walks change; end with Ctrl-C');
}

/** An editor writes a file in several steps: what comes so close together is one change. */
const SETTLE_MILLISECONDS = 100;

/** How often it is looked whether a folder that was gone is there again. */
const LOOK_MILLISECONDS = 500;

/** Does something as soon as what is read has changed since, if it ever does. */
export type WhenChanged = (act: () => void) => void;

/**
 * Runs once or, with `--watch`, again after every change until it is interrupted; the status is that of the last run.
 *
 * @param run is told how to learn that what it works on has changed meanwhile
 * @throws CannotWatch where standard input is to be watched.
 */
export async function watching(
  request: Request,
  options: WatchOptions,
  terminal: Terminal,
  run: (whenChanged: WhenChanged) => Promise<number>,
): Promise<number> {
  if (options.watch !== true) return run(() => undefined);
  if ([request.policy, ...request.walks].includes('-')) throw new CannotWatch();
  // Watched before the first run, so that no change between reading and watching is lost.
  const changes = new Changes(await watchedFor(request, terminal));
  try {
    for (;;) {
      changes.forget();
      const status = await run((act) => {
        changes.whenChanged(act);
      });
      if (!changes.isPending) terminal.err.write('watching for changes, Ctrl-C ends\n');
      if (!(await changes.next())) return status;
    }
  } finally {
    await changes.close();
  }
}

/** Does something after every change of what a request reads, until what it gives is called. */
export async function whenChanged(
  request: Request,
  terminal: Terminal,
  act: () => void,
): Promise<() => Promise<void>> {
  const changes = new Changes(await watchedFor(request, terminal));
  const goOn = () => {
    changes.forget();
    changes.whenChanged(() => {
      act();
      goOn();
    });
  };
  goOn();
  return () => changes.close();
}

/** Folders that are watched, and what watches them. */
interface Watched {
  readonly watcher: FSWatcher;
  readonly folders: ReadonlySet<string>;
}

/** Watches what a request reads, whether it is there by now or comes later. */
async function watchedFor(request: Request, terminal: Terminal): Promise<Watched> {
  const { watch } = await import('chokidar');
  const policy = resolve(request.folder, policyOf(request) ?? 'cavrin.yaml');
  const files = new Set([policy, ...request.walks.map((name) => resolve(request.folder, name))]);
  // Folders are watched, since editors put a new file in the place of the old one, and a walk that is added counts too.
  const folders = new Set([...files].map((file) => dirname(file)));
  const home = dirname(policy);
  const walks = join(home, 'walks');
  const isWalk = (path: string) =>
    request.walks.length === 0 &&
    (path === walks ||
      path.startsWith(`${walks}${sep}`) ||
      (dirname(path) === home && /^walks\.ya?ml$/i.test(basename(path))));
  const watcher = watch([...folders], {
    ignored: (path) => !folders.has(path) && !files.has(path) && !isWalk(path),
    ignoreInitial: true,
  });
  const told = new Set<string>();
  watcher.on('error', (error) => {
    const { path = 'a folder' } = error as NodeJS.ErrnoException;
    const words = `${printable(path)} cannot be watched: ${reasonOf(error)}; changes there are not seen\n`;
    if (!told.has(words)) terminal.err.write(words);
    told.add(words);
  });
  await new Promise<void>((ready) => watcher.once('ready', ready));
  return { watcher, folders };
}

/** The changes that a watcher tells of, one after another, until the program is told to end. */
class Changes {
  isPending = false;
  private isEnded = false;
  private changed: () => void = () => undefined;
  private goOn: () => void = () => undefined;
  private timer: NodeJS.Timeout | undefined;

  private readonly looking: NodeJS.Timeout;
  private readonly gone = new Set<string>();

  constructor(private readonly watched: Watched) {
    // What can no longer be watched has changed, too.
    watched.watcher.on('all', this.noted).on('error', this.noted);
    // While a folder is gone nothing is watched, and nothing else would keep the program waiting.
    this.looking = setInterval(this.lookForFolders, LOOK_MILLISECONDS);
    // From the beginning, since a run may end by the same signal.
    process.on('SIGINT', this.end).on('SIGTERM', this.end).on('SIGHUP', this.end);
  }

  async close(): Promise<void> {
    clearTimeout(this.timer);
    clearInterval(this.looking);
    process.off('SIGINT', this.end).off('SIGTERM', this.end).off('SIGHUP', this.end);
    await this.watched.watcher.close();
  }

  /** What changed up to now is about to be read. */
  forget(): void {
    this.isPending = false;
    this.changed = () => undefined;
  }

  /** Does something at the next change, or at once where one came already. */
  whenChanged(act: () => void): void {
    this.changed = act;
    if (this.isPending) act();
  }

  /** Waits for a change since then; false where the program is told to end instead. */
  async next(): Promise<boolean> {
    if (this.isEnded) return false;
    if (!this.isPending) {
      await new Promise<void>((settle) => {
        this.goOn = settle;
      });
    }
    return !this.isEnded;
  }

  private readonly noted = () => {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      this.isPending = true;
      this.changed();
      this.goOn();
    }, SETTLE_MILLISECONDS);
  };

  /** A folder that comes back is watched anew. */
  private readonly lookForFolders = () => {
    const { folders, watcher } = this.watched;
    for (const folder of folders) {
      if (!canBeListed(folder)) this.gone.add(folder);
      else if (this.gone.delete(folder)) {
        watcher.add(folder);
        this.noted();
      }
    }
  };

  /** A run that goes on has its own way to end, and still tells what it came to. */
  private readonly end = () => {
    this.isEnded = true;
    this.goOn();
  };
}

function canBeListed(folder: string): boolean {
  try {
    accessSync(folder, constants.R_OK | constants.X_OK);
    return true;
  } catch {
    return false;
  }
}
