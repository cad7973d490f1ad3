import { indexOf, initialState, type AppState } from '../app/app.js';
import { pathOf } from '../app/endpoints.js';
import { RIGHT_CODE } from '../app/second-factor.js';
import type { Task } from '../app/tasks.js';
import type { Decided } from '../app/respond-to.js';
import { NEW_BROWSER, type BrowserState } from '../browser/state.js';
import type { HttpRequest } from '../http/messages.js';
import { writtenStep, type Administration } from '../steps/all-steps.js';
import type { WrittenStep } from '../steps/typed.js';
import type { Step } from '../steps/walk.js';
import { answered, type Answered, type Stage } from '../play/stage.js';
import { formatDuration, type Seconds } from '../time/duration.js';
import { playSteps, playStep, type StepResult } from './runner.js';
import { expectingWhatCame, readSteps } from './trial.js';
import { newcomerOf } from '../steps/asking.js';

/** Something that happened to an app that runs: a request of some browser, or what only its keeper can do. */
export type Happening = {
  /** Seconds since the app was as at the start. */
  readonly time: Seconds;
} & (
  | {
      readonly what: 'request';
      readonly browser: string;
      readonly request: HttpRequest;
      readonly decided: Decided;
      /** The app as it was before. */
      readonly before: AppState;
    }
  | { readonly what: 'administration'; readonly administration: Administration }
);

/** What happened, as a walk: its steps, each expecting what came of it when it was played again. */
export interface RecordedWalk {
  readonly steps: readonly Step[];
  /** What could not be written as a step, or comes out otherwise when it is played, each in words. */
  readonly unlike: readonly string[];
}

/** The browser of a walk that names none. */
const FIRST = 'browser';

/**
 * Makes a walk of what happened: the requests of each browser, the time that passed, and what was done to the app.
 *
 * @param shortest the pause, in seconds, from which on a walk waits
 */
export function recordedWalk(
  stage: Stage,
  happenings: readonly Happening[],
  shortest: Seconds = 1,
): RecordedWalk {
  const replay = new Replay(stage, shortest);
  for (const happening of happenings) replay.take(happening);
  const { steps } = playSteps(stage, replay.steps);
  return { steps: steps.map(expectingWhatCame), unlike: replay.unlike };
}

/** Plays what happened again, step by step, and takes the requests that a step makes by itself for part of it. */
class Replay {
  readonly steps: Step[] = [];
  readonly unlike: string[] = [];
  private state: AppState;
  private time: Seconds = 0;
  private readonly browsers = new Map<string, BrowserState>();
  private readonly signUps: WrittenStep[] = [];
  /** What the last step of each browser asks for besides, as it is simulated. */
  private readonly awaited = new Map<string, Answered[]>();

  constructor(
    private readonly stage: Stage,
    private readonly shortest: Seconds,
  ) {
    this.state = initialState(stage.app.policy);
  }

  take(happening: Happening): void {
    if (happening.what === 'administration') {
      this.waitUntil(happening.time, FIRST);
      this.play({ [happening.administration.verb]: writtenStep(happening.administration) });
      return;
    }
    const { browser, request, decided } = happening;
    const own = answered({ request, ...decided });
    if (this.isAwaited(browser, own)) return;
    const written = stepFor(this.stage, happening, (name) => this.passwordOf(name));
    if (written === null) return;
    if (typeof written === 'string') {
      this.unlike.push(`${own.method} ${own.target}: ${written}`);
      return;
    }
    this.waitUntil(happening.time, browser);
    const result = this.play({ ...written, ...(browser === FIRST ? {} : { in: browser }) });
    if (result === null) return;
    const exchanges = result.played.exchanges.map(answered);
    const at = exchanges.findIndex((each) => isSameRequest(each, own));
    if (at < 0) {
      this.unlike.push(
        `step ${this.steps.length} does not ask for ${own.method} ${own.target}, which was asked for`,
      );
    } else {
      this.compare(exchanges[at], own);
    }
    this.awaited.set(browser, exchanges.slice(at + 1));
  }

  /** Whether the step before asks for it too: then it is part of that. */
  private isAwaited(browser: string, own: Answered): boolean {
    const awaited = this.awaited.get(browser) ?? [];
    const at = awaited.findIndex((each) => isSameRequest(each, own));
    if (at < 0) return false;
    this.compare(awaited[at], own);
    this.awaited.set(browser, awaited.slice(at + 1));
    return true;
  }

  /** The password with which a step logs an account in that names none; null for nobody's. */
  private passwordOf(name: string): string | null {
    const signedUp = this.steps.flatMap(({ action }) => newcomerOf(action) ?? []);
    const own = signedUp.findLast(({ account }) => account === name);
    if (own !== undefined) return own.password;
    return this.stage.app.policy.accounts.get(name)?.password ?? null;
  }

  private compare(simulated: Answered | undefined, own: Answered): void {
    if (simulated === undefined) return;
    if (simulated.status === own.status && simulated.seenAs === own.seenAs) return;
    const words = ({ status, seenAs }: Answered) => `${status} as ${seenAs}`;
    this.unlike.push(
      `step ${this.steps.length}: ${own.method} ${own.target} was answered with ${words(own)}, and is with ${words(simulated)} when it is played`,
    );
  }

  private waitUntil(time: Seconds, browser: string): void {
    const pause = Math.floor(time - this.time);
    if (pause < this.shortest) return;
    this.play({ wait: formatDuration(pause), ...(browser === FIRST ? {} : { in: browser }) });
  }

  private play(written: WrittenStep): StepResult | null {
    // Who has signed up can be named from then on.
    const read = readSteps(this.stage.app.policy, [...this.signUps, written]);
    const step = 'faults' in read ? undefined : read.steps.at(-1);
    if (step === undefined) {
      const fault = 'faults' in read ? (read.faults[0]?.message ?? '') : '';
      this.unlike.push(`${JSON.stringify(written)} cannot be written as a step: ${fault}`);
      return null;
    }
    const from = this.browsers.get(step.browser) ?? NEW_BROWSER;
    const result = playStep(this.stage, this.state, from, step, this.time);
    if (result.impossible !== null) {
      this.unlike.push(`${JSON.stringify(written)} cannot be played: ${result.impossible}`);
      return null;
    }
    this.steps.push(step);
    if (newcomerOf(step.action) !== null) this.signUps.push({ 'sign-up': written['sign-up'] });
    this.time = result.time;
    this.state = result.played.state;
    this.browsers.set(step.browser, result.played.browser);
    return result;
  }
}

function isSameRequest(one: Answered, other: Answered): boolean {
  return one.method === other.method && one.target === other.target;
}

type Asked = Extract<Happening, { what: 'request' }>;

/** The step that makes a request: null for none of its own, or in words why there is none. */
function stepFor(
  { app: { policy } }: Stage,
  { request, decided, before }: Asked,
  passwordOf: (name: string) => string | null,
): WrittenStep | null | string {
  const { method, path, query, form } = request;
  const field = (name: string) => form.get(name) ?? '';
  if (method === 'HEAD' || method === 'OPTIONS') return null;
  const sent = { send: `${method} ${path}${query}` };
  // A form that was sent without what it asks for nobody has filled in.
  const task = decided.route?.task ?? null;
  const needed = task === null ? undefined : FIELDS[task];
  if (method !== 'GET' && needed !== undefined && field(needed) === '') return sent;
  switch (task) {
    case 'login':
      return method === 'GET' ? { visit: `${path}${query}` } : loginStep(request, before, passwordOf);
    case 'code':
      return { code: field('code') === RIGHT_CODE ? 'right' : 'wrong' };
    case 'logout': {
      const [first] = policy.logout?.submits ?? [];
      const isFirst = first !== undefined && first.method === method && pathOf(first.path) === path;
      return isFirst ? { logout: null } : sent;
    }
    case 'sign-up':
      return { 'sign-up': { as: field('account'), password: field('password') } };
    case 'change-password': {
      const old = form.get('old-password');
      return { 'change-password': { ...(old === undefined ? {} : { old }), new: field('password') } };
    }
    case 'ask-reset':
      return { 'ask-reset': field('account') };
    case 'ask-link':
      return { 'ask-link': field('account') };
    case 'confirm':
    case 'open-link':
    case 'reset':
      return linkStep(task, request, decided.response.status, before);
    case 'refresh':
    case 'revoke':
      // Script does so by itself.
      return null;
    case 'provider-start':
    case 'provider-back':
      return 'what is done at an identity provider is not recorded';
    default: {
      const machine = machineOf(request, before);
      if (machine !== null) return { send: { request: sent.send, ...machine } };
      if (request.crossOrigin) return 'what other sites bring about is not recorded';
      return method === 'GET' && request.accept === 'text/html' ? { visit: `${path}${query}` } : sent;
    }
  }
}

/** The field without which a form was not filled in. */
const FIELDS: Partial<Record<Task, string>> = {
  login: 'account',
  code: 'code',
  'sign-up': 'account',
  'change-password': 'password',
  'ask-reset': 'account',
  'ask-link': 'account',
};

function loginStep(
  { form }: HttpRequest,
  { accounts }: AppState,
  passwordOf: (name: string) => string | null,
): WrittenStep | string {
  const name = form.get('account') ?? '';
  const given = form.get('password') ?? '';
  const usual = passwordOf(name);
  if (usual === null) return 'nobody has that name, and a walk logs in by names that there are';
  // One that is right by now stands in the walk; a wrong one is nobody's business.
  const written = accounts.get(name)?.password === given ? given : 'wrong';
  const more = {
    ...(given === usual ? {} : { password: written }),
    ...(form.has('role') ? { role: form.get('role') } : {}),
    ...(form.get('remember') === 'yes' ? { remember: true } : {}),
  };
  return { login: Object.keys(more).length === 0 ? name : { as: name, ...more } };
}

/** A link that was sent, opened: whose it is the app knows. */
function linkStep(
  task: Task,
  { path, method, form }: HttpRequest,
  status: number,
  { links }: AppState,
): WrittenStep | null | string {
  const link = links[indexOf('link', path.split('/').at(-1) ?? '')];
  if (link === undefined) return 'it is no link that was sent';
  if (task === 'confirm') return { confirm: link.account };
  if (task === 'open-link') return { 'open-link': link.account };
  // The form that the link shows is filled in by the same step; a link that is over shows none.
  if (method === 'GET' && status >= 300) return { reset: { as: link.account, password: 'another-1' } };
  return method === 'GET' ? null : { reset: { as: link.account, password: form.get('password') ?? '' } };
}

function machineOf(
  { apiKey, authorization }: HttpRequest,
  { keys }: AppState,
): { readonly key: string; readonly old?: true } | null {
  const indexes = [apiKey, authorization.replace(/^Bearer /, '')].map((handle) => indexOf('key', handle));
  const at = indexes.find((index) => keys[index] !== undefined);
  const account = at === undefined ? undefined : keys[at]?.account;
  if (at === undefined || account === undefined) return null;
  const isOld = keys.some((key, index) => index > at && key.account === account);
  return { key: account, ...(isOld ? { old: true as const } : {}) };
}
