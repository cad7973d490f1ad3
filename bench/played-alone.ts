import { initialState } from '../src/core/app/app.js';
import { NEW_BROWSER, type BrowserState } from '../src/core/browser/state.js';
import type { Stage } from '../src/core/play/stage.js';
import { receiverOf } from '../src/core/steps/asking.js';
import type { Walk } from '../src/core/steps/walk.js';
import { playStep } from '../src/core/walks/runner.js';

/** Plays a walk by app and browser alone: no law looks at it. */
export function playedAlone(stage: Stage, { steps }: Walk): void {
  const browsers = new Map<string, BrowserState>();
  let state = initialState(stage.app.policy);
  let time = 0;
  for (const step of steps) {
    const receiver = receiverOf(step.action);
    const from = browsers.get(step.browser) ?? NEW_BROWSER;
    const other = browsers.get(receiver ?? '') ?? NEW_BROWSER;
    const { played, given, time: after } = playStep(stage, state, from, step, time, other);
    ({ state } = played);
    time = after;
    browsers.set(step.browser, played.browser);
    if (receiver !== null && given !== null) browsers.set(receiver, given);
  }
}
