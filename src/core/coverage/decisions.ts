import { admit } from '../app/admit.js';
import type { App } from '../app/app.js';
import { refusalPlace } from '../app/refusal-place.js';
import { keysOf } from '../vocabulary/tables.js';
import { REASONS, reasonKind, comesAbout, type Reason } from '../app/reasons.js';
import type { LandingEntry, Policy } from '../language/policy.js';
import type { OwnRefusals } from '../language/refusals.js';
import { isWritten, type Path, type YamlText } from '../language/text/yaml-text.js';
import { sampleAddress } from '../paths/coverage.js';
import type { Pattern } from '../paths/pattern.js';
import type { Stage } from '../play/stage.js';
import type { Audience } from '../vocabulary/audience.js';
import { REFUSAL_KEYS } from '../vocabulary/refusal.js';
import { keyOfPlace, type Coverable, type Meter } from './meter.js';

/** Every rule, which a request must fall under. */
export function rulesMeter({ rules }: Policy): Meter {
  return {
    group: 'rules',
    coverables: rules.map(({ number, patterns, expression, at }) => ({
      key: String(number),
      subject: `rule ${number}, ${patterns.map(({ text }) => text).join(', ') || (expression?.source ?? '')}`,
      aspect: '',
      at,
    })),
    touchedBy: ({ played }) =>
      played.exchanges.flatMap(({ route }) => (route?.rule ? [String(route.rule.number)] : [])),
  };
}

/** Every entry that lands somebody: after a login, after a logout, or from a page that sends people on. */
export function landingsMeter({ landing, logins, logout, pages }: Policy): Meter {
  const entries: readonly (readonly [string, readonly LandingEntry[]])[] = [
    ['the landing', landing],
    ...logins.map(({ name, landing: own }) => [`the landing of the login ${name ?? ''}`, own] as const),
    ['after the logout', logout?.lands ?? []],
    ...pages.map(({ pattern, forward }) => [`on from ${pattern.text}`, forward?.entries ?? []] as const),
  ];
  return {
    group: 'landings',
    coverables: entries.flatMap(([what, list]) =>
      list.map((entry) => ({
        key: keyOfPlace(entry.at),
        subject: what,
        aspect: `for ${whomFor(entry)}: ${entry.to}`,
        at: entry.at,
      })),
    ),
    touchedBy: ({ played }) => played.exchanges.map(({ explanation }) => keyOfPlace(explanation.decidedBy)),
  };
}

function whomFor({ role, facts, leaving }: LandingEntry): string {
  const asked = [
    ...(role === null ? [] : [role.join(' or ')]),
    ...(facts === null ? [] : [...facts.keys()].map((fact) => `whoever has ${fact}`)),
    ...(leaving === null ? [] : [`whoever leaves ${leaving.text}`]),
  ];
  return asked.join(', ') || 'whoever is left';
}

/** Every refusal that the policy says itself, for all pages, for a rule or for a page. */
export function refusalsMeter(policy: Policy, input: YamlText): Meter {
  const places: Path[] = [
    ...REFUSAL_KEYS.flatMap((key) => [
      ['refusals', key],
      ['refusals', 'api', key],
    ]),
    ...[...policy.rules, ...policy.pages].flatMap(({ at, refusals }) =>
      refusals === null ? [] : ownPlaces(refusals).map((own) => [...at, 'refusals', ...own]),
    ),
  ].filter((at) => isWritten(at, input));
  return {
    group: 'refusals',
    coverables: places.map((at) => ({
      key: keyOfPlace(at),
      subject: `the refusal ${refusalName(at)}`,
      aspect: '',
      at,
    })),
    touchedBy: ({ played }) =>
      played.exchanges.flatMap(({ route, explanation: { reason, seenAs } }) =>
        route === null || NO_REFUSAL.has(reason)
          ? []
          : [keyOfPlace(refusalPlace(route, reason, seenAs === null))],
      ),
  };
}

const NO_REFUSAL: ReadonlySet<Reason> = new Set<Reason>([
  'served',
  'forwarded',
  'barrier',
  'acting',
  'csrf-refused',
]);

function ownPlaces({ page, api }: OwnRefusals): Path[] {
  const own = keysOf(page).map((key) => [key]);
  return api === page ? own : [...own, ...keysOf(api).map((key) => ['api', key])];
}

function refusalName(at: Path): string {
  const from = at.indexOf('refusals');
  const of =
    from === 0
      ? ''
      : ` of ${from === 2 && at[0] === 'rules' ? `rule ${Number(at[1]) + 1}` : String(at[from - 1])}`;
  return `${at.slice(from + 1).join(' ')}${of}`;
}

/** Every reason for which the policy could treat somebody otherwise than they asked. */
export function reasonsMeter(policy: Policy): Meter {
  const possible = REASONS.filter((reason) => comesAbout(reason, policy));
  return {
    group: 'reasons',
    coverables: possible.map((reason) => ({
      key: reason,
      subject: `${reason}: ${reasonKind(reason).when}`,
      aspect: '',
      at: reasonKind(reason).limit ?? [],
    })),
    touchedBy: ({ played, outcome }) => [
      ...played.exchanges.map(({ explanation }) => explanation.reason),
      ...(outcome.why === null ? [] : [outcome.why]),
    ],
  };
}

/** Every part of a page, once shown and once hidden. */
export function partsMeter({ app }: Stage): Meter {
  const { pages } = app.policy;
  const both = ['shown', 'hidden'] as const;
  return {
    group: 'parts',
    coverables: pages.flatMap(({ pattern, parts }) =>
      parts.flatMap(({ name, at, audience }) =>
        both
          .filter((how) => how === 'shown' || isHidden(app, pattern, audience.audience))
          .map((how): Coverable => ({
            key: `${pattern.text} ${name} ${how}`,
            subject: `part ${name} of ${pattern.text}`,
            aspect: how,
            at,
          })),
      ),
    ),
    touchedBy({ played, outcome }) {
      const shown = played.exchanges.findLast(({ purpose }) => purpose === 'navigate');
      const page = shown?.route?.page ?? null;
      if (page === null || shown === undefined || shown.response.status >= 300) return [];
      return page.parts.map(
        ({ name }) => `${page.pattern.text} ${name} ${outcome.parts.includes(name) ? 'shown' : 'hidden'}`,
      );
    },
  };
}

/** Whether a part may be hidden from somebody who sees its page. */
function isHidden({ router }: App, page: Pattern, part: Audience): boolean {
  if (part.who !== 'signed-in') return part.who !== 'everyone';
  const readers = router.find(
    'GET',
    sampleAddress(page, () => 'x'),
  )?.grounds.audience.who;
  return readers === 'everyone' || readers === 'guests';
}

/** Every barrier, which stops somebody and lets them through where it is meant to. */
export function barriersMeter({ barriers }: Policy): Meter {
  return {
    group: 'barriers',
    coverables: barriers.flatMap(({ name, at, lets }) => [
      { key: `${name} stops`, subject: `the barrier ${name}`, aspect: 'stops somebody', at },
      ...(lets.length === 0
        ? []
        : [
            {
              key: `${name} lets`,
              subject: `the barrier ${name}`,
              aspect: 'lets somebody through whom it stops elsewhere',
              at,
            },
          ]),
    ]),
    touchedBy: ({ played, stage, clock }) =>
      played.exchanges.flatMap(({ explanation, route, visitor }) =>
        barriers.flatMap((barrier) => {
          if (explanation.decidedBy === barrier.at) return [`${barrier.name} stops`];
          if (route === null || explanation.reason !== 'served') return [];
          const isLet = barrier.lets.some((pattern) => stage.app.router.covers(pattern, route.path));
          const isStopped = admit(barrier.stops.audience, visitor, route.parameters, clock) === 'served';
          return isLet && isStopped ? [`${barrier.name} lets`] : [];
        }),
      ),
  };
}
