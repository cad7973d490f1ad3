import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { flagsAtFirst } from '../../../src/core/app/app';
import { endpointsOf } from '../../../src/core/app/endpoints';
import type { Route } from '../../../src/core/app/router';
import { addressFor, statesOf } from '../../../src/core/grid/grid';
import { askAs, type LoginState } from '../../../src/core/grid/login-state';
import { METHODS } from '../../../src/core/http/messages';
import { sampleAddress } from '../../../src/core/paths/coverage';
import { loadRegularLanguages } from '../../../src/core/paths/regular-language';
import type { Exchange, Stage } from '../../../src/core/play/stage';
import { effectOn } from '../../../src/core/proof/choices/effects';
import { decide } from '../../../src/core/why/admission';
import { EXAMPLES, HARBOUR, project } from '../../support/policies';
import { richPolicies } from '../../support/rich-policies';

// Whoever says what comes of a request without making it is held against the app, which makes it.

const SOUND = join(EXAMPLES, 'sound');
const FILES = [
  join(HARBOUR, 'cavrin.yaml'),
  join(EXAMPLES, 'fennel-row', 'cavrin.yaml'),
  ...readdirSync(SOUND).map((name) => join(SOUND, name)),
];

/** What the app says of a request before anything is asked that only it knows: its scheme, where it comes from, its own forms. */
const OF_ITS_OWN: ReadonlySet<string> = new Set(['insecure-scheme', 'csrf-refused']);

interface Compared {
  readonly differing: string[];
  readonly reasons: Map<string, number>;
}

function compare(stage: Stage, { differing, reasons }: Compared): void {
  const { policy } = stage.app;
  for (const { name, login } of statesOf(stage)) {
    for (const method of METHODS) {
      const addresses = new Set([
        ...policy.pages.map((page) => addressFor(stage, login, page, method, null)),
        ...policy.pages.map((page) => addressFor(stage, login, page, method, 'another')),
        ...endpointsOf(policy).map(({ pattern }) => sampleAddress(pattern, () => 'x')),
        '/not-there',
        '/not-there/',
      ]);
      for (const address of addresses) {
        const asked = firstOf(stage, login, method, address);
        if (asked === null || asked.route === null) continue;
        const by = (who: string, says: string) =>
          differing.push(
            `${name}: ${method} ${address}: the app says ${asked.explanation.reason}, ${who} ${says}`,
          );
        reasons.set(asked.explanation.reason, (reasons.get(asked.explanation.reason) ?? 0) + 1);
        const said = decide(stage, { method, address }, visitorOf(asked, login)).reason;
        // Of a guest the library takes the switches to stand as at first.
        const isTold = asked.visitor.account !== null || sameSet(login.state.flags, flagsAtFirst(policy));
        if (isTold && !agrees(asked, asked.route, said, stage)) by('the library', said);
        const effect = effectOn(stage, asked.route, method, asked.visitor);
        if (!comesTo(asked, asked.route, effect, stage)) by('the proof', effect);
      }
    }
  }
}

function sameSet(one: ReadonlySet<string>, other: ReadonlySet<string>): boolean {
  return [...one].sort().join() === [...other].sort().join();
}

/** The first request that a visitor makes for an address; null where they cannot make it. */
function firstOf(stage: Stage, login: LoginState, method: Exchange['request']['method'], address: string) {
  const { exchanges } = askAs(stage, login, method, address);
  const first = exchanges.find(({ purpose }) => purpose !== 'refresh');
  return first?.request.method === method && first.request.path === address ? first : null;
}

/** Whoever the app takes the visitor for, as a server that asks the library would say it. */
function visitorOf({ visitor }: Exchange, { time, state }: LoginState): Parameters<typeof decide>[2] {
  const { account, roles, facts, secondFactor, since, joinedAt, actedBy } = visitor;
  if (account === null) return null;
  return {
    account,
    roles: [...roles],
    facts: Object.fromEntries(facts),
    secondFactor,
    loggedInFor: since === null ? null : time - since,
    joinedFor: joinedAt === null ? null : time - joinedAt,
    flags: [...state.flags],
    actedBy,
  };
}

/** A form that somebody may use although its page is not for them, which hangs on more than who they are. */
function isFormOnTheWay({ login, task, spelled }: Route, { app }: Stage): boolean {
  return login !== null || task === 'code' || app.formPages.code === spelled;
}

function agrees(
  { explanation: { reason }, visitor }: Exchange,
  route: Route,
  said: string,
  stage: Stage,
): boolean {
  if (OF_ITS_OWN.has(reason) || route.hasSlash) return true;
  // Script of the page decides there, and is held against a browser elsewhere.
  if (route.guard === 'browser' && stage.client.tokens !== null) return true;
  // What the app does of its own may come to anything once the visitor may ask for it.
  if (said === 'served' && route.task !== null) return true;
  if (isFormOnTheWay(route, stage) && visitor.account !== null) return true;
  // The app knows more of a guest: why they are none of the people they were.
  if (visitor.account === null && said === 'guest') return reason === visitor.reason;
  return said === (reason === 'forwarded' ? 'served' : reason);
}

function comesTo(exchange: Exchange, route: Route, effect: string, stage: Stage): boolean {
  const { explanation, request, visitor } = exchange;
  const { reason } = explanation;
  if (OF_ITS_OWN.has(reason)) return true;
  if (route.hasSlash) return effect === 'sent on' && reason === 'forwarded';
  // The proof looks at visitors as if everything had happened just now.
  if (asksAge(route, stage)) return true;
  if (isFormOnTheWay(route, stage) && visitor.account !== null) return true;
  const isIn = reason === 'served' || reason === 'forwarded';
  if (route.task !== null && request.method !== 'OPTIONS') {
    const isDone = effect === (route.login?.form ?? route.task) || effect.startsWith(route.task);
    return isDone || !isIn;
  }
  const isShown = effect.startsWith('shown');
  return request.method === 'OPTIONS' ? !isShown : isShown === isIn;
}

function asksAge({ grounds: { audience } }: Route, { app: { policy } }: Stage): boolean {
  return [audience, ...policy.barriers.map(({ stops }) => stops.audience)].some(
    (each) => each.who === 'some' && (each.loginWithin !== null || each.joinedWithin !== null),
  );
}

beforeAll(loadRegularLanguages);

test('the library and the proof decide as the app does, for every login state, address and method', () => {
  const compared: Compared = { differing: [], reasons: new Map() };
  for (const file of FILES) compare(project(readFileSync(file, 'utf8')).stage, compared);
  // Every gate has stopped somebody.
  expect([...compared.reasons.keys()]).toEqual(
    expect.arrayContaining(['barrier', 'acting', 'role', 'unknown-page', 'method-not-allowed', 'served']),
  );
  expect(compared.differing).toEqual([]);
});

test('and so for policies that are made up', () => {
  fc.assert(
    fc.property(richPolicies, (text) => {
      const compared: Compared = { differing: [], reasons: new Map() };
      compare(project(text).stage, compared);
      expect(compared.differing).toEqual([]);
    }),
    { numRuns: 40 },
  );
});
