import type { AppState } from '../../../src/core/app/app';
import type { BrowserState } from '../../../src/core/browser/state';
import type { Stage } from '../../../src/core/play/stage';
import { playSteps as played, policyText, project } from '../../support/policies';

const PAGES =
  'pages: { /: { for: everyone }, /in: { for: guests }, /desk: { for: [clerk] }, /api/a: { for: [clerk], kind: api } }';
const BOTH = 'login: { page: /in, submit: POST /in, by: both, attempts: { most: 2, within: 5m, pause: 7m } }';
export const MORE = (refresh: string, more = '') =>
  `tokens: { access: { life: 60s, leeway: 5s }, refresh: { ${refresh} }, roles: each-request, refresh-when: never${more} }\nremember: { life: 1d }`;
export const ROTATING = 'life: 10m, rotates: true, longest: 1h, grace: 30s';

export interface Played {
  readonly stage: Stage;
  readonly state: AppState;
  readonly browser: BrowserState;
  readonly time: number;
}

export function after(parts: Parameters<typeof policyText>[0], steps: readonly string[]): Played {
  const text = policyText(parts);
  const last = played(text, steps).steps.at(-1);
  if (last === undefined || last.impossible !== null) throw new Error(last?.impossible ?? 'no steps');
  const { state, browser } = last.played;
  return { stage: project(text).stage, state, browser, time: last.time };
}

export const LOGIN = '{ login: { as: ann, remember: true } }';
export const usual = {
  pages: PAGES,
  login: BOTH,
  session: 'session: { idle: 30m, absolute: 8h }',
  more: MORE(ROTATING),
};
