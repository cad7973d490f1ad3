import { keyOf } from '../app/keys.js';
import { rolesIn } from '../app/identify.js';
import { CREDENTIAL_KINDS } from '../credentials/all-credentials.js';
import { heldHandle, numberOf } from '../credentials/credential-kind.js';
import type { View } from '../laws/law.js';
import type { Login, Policy } from '../language/policy.js';
import { statedAudiences } from '../language/stated.js';
import type { Path } from '../language/text/yaml-text.js';
import { limitsOf } from '../overview/limits.js';
import { formatDuration, type Seconds } from '../time/duration.js';
import type { Instant } from '../time/clock.js';
import type { Credential } from '../vocabulary/credentials.js';
import type { Coverable, Meter } from './meter.js';
import { requestOf } from '../steps/asking.js';
import { limitsIn } from '../audience/all-conditions.js';

/** A time that the policy sets, and since when what it limits was under way in a step. */
interface Timed {
  readonly name: string;
  readonly at: Path;
  readonly life: Seconds;
  readonly since: (view: View) => readonly (Instant | null | undefined)[];
}

/**
 * Every limit on both sides: something is asked for just before it is reached, and just past it. Within a tenth of its length is
 * near enough, so that a walk which waits twice as long touches nothing.
 */
export function limitsMeter(policy: Policy): Meter {
  const timed = timesOf(policy);
  const counted = policy.logins.filter(({ attempts }) => attempts !== null);
  return {
    group: 'limits',
    coverables: [
      ...timed.flatMap(({ name, at, life }) => [
        { key: `${name} before`, subject: name, aspect: `just before ${formatDuration(life)}`, at },
        { key: `${name} past`, subject: name, aspect: `just past ${formatDuration(life)}`, at },
      ]),
      ...counted.flatMap(mostOf),
    ],
    touchedBy(view) {
      if (view.played.exchanges.length === 0) return [];
      const found = timed.flatMap(({ name, life, since }) =>
        since(view).flatMap((start) => {
          if (start === null || start === undefined) return [];
          const over = view.clock.now - start - life;
          const near = Math.max(1, life / 10);
          if (over < 0) return -over <= near ? [`${name} before`] : [];
          return over <= near ? [`${name} past`] : [];
        }),
      );
      return [...found, ...counted.flatMap((login) => attemptsTouched(login, view))];
    },
  };
}

const loginName = ({ name }: Login) => (name === null ? 'login.' : `login ${name}: `);

function mostOf(login: Login): Coverable[] {
  const { attempts } = login;
  if (attempts === null) return [];
  const at = [...attempts.at, 'most'];
  const name = `${loginName(login)}attempts.most`;
  return [
    {
      key: `${name} before`,
      subject: name,
      aspect: `the right password after ${attempts.most - 1} wrong ones`,
      at,
    },
    {
      key: `${name} past`,
      subject: name,
      aspect: `the right password after ${attempts.most} wrong ones`,
      at,
    },
  ];
}

function attemptsTouched(login: Login, { before, played }: View): string[] {
  const name = `${loginName(login)}attempts.most`;
  return played.exchanges.flatMap(({ route, request, explanation: { reason } }) => {
    if (route?.task !== 'login' || route.login !== login) return [];
    const failures = before.attempts.get(request.form.get('account') ?? '')?.failures.length ?? 0;
    if (reason === 'locked-out') return [`${name} past`];
    return reason !== 'wrong-password' && failures === (login.attempts?.most ?? 0) - 1
      ? [`${name} before`]
      : [];
  });
}

function timesOf(policy: Policy): Timed[] {
  const measures = new Map([...credentialTimes(policy), ...loginTimes(policy), ...otherTimes(policy)]);
  const known = limitsOf(policy).flatMap(({ name, seconds, at }): Timed[] => {
    const since = measures.get(name);
    return since === undefined || seconds === null
      ? []
      : [{ name, at, life: lifeOf(name, seconds, policy), since }];
  });
  return [...known, ...audienceTimes(policy)];
}

/** A token is taken for its leeway too. */
function lifeOf(name: string, seconds: Seconds, { tokens }: Policy): Seconds {
  return name === 'tokens.access.life' ? seconds + (tokens?.access.leeway ?? 0) : seconds;
}

type Measure = readonly [name: string, since: Timed['since']];

function credentialTimes({ session }: Policy): Measure[] {
  const ofRole = (view: View, number: number) => {
    const record = view.before.sessions[number];
    const roles = record === undefined ? new Set<string>() : rolesIn(view.stage.app, view.before, record);
    return session['by-role'].find(({ role }) => roles.has(role))?.role ?? null;
  };
  const sessionTime = (option: 'idle' | 'absolute', role: string | null): Measure => [
    `session.${option}${role === null ? '' : ` of ${role}`}`,
    (view) => {
      const number = numberHeld('session', view);
      const own = ofRole(view, number);
      // A role may leave one of the two as it is for all.
      const isSet = session['by-role'].some((each) => each.role === own && each[option] !== null);
      return (isSet ? own : null) === role ? startOf('session', option, view) : [];
    },
  ];
  const roles = [null, ...session['by-role'].map(({ role }) => role)];
  return [
    ...roles.flatMap((role) => [sessionTime('idle', role), sessionTime('absolute', role)]),
    ['second-factor.life', (view) => startOf('session', 'code', view)],
    ['tokens.access.life', (view) => startOf('access', 'life', view)],
    ['tokens.refresh.life', (view) => startOf('refresh', 'life', view)],
    ['tokens.refresh.longest', (view) => startOf('refresh', 'longest', view)],
    // A browser drops the cookie by itself once it is over: what the app still has on record counts.
    [
      'remember.life',
      ({ before }) =>
        before.remembered.filter(({ used, ended }) => !used && !ended).map(({ issuedAt }) => issuedAt),
    ],
  ];
}

function numberHeld(what: Credential, { stage, from, clock }: View): number {
  const kind = CREDENTIAL_KINDS[what];
  return numberOf(kind, heldHandle(kind, stage, from, clock));
}

function startOf(what: Credential, limit: string, view: View): readonly (Instant | undefined)[] {
  const number = numberHeld(what, view);
  return CREDENTIAL_KINDS[what].limits
    .filter(({ name }) => name === limit)
    .map((each) => each.since(view.stage.app.policy, view.before, number));
}

function loginTimes({ logins }: Policy): Measure[] {
  return logins.flatMap((login): Measure[] => {
    const tried = ({ before, played }: View) =>
      played.exchanges.flatMap(({ route, request }) => {
        if (route?.task !== 'login' || route.login !== login) return [];
        return before.attempts.get(request.form.get('account') ?? '') ?? [];
      });
    return [
      [`${loginName(login)}attempts.within`, (view) => tried(view).map(({ failures }) => failures[0])],
      [`${loginName(login)}attempts.pause`, (view) => tried(view).map(({ pausedAt }) => pausedAt)],
    ];
  });
}

const LINKS = {
  confirm: 'confirm.life',
  reset: 'password.reset.life',
  'open-link': 'link-login.life',
} as const;
const SENT = { confirm: 'confirm', reset: 'reset', 'open-link': 'sign-in' } as const;

function otherTimes({ providers }: Policy): Measure[] {
  const links = (['confirm', 'reset', 'open-link'] as const).map((task): Measure => [
    LINKS[task],
    ({ before, played }) =>
      played.exchanges.some(({ route }) => route?.task === task)
        ? [before.links.findLast(({ kind }) => kind === SENT[task])?.sentAt]
        : [],
  ]);
  const keyOfStep = ({ action, before }: View) => {
    const key = requestOf(action)?.key ?? null;
    return key === null ? undefined : before.keys[keyOf(before, key.account, key.isOld)];
  };
  return [
    ...links,
    ['api-keys.life', (view) => [keyOfStep(view)?.madeAt]],
    ['api-keys.overlap', (view) => [keyOfStep(view)?.replacedAt]],
    [
      'impersonation.life',
      (view) => {
        const record = view.before.sessions[numberHeld('session', view)];
        return [record?.acting?.since ?? view.before.acting.get(record?.account ?? '')?.since];
      },
    ],
    ...providers.map(({ name }): Measure => [
      `identity provider ${name}: session`,
      ({ before, played }) =>
        played.exchanges.some(({ route }) => route?.task === 'provider-start')
          ? before.providerSessions
              .filter(({ provider }) => provider === name)
              .map(({ startedAt }) => startedAt)
          : [],
    ]),
  ];
}

/** How long ago a login, or the making of an account, may be where an audience asks for that. */
function audienceTimes(policy: Policy): Timed[] {
  return statedAudiences(policy).flatMap(({ audience, at }): Timed[] => {
    const asked = (view: View) => view.played.exchanges.filter(({ route }) => route?.grounds.at === at);
    const name = at.slice(0, 2).join(' ');
    return limitsIn(audience).map(({ key, life, since }) => ({
      name: `${key} of ${name}`,
      at,
      life,
      since: (view: View) => asked(view).map(({ visitor }) => since(visitor)),
    }));
  });
}
