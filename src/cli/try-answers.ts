import { dirname, join, resolve } from 'node:path';
import { existsSync, mkdirSync } from 'node:fs';
import { explainRequest, reachedPages, readRequestLine, TYPED, typedIn } from '../core/internal.js';
import { printable, type Look } from '../render/style.js';
import { answerText, triedText, whereaboutsText } from '../render/try/try-text.js';
import { requestWords } from '../render/step-words.js';
import { withWalk } from '../render/walk-yaml.js';
import { whyText } from '../render/why-text.js';
import { readText } from './files.js';
import { writeWhole } from './output.js';
import { CannotWrite, reasonOf } from './status.js';
import type { Terminal } from './terminal.js';
import { ASKED, askedBy, type Asked } from './try-words.js';
import {
  asExpected,
  browsersOf,
  nowOf,
  visitorIn,
  withSteps,
  withTyped,
  type Tried,
  type Wrong,
} from './try-session.js';

/** What comes of a line: something to show, and where that leads; or why nothing was done. */
export type Reply = Wrong | { readonly shown: string; readonly tried: Tried; readonly ends?: true };

/** What a line is answered with, besides what was tried. */
export interface Answering {
  readonly terminal: Terminal;
  readonly look: Look;
  /** The file of walks that is saved into. */
  readonly into: string;
}

/** Answers a line that somebody typed. */
export function replyTo(line: string, tried: Tried, answering: Answering): Reply {
  const { browser = 'browser', rest: body } = typedIn(line);
  const [, word = '', rest = ''] = /^(\S*)\s*(.*)$/.exec(body) ?? [];
  const asked = askedBy(word);
  if (asked !== null) return ANSWERS[asked]({ rest, browser, tried, ...answering });
  const after = withTyped(tried, line);
  if ('wrong' in after) return after;
  return { tried: after, shown: answerText(after.stage, after.trial, after.input, answering.look) };
}

interface Question extends Answering {
  readonly rest: string;
  readonly browser: string;
  readonly tried: Tried;
}

const ANSWERS: Readonly<Record<Asked, (question: Question) => Reply>> = {
  undo({ rest, tried, look }) {
    const many = rest === '' ? 1 : Number(rest);
    const { length } = tried.written;
    if (!/^\d*$/.test(rest) || many < 1) {
      return { wrong: `${rest} is no number of steps`, hint: 'type undo, or undo 3' };
    }
    if (many > length) {
      return {
        wrong:
          length === 0
            ? 'there is no step to take back'
            : `only ${length === 1 ? '1 step was' : `${length} steps were`} tried`,
        hint: 'steps shows them',
      };
    }
    const after = withSteps(tried, tried.written.slice(0, length - many));
    if ('wrong' in after) return after;
    return { tried: after, shown: triedText(after.trial, after.input, look) };
  },
  why({ rest, browser, tried, look }) {
    const { results } = tried.trial;
    const last = results.findLastIndex(
      ({ step, played }) => step.browser === browser && played.exchanges.length > 0,
    );
    const made = results[last]?.played.exchanges[0];
    if (rest === '' && made === undefined) {
      return { wrong: 'nothing was asked for yet', hint: 'type why GET /ledger' };
    }
    // What was asked for is explained as things stood then.
    const then =
      rest === '' ? { ...tried, trial: { ...tried.trial, results: results.slice(0, last) } } : tried;
    const who = visitorIn(then, browser);
    if (who === null) return noBrowser(browser, tried);
    const asked = readRequestLine(rest === '' && made !== undefined ? requestWords(made) : rest);
    if (typeof asked === 'string') return { wrong: asked, hint: 'type why GET /ledger' };
    const explained = explainRequest(tried.stage, who, asked.method, asked.address, who.browser.client);
    return { tried, shown: whyText(explained, who, tried.input, { ...look, all: false }) };
  },
  reaches({ browser, tried }) {
    const who = visitorIn(tried, browser);
    if (who === null) return noBrowser(browser, tried);
    const paths = reachedPages(tried.stage, who, who.time);
    return { tried, shown: paths.map((path) => `  ${printable(path)}\n`).join('') || '  no page\n' };
  },
  state({ tried, look }) {
    const { state, time } = nowOf(tried);
    const browsers = browsersOf(tried);
    return { tried, shown: whereaboutsText({ stage: tried.stage, state, time, browsers }, look) };
  },
  steps: ({ tried, look }) => ({ tried, shown: triedText(tried.trial, tried.input, look) }),
  save: ({ rest, tried, terminal, into }) => saved(rest, tried, into, terminal),
  again({ tried }) {
    const after = withSteps(tried, []);
    return 'wrong' in after ? after : { tried: after, shown: 'from a fresh start\n' };
  },
  help({ rest, tried }) {
    const typed = TYPED.get(rest);
    if (typed !== undefined) return { tried, shown: `${typed.usage}\n` };
    const asked = askedBy(rest);
    if (asked !== null) return { tried, shown: `${ASKED[asked].usage}: ${ASKED[asked].does}\n` };
    if (rest !== '') return { wrong: `${rest} is nothing that can be typed`, hint: 'help shows all' };
    return { tried, shown: helpText() };
  },
  quit: ({ tried }) => ({ tried, shown: '', ends: true }),
};

function noBrowser(name: string, tried: Tried): Wrong {
  const names = browsersOf(tried).map((each) => each.name);
  return { wrong: `no step was done in a browser called ${name}`, hint: `there are ${names.join(', ')}` };
}

/** Everything that can be typed. */
function helpText(): string {
  const width = Math.max(...Object.values(ASKED).map(({ usage }) => usage.length));
  return [
    'Steps, as walks have them:',
    ...[...TYPED.values()].map(({ usage }) => `  ${usage}`),
    'Each can be done elsewhere: in thief: visit /office',
    'and from another site or network: visit /berths from https://mail.example, connected from 10.1.2.3',
    '',
    'And:',
    ...Object.values(ASKED).map(({ usage, does }) => `  ${usage.padEnd(width)}  ${does}`),
    '',
  ].join('\n');
}

/** Writes what was tried as a walk, behind those that its file has. */
function saved(name: string, tried: Tried, into: string, terminal: Terminal): Reply {
  if (name === '') return { wrong: 'a walk has a name', hint: 'type save and what it shows' };
  if (tried.written.length === 0) return { wrong: 'there is nothing to save', hint: 'try a step first' };
  const path = resolve(terminal.folder, into);
  const isThere = existsSync(path);
  const before = isThere ? readText(into, terminal.folder, false) : null;
  if (before !== null && 'code' in before) {
    return { wrong: before.message, hint: before.hint ?? 'name another file with --into' };
  }
  const steps = asExpected(tried);
  const after = withWalk(before?.text ?? null, { name, steps });
  if (after === 'its name is there') {
    return { wrong: `${into} has a walk called ${name}`, hint: 'save under another name' };
  }
  if (after === 'no list of walks') {
    return {
      wrong: `${into} has no list of walks, a line each, to add to`,
      hint: 'name another file with --into',
    };
  }
  try {
    mkdirSync(dirname(path), { recursive: true });
    writeWhole(into, after.text, terminal);
  } catch (error) {
    // What was tried is not lost with it.
    const reason = error instanceof CannotWrite ? error.message : `cannot write ${into}: ${reasonOf(error)}`;
    return { wrong: reason, hint: 'nothing was saved' };
  }
  return {
    tried,
    shown: `wrote ${printable(name)} to ${printable(into)}: ${steps.length === 1 ? '1 step' : `${steps.length} steps`}\n`,
  };
}

/** Where walks are saved unless something else is asked for: among those that are read with the policy. */
export function usualFile(policy: string): string {
  return join(dirname(policy), 'walks', 'tried.yaml');
}
