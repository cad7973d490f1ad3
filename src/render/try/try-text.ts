import {
  formatDuration,
  holdingsOf,
  type AppState,
  type BrowserState,
  type Seconds,
  type Stage,
  type Trial,
  type YamlText,
} from '../../core/internal.js';
import { flow } from '../columns.js';
import { heldText, holdingWords } from '../messages-text.js';
import { paletteOf, printable, type Look } from '../style.js';
import { triedStepTexts } from '../walks-text.js';

/** The last step that was tried: what was asked and what came of it, and what the browser holds after it. */
export function answerText(stage: Stage, trial: Trial, policy: YamlText, look: Look): string {
  const last = trial.results.at(-1);
  if (last === undefined) return '';
  // Laid out with what is likely to be in sight above it.
  const [lines = []] = triedStepTexts(
    { walk: trial.walk, results: trial.results.slice(-IN_SIGHT) },
    policy,
    look,
  ).slice(-1);
  return text([...lines, ...heldText(last, stage, paletteOf(look), look)]);
}

const IN_SIGHT = 20;

/** Every step that was tried, a line each. */
export function triedText(trial: Trial, policy: YamlText, look: Look): string {
  if (trial.results.length === 0) return 'no step was tried yet\n';
  return text(triedStepTexts(trial, policy, look).flat());
}

/** Where everybody is. */
export interface Whereabouts {
  readonly stage: Stage;
  readonly state: AppState;
  readonly time: Seconds;
  readonly browsers: readonly {
    readonly name: string;
    readonly browser: BrowserState;
    readonly account: string | null;
  }[];
}

/** Each browser with its page and what it holds, and what has become of the app: accounts, switches, the clock. */
export function whereaboutsText({ stage, state, time, browsers }: Whereabouts, look: Look): string {
  const palette = paletteOf(look);
  const { policy } = stage.app;
  const lines = [`the clock stands at ${formatDuration(time)}`];
  for (const { name, browser, account } of browsers) {
    const { page } = browser.tab;
    const shows = page === null ? 'shows no page' : `shows ${page.address.path}${page.address.query}`;
    lines.push(`${name}: ${shows}, last seen as ${account ?? 'a guest'}`);
    for (const held of holdingsOf(stage, state, browser, time)) lines.push(`    ${holdingWords(held)}`);
  }
  for (const [name, account] of state.accounts) {
    const before = policy.accounts.get(name);
    const roles = account.given.join(', ') || 'none';
    if (before === undefined) lines.push(`account ${name}: made since, roles ${roles}`);
    else if (before.state !== account.state) lines.push(`account ${name}: ${account.state}`);
    else if (before.given.join(', ') !== account.given.join(', ')) {
      lines.push(`account ${name}: roles ${roles}`);
    }
  }
  for (const name of policy.accounts.keys()) {
    if (!state.accounts.has(name)) lines.push(`account ${name}: taken away`);
  }
  if (state.flags.size > 0) lines.push(`switched on: ${[...state.flags].join(', ')}`);
  return text(
    lines.flatMap((line) =>
      flow(printable(line).split(/ (?! )/), look.width, ' ').map((part, at) =>
        at === 0 ? part : palette.quiet(`    ${part}`),
      ),
    ),
  );
}

/** The steps that come out otherwise under another policy, each before and after; empty where none does. */
export function changedText(
  before: { readonly trial: Trial; readonly input: YamlText },
  after: { readonly trial: Trial; readonly input: YamlText },
  look: Look,
): string {
  const palette = paletteOf(look);
  const lines: string[] = [];
  const now = triedStepTexts(after.trial, after.input, look);
  triedStepTexts(before.trial, before.input, look).forEach((was, at) => {
    const is = now[at] ?? [];
    // Lines of the policy may have moved, and what decides may stand elsewhere now: that alone is no change.
    if (bare(was) === bare(is)) return;
    lines.push(palette.bad(`step ${at + 1} was`), ...was, palette.good('  and is now'));
    lines.push(...(is.length === 0 ? ['    not played: a step before it cannot be'] : is));
  });
  return text(lines);
}

function bare(lines: readonly string[]): string {
  return lines
    .join(' ')
    .replace(/\(line \d+[^)]*\)/g, '')
    .replace(/\s+/g, ' ');
}

function text(lines: readonly string[]): string {
  return lines.map((line) => `${line.trimEnd()}\n`).join('');
}
