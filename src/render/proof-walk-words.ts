import type { Step } from '../core/internal.js';
import { actionWords } from './step-words.js';

/** The steps of a walk in one line; what comes several times in turn is counted. */
export function stepsWords(steps: readonly Step[]): string {
  const texts = steps.map((step) => {
    const isElsewhere = step.browser !== 'browser' && step.action.verb !== 'wait';
    return (isElsewhere ? `${step.browser}: ` : '') + actionWords(step);
  });
  const parts: string[] = [];
  for (let at = 0; at < texts.length;) {
    const pair = texts.slice(at, at + 2).join(', ');
    let times = 1;
    while (texts.slice(at + 2 * times, at + 2 * times + 2).join(', ') === pair) times += 1;
    parts.push(times > 1 ? `${times} times (${pair})` : (texts[at] ?? ''));
    at += times > 1 ? 2 * times : 1;
  }
  return parts.join(', ');
}
