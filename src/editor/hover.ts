import {
  audienceWords,
  gridOf,
  loadProject,
  positionOf,
  rowReasons,
  settingChanges,
  sourceOf,
  type Path,
  type Policy,
  type YamlText,
} from '../core/internal.js';
import { valueWords } from '../render/diff/diff-words.js';
import { columnsOf } from '../render/grid-columns.js';
import { markdownText } from '../render/markdown.js';
import { changeWords } from '../render/why-text.js';
import type { Reading } from './context.js';
import { cursorAt, type Cursor } from './cursor.js';
import { nameKindAt } from './naming.js';
import { schemasAt } from './schema-at.js';

/** What an editor shows of something, in Markdown. */
export interface Hover {
  readonly markdown: string;
  readonly start: number;
  readonly end: number;
}

/** What stands at an offset of a text: of a page who gets in and why, of a key what it is for and what is so without it. */
export async function hoverOf(
  text: string,
  offset: number,
  file: 'policy' | 'walks',
  { policy, input }: Reading,
): Promise<Hover | null> {
  const cursor = cursorAt(text, offset);
  if (cursor === null) return null;
  const lines = policy === null || input === null ? [] : await linesOf(cursor, file, policy, input);
  const about = cursor.isKey
    ? schemasAt(file, cursor.path).find(({ description }) => description)?.description
    : undefined;
  const all = [...(about === undefined ? [] : [about]), ...lines];
  return all.length === 0 ? null : { markdown: all.join('\n\n'), start: cursor.start, end: cursor.end };
}

async function linesOf(
  cursor: Cursor,
  file: 'policy' | 'walks',
  policy: Policy,
  input: YamlText,
): Promise<string[]> {
  const kind = nameKindAt(cursor.path, cursor.isKey);
  const name = cursor.text.split('?')[0] ?? '';
  if (kind === 'page') {
    const lines = pageLines(name, policy, input);
    if (lines.length > 0) return lines;
  }
  if (kind === 'role') {
    const role = policy.roles.get(name);
    if (role !== undefined) {
      return [markdownText(`the role ${name}, which holds ${[...role.holds].join(', ')}`)];
    }
  }
  if (kind === 'account') {
    const account = policy.accounts.get(name);
    if (account !== undefined) {
      return [
        markdownText(`the account ${name} (${account.state}): ${account.given.join(', ') || 'no role'}`),
      ];
    }
  }
  return file === 'policy' && cursor.isKey ? withoutIt(cursor.path, policy, input) : [];
}

/** Who gets what at a page, and why. */
function pageLines(name: string, policy: Policy, input: YamlText): string[] {
  const grid = gridOf(policy, 'GET', 'roles');
  const row = grid.rows.find(({ page }) => page === name);
  if (row === undefined) return [];
  const columns = columnsOf(grid);
  const states = columns.flatMap(({ at }) => grid.states[at]?.name ?? []);
  const reasons = rowReasons(policy, states).get(name);
  const grounds = reasons?.grounds ?? null;
  const line = grounds === null ? 0 : positionOf(input.source, input.placeOf(grounds.at).start).line;
  const head =
    grounds === null
      ? []
      : [markdownText(`GET ${name} is for ${audienceWords(grounds.audience)} (line ${line})`)];
  const cells = columns.map(({ at, heading }) => {
    const reason = reasons?.cells.find(({ state }) => state === grid.states[at]?.name);
    const cell = row.cells[at] ?? '';
    const [change] = reason?.changes ?? [];
    const why = cell === 'shown' || reason === undefined ? '' : ` (${reason.reason})`;
    const how = cell === 'shown' || change === undefined ? '' : `; to get in: ${changeWords(change)}`;
    return `- **${markdownText(heading)}**: ${markdownText(`${cell}${why}${how}`)}`;
  });
  return [...head, cells.join('\n')];
}

/** What is so where a key is left out: found by leaving it out. */
async function withoutIt(path: Path, policy: Policy, { value, source }: YamlText): Promise<string[]> {
  const left = JSON.stringify(leftOut(value, path));
  const { policy: other } = await loadProject(sourceOf(source.file, left), []);
  if (other === null) return ['It cannot be left out.'];
  const changes = settingChanges(policy, other);
  if (changes.length === 0) return ['Left out, it would be the same.'];
  return changes
    .slice(0, MOST_CHANGES)
    .map(({ name, before, after, direction }) =>
      markdownText(`${name}: ${valueWords(before)}. Left out: ${valueWords(after)}, which ${direction} it`),
    );
}

const MOST_CHANGES = 6;

function leftOut(value: unknown, [first, ...rest]: Path): unknown {
  if (first === undefined || typeof value !== 'object' || value === null) return value;
  if (Array.isArray(value)) {
    return value.map((each: unknown, at) => (at === first ? leftOut(each, rest) : each));
  }
  return Object.fromEntries(
    Object.entries(value).flatMap(([key, each]) =>
      key !== String(first) ? [[key, each]] : rest.length === 0 ? [] : [[key, leftOut(each, rest)]],
    ),
  );
}
