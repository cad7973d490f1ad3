import {
  audienceWords,
  formatDuration,
  isWritten,
  positionOf,
  SHOWN,
  type PolicyChange,
  type Bound,
  type BoundChange,
  type OneSided,
  type OutcomeDiff,
  type PolicyDiff,
  type SettingChange,
  type SettingValue,
  type Sides,
  type VerdictChange,
  type YamlText,
  type Path,
} from '../../core/internal.js';
import { endsWords, exposureWords, goalWords } from '../proof-words.js';
import { count } from '../style.js';

/** How two policies differ, in all respects that were looked at. */
export interface Compared {
  readonly app: string;
  /** How each was called for. */
  readonly names: Sides<string>;
  readonly inputs: Sides<YamlText>;
  readonly diff: PolicyDiff;
  readonly outcome: OutcomeDiff;
}

/** The kinds of changed access, the widest first, with what they mean. */
export const ACCESS_KINDS = [
  ['widened', 'Access widened: they now see what they did not'],
  ['narrowed', 'Access narrowed: they no longer see what they did'],
  ['moved', 'Sent, refused or shown otherwise than before'],
] as const;

/** One line for all states for which a page changed alike. */
export function accessLines(changes: readonly PolicyChange[]): string[] {
  const groups = new Map<string, { states: string[]; change: PolicyChange }>();
  for (const change of changes) {
    const key = JSON.stringify([change.method, change.page, change.before, change.after]);
    const group = groups.get(key) ?? { states: [], change };
    group.states.push(change.state);
    groups.set(key, group);
  }
  return [...groups.values()].map(({ states, change }) => {
    const { method, page, before, after } = change;
    const where = method === null ? page : `${method} ${page}`;
    return `${states.join(', ')} at ${where}: ${was(before)}, ${now(after)}`;
  });
}

function was(cell: string | null): string {
  return cell === null ? 'there was no such page' : cell === SHOWN ? 'was shown' : `was ${cellWords(cell)}`;
}

function now(cell: string | null): string {
  return cell === null ? 'now there is none' : `now ${cellWords(cell)}`;
}

function cellWords(cell: string): string {
  return cell.startsWith('/') ? `sent to ${cell}` : cell;
}

const MOST_PAGES = 6;

/** What somebody opens who is in only one of the policies. */
export function oneSidedWords({ state, opens }: OneSided): string {
  const more = opens.length - MOST_PAGES;
  const pages = `${opens.slice(0, MOST_PAGES).join(', ')}${more > 0 ? ` and ${count(more, 'more page')}` : ''}`;
  return opens.length === 0 ? `${state}: no more than a guest` : `${state}: opens ${pages}`;
}

/** A setting with its two values and lines: `session.idle: 30m (line 70), now 1h (line 71)`. */
export function settingWords({ name, before, after, at }: SettingChange, inputs: Sides<YamlText>): string {
  const old = `${valueWords(before)}${lineWords(at.before, before, inputs.before)}`;
  return `${name}: was ${old}, now ${valueWords(after)}${lineWords(at.after, after, inputs.after)}`;
}

export function valueWords(value: SettingValue): string {
  switch (value.is) {
    case 'absent':
      return 'not there';
    case 'present':
      return 'there';
    case 'duration':
      return value.seconds === null ? 'without limit' : formatDuration(value.seconds);
    case 'text':
      return value.text;
    case 'list':
      return value.items.length === 0 ? 'none' : value.items.join(', ');
    case 'audience':
      return `for ${audienceWords(value.audience)}`;
  }
}

/** The line of a setting; where it is not written, it is so by default. */
function lineWords(at: Path | null, value: SettingValue, input: YamlText): string {
  if (at === null) return '';
  if (isWritten(at, input)) return ` (line ${lineOf(at, input)})`;
  return value.is === 'absent' ? '' : ' (by default)';
}

export function lineOf(at: Path, input: YamlText): number {
  return positionOf(input.source, input.placeOf(at).start).line;
}

const VERDICTS = { holds: 'held', broken: 'was broken', open: 'was not settled' } as const;
const NOW = { holds: 'holds now', broken: 'is broken now', open: 'is not settled now' } as const;

/** What became of a law or promise: `logout-final held, is broken now`. */
export function verdictWords({ goal, before, after, ways }: VerdictChange): string {
  const name = goalWords(goal);
  if (before === 'broken' && after === 'broken') {
    return `${name} was broken, and is broken now in ${count(ways.length, 'more way')}`;
  }
  const old = before === null ? 'is promised now' : VERDICTS[before];
  return `${name} ${old}${after === null ? '' : `, ${NOW[after]}`}`;
}

/** An exposure as it was and is: `access token, after the logout: was 5m5s, now 1h5s`. */
export function boundWords({ before, after, ...exposure }: BoundChange): string {
  const { what, since } = exposureWords(exposure);
  return `${what}, after ${since}: was ${boundValue(before)}, now ${boundValue(after)}`;
}

function boundValue(bound: Bound): string {
  return bound === null ? 'not there' : endsWords(bound);
}

/** How many changes there are of each kind, in one line. */
export function totals({ diff, outcome }: Compared): string {
  const kinds = ACCESS_KINDS.map(
    ([kind]) => [kind, diff.changes.filter((each) => each.kind === kind).length] as const,
  );
  const settings = (['loosens', 'tightens', 'changes'] as const).map(
    (kind) => [DIRECTIONS[kind], diff.settings.filter(({ direction }) => direction === kind).length] as const,
  );
  const others = (
    [
      [diff.onlyBefore.length + diff.onlyAfter.length, 'login state of one only', 'login states of one only'],
      [outcome.verdicts?.length ?? 0, 'law or promise', 'laws and promises'],
      [outcome.bounds?.length ?? 0, 'bound', 'bounds'],
      [outcome.found.length + outcome.gone.length, 'finding', 'findings'],
    ] as const
  ).map(([number, one, many]) => [number === 1 ? one : many, number] as const);
  const parts = (all: readonly (readonly [string, number])[]) =>
    all.filter(([, number]) => number > 0).map(([name, number]) => `${number} ${name}`);
  const groups = [
    ['access', parts(kinds)],
    ['settings', parts(settings)],
    ['also', parts(others)],
  ] as const;
  return groups
    .filter(([, found]) => found.length > 0)
    .map(([name, found]) => `${name}: ${found.join(', ')}`)
    .join('; ');
}

const DIRECTIONS = { loosens: 'loosened', tightens: 'tightened', changes: 'changed' } as const;

/** The changed laws and promises, each with the walks that none before it has shown. */
export function verdictsWithWalks(outcome: OutcomeDiff): (readonly [VerdictChange, VerdictChange['ways']])[] {
  const shown = new Set<string>();
  return (outcome.verdicts ?? []).map((change) => {
    const fresh = change.ways.filter(({ steps }) => {
      const key = JSON.stringify(steps);
      const isNew = !shown.has(key);
      shown.add(key);
      return isNew;
    });
    return [change, fresh];
  });
}
