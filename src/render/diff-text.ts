import { SHOWN, type PolicyChange, type PolicyDiff } from '../core/internal.js';
import type { DiffJson } from './json-formats.js';
import { count, paletteOf, printable, type Look, type Palette } from './style.js';
import { jsonText } from './json.js';

const KINDS = [
  ['widened', 'Access widened: they now see what they did not'],
  ['narrowed', 'Access narrowed: they no longer see what they did'],
  ['moved', 'Refused or sent elsewhere than before'],
] as const;

/** What changed for whom, in words: first what was widened. */
export function diffText(diff: PolicyDiff, names: readonly [old: string, next: string], look: Look): string {
  const palette = paletteOf(look);
  const lines: string[] = [];
  for (const [kind, title] of KINDS) {
    const changes = diff.changes.filter((change) => change.kind === kind);
    if (changes.length === 0) continue;
    const tint = kind === 'widened' ? palette.bad : kind === 'narrowed' ? palette.careless : palette.strong;
    lines.push(tint(title), ...together(changes).map((line) => `  ${line}`), '');
  }
  const left = [
    [diff.onlyBefore, names[0]],
    [diff.onlyAfter, names[1]],
  ] as const;
  for (const [states, name] of left) {
    if (states.length === 0) continue;
    lines.push(palette.quiet(`only in ${printable(name)}, so not compared: ${printable(states.join(', '))}`));
  }
  return [...lines, summary(diff, palette), ''].join('\n');
}

/** One line for all states for which a page changed alike. */
function together(changes: readonly PolicyChange[]): string[] {
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
    return `${printable(states.join(', '))} at ${printable(where)}: ${was(before)}, ${now(after)}`;
  });
}

function was(cell: string | null): string {
  return cell === null ? 'there was no such page' : cell === SHOWN ? 'was shown' : `was ${words(cell)}`;
}

function now(cell: string | null): string {
  return cell === null ? 'now there is none' : `now ${words(cell)}`;
}

function words(cell: string): string {
  return cell.startsWith('/') ? `sent to ${printable(cell)}` : cell;
}

function summary(diff: PolicyDiff, palette: Palette): string {
  const number = (kind: PolicyChange['kind']) => diff.changes.filter((change) => change.kind === kind).length;
  if (diff.changes.length === 0) {
    return palette.good(`no change in ${count(diff.compared, 'cell')}`);
  }
  const parts = KINDS.map(([kind]) => `${number(kind)} ${kind}`).join(', ');
  return palette.bad(`${count(diff.changes.length, 'change')} in ${count(diff.compared, 'cell')}: ${parts}`);
}

/** The same in the format `cavrin/diff`. */
export function diffJson(diff: PolicyDiff, names: readonly [old: string, next: string]): string {
  const json: DiffJson = {
    format: 'cavrin/diff',
    version: 1,
    before: names[0],
    after: names[1],
    compared: diff.compared,
    onlyBefore: [...diff.onlyBefore],
    onlyAfter: [...diff.onlyAfter],
    changes: diff.changes.map((change) => ({ ...change })),
  };
  return jsonText(json);
}
