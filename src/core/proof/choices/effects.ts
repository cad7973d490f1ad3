// Step 3 of docs/proof-method.md: what is tried.

import { mayAct } from '../../app/acting.js';
import { admit } from '../../app/admit.js';
import { conditionsOf, apartFromPath } from '../../audience/all-conditions.js';
import type { App } from '../../app/app.js';
import { isShell } from '../../app/decision/audience.js';
import { decide } from '../../app/decision/decide.js';
import type { Question } from '../../app/decision/gate.js';
import { barrierBefore, stopsAt } from '../../app/barriers.js';
import { refusalFor } from '../../app/answer.js';
import { factsKey } from '../../app/classes.js';
import { GUEST, type Identity } from '../../app/identify.js';
import type { Reason } from '../../app/reasons.js';
import type { Route } from '../../app/router.js';
import { BEGINNING, type Clock } from '../../time/clock.js';
import { isSafe, type Method } from '../../http/messages.js';
import { lawBookOf } from '../../laws/law-book.js';
import type { Refusal } from '../../vocabulary/refusal.js';
import type { Barrier } from '../../language/policy.js';
import type { Stage } from '../../play/stage.js';
import { type Audience } from '../../vocabulary/audience.js';

/** Everybody whom somebody can be taken for who makes a request. */
export interface Viewers {
  readonly all: readonly Identity[];
  /** Whether what accounts hold may change: else whoever is shown something, or refused in its place, is so at any time. */
  readonly canChange: boolean;
}

/** What leaves whoever asked where they are, without anything more coming of it. */
const IN_PLACE = /^(?:shown *|refused|refused (?!401)\d+)$/;

/** To how many of some visitors something is shown. */
export function shownTo(stage: Stage, route: Route, method: Method, { all }: Viewers): number {
  return all.filter((viewer) => effectOn(stage, route, method, viewer).startsWith('shown')).length;
}

/**
 * What a request comes to for each of some visitors: whether something is shown and what its script does then, where they are
 * sent, or only that they are refused. Everything else that the app does for a request it does before it looks at the address.
 */
export function effectKey(
  stage: Stage,
  route: Route,
  method: Method,
  { all: viewers, canChange }: Viewers,
): string[] {
  const book = lawBookOf(stage);
  const exact = viewers.map((viewer) => effectOn(stage, route, method, viewer));
  const effects = canChange ? exact : exact.map((effect) => (IN_PLACE.test(effect) ? 'stays' : effect));
  const loaders = book
    .loadersOf(method, route)
    .flatMap(({ audience }) =>
      canChange ? viewers.map((viewer) => admitted(apartFromPath(audience), viewer, route)) : [],
    );
  const promised = book
    .promisesFor(route.path)
    .flatMap(({ at, withinSteps }) => (withinSteps === null && !canChange ? [] : at.join('.')));
  // What is promised of a page, or guests may do there, is seen without anything changing where nothing can.
  const isForGuests = canChange && route.page !== null && book.guestPages.has(route.page);
  return [
    effects.join(),
    passing(route),
    barriersAt(stage, route),
    `${route.kind} ${String(route.rule?.onlyHttps === true)} ${String(isForGuests)}`,
    loaders.join(),
    ...promised,
  ];
}

/** To which of some visitors something is shown that guests may not see. */
export function openedKey(stage: Stage, route: Route, method: Method, { all }: Viewers): string {
  if (admitted(route.grounds.audience, GUEST, route) === 'served') return '';
  const shown = all.map((viewer) => Number(effectOn(stage, route, method, viewer).startsWith('shown')));
  return shown.includes(1) ? `${shown.join('')} ${passing(route)} ${barriersAt(stage, route)}` : '';
}

/**
 * What an audience asks that changes by itself or for everybody at once: visitors are looked at as if it were so, and requests
 * with another of it are told apart by this text, which says too what becomes of those for whom it is not so.
 */
function passing({ grounds: { audience }, refusals }: Route): string {
  const turning = conditionsOf(audience).filter(({ condition }) => condition.turns !== undefined);
  if (turning.length === 0) return '';
  const refused = [refusals['stale-login'], refusals.role].map((each) => Object.values(each).join(' '));
  return JSON.stringify([
    turning.map(({ condition, value }) => [condition.key, condition.keyed(value)]),
    refused,
  ]);
}

/** Whether a visitor is in an audience, where that asks for nothing that changes by itself or for everybody at once. */
export function admitted(
  audience: Audience,
  viewer: Identity,
  { parameters }: Pick<Route, 'parameters'>,
): Reason {
  return admit(audience, asAsked(audience, viewer), parameters, JUST_NOW);
}

/** Stands for switches that stand as whatever is looked at asks. */
export const AS_ASKED: ReadonlySet<string> = new Set();

/** A visitor while the switches of the app stand as an audience asks. */
export function asAsked(audience: Audience, viewer: Identity): Identity {
  if (audience.who !== 'some' || audience.flags.size === 0 || viewer.flags !== AS_ASKED) return viewer;
  const on = [...audience.flags].flatMap(([flag, isOn]) => (isOn ? [flag] : []));
  return { ...viewer, flags: new Set(on) };
}

/** A clock for which everything happened just now. */
export const JUST_NOW: Clock = { now: BEGINNING, elapsed: () => false };

/** What a request comes to for a visitor: whether something is shown, where they are sent, or that they are refused. */
export function effectOn(stage: Stage, route: Route, method: Method, viewer: Identity): string {
  const question = new Supposed(stage.app, route, method, viewer);
  const { by, reason, barrier } = decide(question);
  switch (by) {
    case 'https':
    case 'trailing-slash':
      return 'sent on';
    case 'barrier':
      return barrier === undefined ? 'refused' : stopped(barrier, route);
    case 'task':
      return taskOf(stage, route, viewer);
    case 'method':
    case 'options':
      return 'refused';
    case 'page':
    case 'code-page':
      return shownBy(stage, question);
    default:
      return refused(route, viewer, reason);
  }
}

/** A request as it is looked at before anybody makes it: everything happened just now, and nothing hangs on where it comes from. */
class Supposed implements Question {
  readonly clock = JUST_NOW;

  constructor(
    readonly app: App,
    readonly route: Route,
    readonly method: Method,
    readonly visitor: Identity,
  ) {}

  /** Where requests are merged, what barriers stop there is told by which of them do. */
  stoppedBy(): Barrier | null {
    return this.visitor.flags === AS_ASKED
      ? null
      : barrierBefore(this.app, this.route, this.visitor, JUST_NOW);
  }

  admitted(): Reason {
    return admitted(this.route.grounds.audience, this.visitor, this.route);
  }

  /** Rules that are for https only are told apart. */
  isSecure(): boolean {
    return true;
  }

  isForeign(): boolean {
    return false;
  }

  openForm(): null {
    return null;
  }
}

/** What is done for a visitor at an address where the app does something of its own. */
function taskOf({ app: { policy } }: Stage, { task, login }: Route, viewer: Identity): string {
  const { impersonation } = policy;
  if (task === 'act-for' && impersonation !== null) return `${task} ${mayAct(impersonation, viewer.roles)}`;
  return login?.form ?? task ?? '';
}

/** What a page shows a visitor, and what its script does then. */
function shownBy(stage: Stage, question: Supposed): string {
  const { route, method, visitor: viewer } = question;
  const { page, grounds } = route;
  if (page === null) return 'refused';
  if (!isSafe(method)) {
    const sets = page.sets === null ? '' : ` sets ${factsKey(page.sets)}`;
    if (page.afterWrite.to !== null || sets !== '') return `shown sent ${page.afterWrite.to ?? ''}${sets}`;
  }
  // Whether it may be kept matters where not everybody may see it.
  const isOpen = grounds.audience.who === 'everyone' || grounds.audience.who === 'guests';
  const isKept = !isOpen && (route.cache ?? stage.app.policy.backButton) === 'cached';
  const loads = isSafe(method) ? page.loads.map(({ path }) => path) : [];
  const byScript = isShell(question);
  const parts = isSafe(method)
    ? page.parts.flatMap(({ at, audience }) =>
        admitted(audience.audience, viewer, route) === 'served' ? [at.join('.')] : [],
      )
    : [];
  const guard = byScript ? question.admitted() : '';
  const own = [isKept ? 'kept' : '', page.forward?.at.join('.') ?? '', guard, ...loads, ...parts];
  // Where script or a refused load sends people is its own affair where the page says so itself.
  const refusals = byScript || loads.length > 0 ? ownRefusals(stage, route) : '';
  return ['shown', ...own, ...(refusals === '' ? [] : [refusals])].join(' ');
}

/** Which barriers stop anybody at an address. */
export function barriersAt({ app }: Stage, route: Route): string {
  const { barriers } = app.policy;
  if (barriers.length === 0) return '';
  return barriers.map((each) => Number(stopsAt(app, each, route))).join('');
}

/** What comes of a barrier for somebody whom it stops. */
function stopped({ sends, answers, api }: Barrier, { kind }: Route): string {
  if (kind === 'api') return `refused ${api ?? ''}`;
  return sends === null ? `refused ${answers ?? ''}` : `path ${sends}`;
}

/** A refusal in place comes to nothing for a page; a call tells by the status whether to ask for a new token. */
function refused(route: Route, viewer: Identity, reason: Reason): string {
  const refusal = refusalFor(route, viewer, reason);
  const code = reason === 'code-needed' ? ' code' : '';
  if (refusal.to === 'status') return `refused${route.kind === 'api' ? ` ${refusal.status}` : ''}${code}`;
  const where = placeOf(refusal, route);
  return `${refusal.to}${where === undefined ? '' : ` ${where}`}${code}`;
}

/** The refusals of a page where they are not those of the policy. */
function ownRefusals({ app: { policy } }: Stage, { refusals, kind }: Route): string {
  return refusals === policy.refusals[kind] ? '' : JSON.stringify(refusals);
}

/** Where a refusal leads, as far as its word leaves that open. */
function placeOf(refusal: Refusal, { login }: Route): string | undefined {
  if (refusal.to === 'path') return refusal.path;
  if (refusal.to === 'login') return refusal.login;
  // At the page of a login its own entries go before those of the policy.
  return refusal.to === 'landing' && login !== null && login.landing.length > 0 ? login.form : undefined;
}
