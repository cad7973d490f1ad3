import {
  entrantOf,
  formatDuration,
  isPause,
  pauseSeconds,
  stepWords,
  taleOf,
  type Step,
} from '../core/internal.js';
import { actionWords } from './step-words.js';

/** The exact steps of a walk in one line; what comes several times in turn is counted. */
export function stepsWords(steps: readonly Step[]): string {
  const texts = steps.map((step) => {
    const isElsewhere = step.browser !== 'browser' && !isPause(step.action);
    return (isElsewhere ? `${step.browser}: ` : '') + actionWords(step);
  });
  return inTurn(texts)
    .map(({ part, times }) => (times > 1 ? `${times} times (${part.join(', ')})` : part.join(', ')))
    .join(', ');
}

/** Texts in order; two that come again and again are one part that comes so many times. */
function inTurn(texts: readonly string[]): { readonly part: readonly string[]; readonly times: number }[] {
  const parts: { part: readonly string[]; times: number }[] = [];
  for (let at = 0; at < texts.length;) {
    const pair = texts.slice(at, at + 2);
    let times = 1;
    while (
      texts.slice(at + 2 * times, at + 2 * times + 2).join('\n') === pair.join('\n') &&
      pair.length === 2
    ) {
      times += 1;
    }
    parts.push(times > 1 ? { part: pair, times } : { part: texts.slice(at, at + 1), times: 1 });
    at += times > 1 ? 2 * times : 1;
  }
  return parts;
}

/** What somebody does; null for what is done to an account. */
interface Told {
  readonly who: string | null;
  readonly deed: string;
  /** How it is told where it is done again and again. */
  readonly keeps: string;
  /** How it is told where it is the last: what still opens something. */
  readonly still: string;
}

/**
 * A walk as somebody would tell it: `ines logs in, a thief copies the session cookie, keeps visiting every 59m59s and is still
 * let in at /boats/ines`. Its last step is what still opens something.
 */
export function walkInWords(steps: readonly Step[]): string {
  const name = steps.flatMap(({ action }) => entrantOf(action)?.account ?? [])[0] ?? 'somebody';
  const lines: string[] = [];
  let subject: string | null = null;
  let pause = '';
  const texts = steps.map((step) => `${step.browser} ${stepWords(step.action)}`);
  let at = 0;
  for (const { part, times } of inTurn(texts)) {
    const told = steps.slice(at, at + part.length).map((step) => [step, toldOf(step, name)] as const);
    const isLast = at + part.length * times >= steps.length;
    at += part.length * times;
    if (times > 1 && told.some(([step]) => isPause(step.action))) {
      const again = told.find(([step]) => !isPause(step.action))?.[1];
      const every = told.find(([step]) => isPause(step.action))?.[0];
      if (again === undefined || every === undefined) continue;
      lines.push(`${pause}${subjectOf(again, subject)}${again.keeps} every ${waited(every)}`);
      [subject, pause] = [again.who, ''];
      continue;
    }
    for (const [step, each] of told) {
      if (isPause(step.action)) {
        pause = `${waited(step)} later `;
        continue;
      }
      // After a pause it is said again who does something.
      const who = subjectOf(each, pause === '' ? subject : null);
      lines.push(`${pause}${who}${isLast ? each.still : each.deed}${times > 1 ? ` ${times} times` : ''}`);
      [subject, pause] = [each.who, ''];
    }
  }
  return [lines.slice(0, -1).join(', '), lines.at(-1)].filter((part) => part !== '').join(' and ');
}

function subjectOf({ who }: Told, before: string | null): string {
  return who === null || who === before ? '' : `${who} `;
}

function waited({ action }: Step): string {
  const seconds = pauseSeconds(action);
  return seconds > 0 ? formatDuration(seconds) : stepWords(action);
}

/** @param name who the person is */
function toldOf({ action, browser }: Step, name: string): Told {
  const { who, deed, keeps, still } = taleOf(action);
  return {
    who: who === undefined ? (browser === 'browser' ? name : `the ${browser}`) : who,
    deed,
    keeps: keeps ?? `again and again ${deed}`,
    still: still ?? deed,
  };
}
