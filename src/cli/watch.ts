import { watch, type FSWatcher } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import type { Command } from 'commander';
import { filesOf, type Request } from './files.js';
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

/** Runs once or, with `--watch`, again after every change until it is interrupted; the status is that of the last run. */
export async function watching(
  request: Request,
  options: WatchOptions,
  terminal: Terminal,
  run: () => Promise<number>,
): Promise<number> {
  let status = await run();
  if (options.watch !== true) return status;
  for (;;) {
    terminal.err.write('watching for changes, Ctrl-C ends\n');
    if (!(await changed(request))) return status;
    status = await run();
  }
}

/** Waits for a change of the files; false where the program is told to end instead. */
async function changed(request: Request): Promise<boolean> {
  const files = filesOf(request).map((file) => resolve(request.folder, file));
  // Folders are watched, since editors put a new file in the place of the old one.
  const folders = new Map<string, Set<string> | null>();
  for (const file of files) {
    const names = folders.get(dirname(file)) ?? new Set<string>();
    folders.set(dirname(file), names.add(basename(file)));
  }
  const [policy] = files;
  // A walk that is added counts too.
  if (policy !== undefined && request.walks.length === 0) folders.set(join(dirname(policy), 'walks'), null);
  const watchers: FSWatcher[] = [];
  try {
    return await new Promise<boolean>((settle) => {
      const end = () => {
        settle(false);
      };
      process.once('SIGINT', end);
      process.once('SIGTERM', end);
      let timer: NodeJS.Timeout | null = null;
      for (const [folder, names] of folders) {
        const notice = (_event: string, name: string | null) => {
          if (names !== null && (name === null || !names.has(name))) return;
          if (timer !== null) clearTimeout(timer);
          timer = setTimeout(() => {
            process.off('SIGINT', end);
            process.off('SIGTERM', end);
            settle(true);
          }, SETTLE_MILLISECONDS);
        };
        try {
          watchers.push(watch(folder, notice));
        } catch {
          // A folder that is not there has nothing to watch.
        }
      }
    });
  } finally {
    for (const watcher of watchers) watcher.close();
  }
}
