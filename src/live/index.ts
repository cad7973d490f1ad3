export { runLive } from './live-run.js';
export type { RunProgress } from './run-options.js';
export { badSelectors } from './selectors.js';
export { Interrupted } from './ended-by-signal.js';
export { RunEnded } from './run-ended.js';
export { learn, type FirstLive, type LearnOptions } from './learn/learn.js';
export type { Looker } from './learn/learnt.js';
export { lookRound, type LookRoundOptions } from './look-round/look-round.js';
export type { RoundRecording } from './look-round/round.js';
