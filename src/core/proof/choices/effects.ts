// Step 3 of docs/proof-method.md: what is tried.

import { admit } from '../../app/admit.js';
import { refusalFor } from '../../app/answer.js';
import { GUEST, type Identity } from '../../app/identify.js';
import type { Route } from '../../app/router.js';
import { BEGINNING, type Clock } from '../../time/clock.js';
import { isSafe, type Method } from '../../http/messages.js';
import { lawBookOf } from '../../laws/law-book.js';
import type { Stage } from '../../play/stage.js';

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
  const { audience } = route.grounds;
  const within = audience.who === 'some' ? (audience.loginWithin ?? '') : '';
  const exact = viewers.map((viewer) => effectOn(stage, route, method, viewer));
  const effects = canChange ? exact : exact.map((effect) => (IN_PLACE.test(effect) ? 'stays' : effect));
  const loaders = book
    .loadersOf(method, route)
    .flatMap(({ audiences: { read } }) =>
      read === null || !canChange
        ? []
        : viewers.map((viewer) => admit(read.audience, viewer, route.parameters, JUST_NOW)),
    );
  const promised = book
    .promisesFor(route.path)
    .flatMap(({ at, withinSteps }) => (withinSteps === null && !canChange ? [] : at.join('.')));
  // What is promised of a page, or guests may do there, is seen without anything changing where nothing can.
  const isForGuests = canChange && route.page !== null && book.guestPages.has(route.page);
  return [
    effects.join(),
    `${within}`,
    `${route.kind} ${String(route.rule?.onlyHttps === true)} ${String(isForGuests)}`,
    loaders.join(),
    ...promised,
  ];
}

/** To which of some visitors something is shown that guests may not see. */
export function openedKey(stage: Stage, route: Route, method: Method, { all }: Viewers): string {
  const { audience } = route.grounds;
  if (admit(audience, GUEST, route.parameters, JUST_NOW) === 'served') return '';
  const within = audience.who === 'some' ? (audience.loginWithin ?? '') : '';
  const shown = all.map((viewer) => Number(effectOn(stage, route, method, viewer).startsWith('shown')));
  return shown.includes(1) ? `${shown.join('')} ${within}` : '';
}

/** A clock for which everything happened just now. */
export const JUST_NOW: Clock = { now: BEGINNING, elapsed: () => false };

/** What a request comes to for a visitor: whether something is shown, where they are sent, or that they are refused. */
export function effectOn(stage: Stage, route: Route, method: Method, viewer: Identity): string {
  const { page, task, rule, grounds, taskMethods } = route;
  if (route.hasSlash) return 'sent on';
  const isMissing = (page === null && taskMethods.length === 0) || (page !== null && !route.isAnswered);
  const isShell = page?.guard === 'browser' && isSafe(method) && task === null && route.isAnswered;
  const reason =
    isShell || (isMissing && rule === null)
      ? 'served'
      : admit(grounds.audience, viewer, route.parameters, JUST_NOW);
  if (reason !== 'served') return refused(stage, route, viewer, reason);
  if (task !== null) return task;
  if (page !== null && !route.isAnswered) return 'refused';
  if (isMissing) return refused(stage, route, viewer, 'unknown-page');
  if (page === null) return 'refused';
  if (!isSafe(method) && page.afterWrite.to !== null) return `shown sent ${page.afterWrite.to}`;
  // Whether it may be kept matters where not everybody may see it.
  const isOpen = grounds.audience.who === 'everyone' || grounds.audience.who === 'guests';
  const isKept = !isOpen && (page.cache ?? stage.app.policy.backButton) === 'cached';
  const loads = isSafe(method) ? page.loads.map(({ path }) => path) : [];
  const guard = isShell ? admit(grounds.audience, viewer, route.parameters, JUST_NOW) : '';
  return ['shown', isKept ? 'kept' : '', page.forward?.at.join('.') ?? '', guard, ...loads].join(' ');
}

/** A refusal in place comes to nothing for a page; a call tells by the status whether to ask for a new token. */
function refused(
  stage: Stage,
  route: Route,
  viewer: Identity,
  reason: Parameters<typeof refusalFor>[3],
): string {
  const refusal = refusalFor(stage.app, route, viewer, reason);
  const code = reason === 'code-needed' ? ' code' : '';
  if (refusal.to === 'status') return `refused${route.kind === 'api' ? ` ${refusal.status}` : ''}${code}`;
  return `${refusal.to}${refusal.to === 'path' ? ` ${refusal.path}` : ''}${code}`;
}
