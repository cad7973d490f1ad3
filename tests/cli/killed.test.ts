import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Workplace, type Run } from '../support/program';
import { SOUND } from '../support/small-proofs';

const PRELOAD = join(__dirname, '../support/killed-while-writing.cjs');
/** More writes than any of these commands makes. */
const MOST_WRITES = 60;

/** What a command writes, and what stands there before. */
const COMMANDS: Readonly<
  Record<string, { readonly args: readonly string[]; readonly before: readonly string[] }>
> = {
  'an output over an older one': {
    args: ['grid', '--format', 'json', '--output', 'out.json'],
    before: ['out.json'],
  },
  'a new output': { args: ['draw', 'landings', '--output', 'out.svg'], before: [] },
  'the files of a new project': { args: ['init', 'fresh'], before: [] },
  'a draft': { args: ['draft', 'fresh', '--routes', 'routes.txt'], before: [] },
  'results that are kept': {
    args: ['prove', '--cache', 'kept', '--format', 'json', '--output', 'out.json'],
    before: [],
  },
};

/** All files below a folder that are no parts of a file to be. */
function filesIn(folder: string): Map<string, string> {
  const names = readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((each) => each.isFile() && !each.name.endsWith('.part'))
    .map((each) => join(each.parentPath, each.name));
  return new Map(names.map((name) => [name.slice(folder.length + 1), readFileSync(name, 'utf8')]));
}

interface Killed {
  readonly run: Run;
  readonly files: ReadonlyMap<string, string>;
  /** What the same call says afterwards, with the same folder. */
  readonly again: Run;
}

/** What a command leaves where it is killed at one of its writes, and what comes of it a second time. */
function killedAt(
  write: number,
  { args, before }: { args: readonly string[]; before: readonly string[] },
): Killed {
  const place = new Workplace();
  try {
    place.put('cavrin.yaml', SOUND);
    place.put('routes.txt', 'GET /desk\nGET /ledger/:number\n');
    for (const name of before) place.put(name, OLD);
    const env = {
      NODE_OPTIONS: `--require ${PRELOAD}`,
      KILL_AT: String(write),
      XDG_CACHE_HOME: place.folder,
    };
    const run = place.run(args, { env });
    return { run, files: filesIn(place.folder), again: place.run(args) };
  } finally {
    place.remove();
  }
}

const OLD = 'what was there';

test.each(Object.entries(COMMANDS))(
  'whenever the program is killed, all of this is whole or as it was: %s',
  (_, command) => {
    const whole = killedAt(MOST_WRITES, command);
    expect([whole.run.status, whole.run.err]).toEqual([0, '']);
    let write = 1;
    for (; ; write++) {
      const { run, files, again } = killedAt(write, command);
      if (run.status !== null) break;
      for (const [name, text] of files) {
        const isWhole = text === whole.files.get(name) || (command.before.includes(name) && text === OLD);
        expect([name, isWhole ? 'whole' : text]).toEqual([name, 'whole']);
      }
      // New files stand in nobody's way but by their names.
      expect([0, 2]).toContain(again.status);
      expect(again.err).toMatch(/^$|it is there already/);
    }
    expect(write).toBeGreaterThan(2);
    expect(write).toBeLessThan(MOST_WRITES);
  },
  120_000,
);
