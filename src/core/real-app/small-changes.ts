import { pathOf } from '../app/endpoints.js';
import { Router } from '../app/router.js';
import { reasonKind } from '../app/reasons.js';
import type { Policy } from '../language/policy.js';
import type { Path, YamlText } from '../language/text/yaml-text.js';
import { valueUnder } from '../language/text/plain.js';
import { handedOut } from '../vocabulary/credentials.js';
import { divergenceOf, targetIn } from './divergence.js';
import type { LiveFinding } from './findings.js';

/** One value of a policy that could be another. */
export interface SmallChange {
  readonly path: Path;
  readonly value: unknown;
}

/** The small changes that could describe what an app does otherwise, the most likely first. */
export function smallChanges(input: YamlText, policy: Policy, finding: LiveFinding): SmallChange[] {
  const { walk, step } = finding.first;
  const { result, seen } = walk.steps[step] ?? {};
  if (result === undefined || seen === undefined) return [];
  const divergence = divergenceOf(policy, result, seen);
  const reason = divergence?.exchange.explanation.reason ?? result.outcome.why ?? 'served';
  const status = divergence?.message.status ?? seen.status;
  const location = divergence === null ? seen.lands : divergence.message.location;
  const target = location === null ? null : targetIn(location, policy.origin);
  const request = divergence?.exchange.request ?? result.played.exchanges.at(-1)?.request ?? null;
  const ofAnswers = [
    ...(status === null ? [] : statuses(policy, reason, status, request)),
    ...(!target?.startsWith('/') ? [] : landings(policy, target, result.outcome.lands)),
    ...(request === null ? [] : audiences(input, policy, request)),
    ...RETURNS,
  ];
  const ofCredentials = [
    ...logouts(policy),
    ...passwords(policy),
    ...SESSIONS.filter(({ path: [section = ''] }) => valueUnder(input.value, section) !== undefined),
  ];
  return finding.class === 'holds' ? [...ofCredentials, ...ofAnswers] : [...ofAnswers, ...ofCredentials];
}

function statuses(
  policy: Policy,
  reason: string,
  status: number,
  request: { readonly method: LiveMethod; readonly path: string } | null,
): SmallChange[] {
  const route = request === null ? null : new Router(policy).find(request.method, request.path);
  const sections: Path[] = route?.kind === 'api' ? [['refusals', 'api'], ['refusals']] : [['refusals']];
  const key =
    reason === 'method-not-allowed'
      ? 'method'
      : (reasonKind(reason as Parameters<typeof reasonKind>[0]).refusal ??
        (reason === 'guest' ? 'guest' : 'role'));
  const page = route?.page?.pattern.text;
  return [
    ...sections.map((section): SmallChange => ({ path: [...section, key], value: status })),
    ...(reason === 'csrf-refused' ? [{ path: ['csrf', 'refused'], value: status }] : []),
    ...(reason === 'barrier' ? barred(policy, route?.kind === 'api', status) : []),
    ...(reason === 'wrong-password' || reason === 'locked-out'
      ? [
          { path: ['login', 'wrong'], value: { status } },
          { path: ['login', 'wrong'], value: { shown: true, status } },
        ]
      : []),
    ...(page === undefined ? [] : [{ path: ['pages', page, 'write-status'], value: status }]),
    { path: ['logout', 'status'], value: status },
    { path: ['tokens', 'refused'], value: status },
  ];
}

/** With what else a barrier could answer. */
function barred({ barriers }: Policy, isApi: boolean, status: number): SmallChange[] {
  const tried = isApi ? barriers : barriers.filter(({ answers }) => answers !== null);
  return tried.map(({ at }) => ({ path: [...at, isApi ? 'api' : 'answers'], value: status }));
}

type LiveMethod = Parameters<Router['find']>[0];

function landings(policy: Policy, target: string, expected: string | null): SmallChange[] {
  const [path = target] = target.split('?', 1);
  const entries = policy.landing.flatMap((entry): SmallChange[] => {
    const key = entry.role === null && entry.facts === null ? 'otherwise' : 'to';
    return pathOf(entry.to) === (expected ?? '').split('?', 1)[0]
      ? [{ path: [...entry.at, key], value: path }]
      : [];
  });
  return [
    ...entries,
    { path: ['logout', 'lands'], value: path },
    { path: ['sign-up', 'lands'], value: path },
    { path: ['sign-up', 'lands'], value: 'landing' },
    { path: ['login', 'wrong'], value: target },
    { path: ['refusals', 'guests-only'], value: path },
    { path: ['refusals', 'role'], value: path },
    { path: ['refusals', 'role'], value: 'login' },
    { path: ['refusals', 'unknown'], value: path },
    { path: ['tokens', 'failed-refresh'], value: path },
    ...policy.pages.map(({ pattern }): SmallChange => ({
      path: ['pages', pattern.text, 'after-write'],
      value: path,
    })),
  ];
}

/** Who else a page could be for. */
function audiences(
  input: YamlText,
  policy: Policy,
  { method, path }: { readonly method: LiveMethod; readonly path: string },
): SmallChange[] {
  const route = new Router(policy).find(method, path);
  if (route?.page === null || route === null) return [];
  const text = route.page.pattern.text;
  const written = valueUnder(valueUnder(input.value, 'pages'), text);
  const isMap = typeof written === 'object' && written !== null && !Array.isArray(written);
  const isRead = method === 'GET' || method === 'HEAD';
  const roles = [...policy.roles.keys()].map((role) => [role]);
  const keys: readonly string[] = isRead ? ['for', 'read'] : ['write', 'for'];
  const who = ['signed-in', 'everyone', ...roles, 'guests', 'nobody'];
  if (!isMap) return who.map((value) => ({ path: ['pages', text], value }));
  return keys.flatMap((key) => who.map((value): SmallChange => ({ path: ['pages', text, key], value })));
}

const RETURNS: readonly SmallChange[] = [
  ...['anything', 'leading-slash', 'one-slash', 'same-origin', 'never'].map((value): SmallChange => ({
    path: ['login', 'return', 'accept'],
    value,
  })),
  { path: ['login', 'return', 'only-if-allowed'], value: false },
  { path: ['login', 'return', 'only-if-allowed'], value: true },
  { path: ['login', 'return', 'kept'], value: 'session' },
  { path: ['login', 'return', 'kept'], value: 'address' },
  { path: ['login', 'return', 'carried-over'], value: false },
  { path: ['login', 'return', 'of'], value: 'everything' },
];

/** What else a logout could end and clear. */
function logouts(policy: Policy): SmallChange[] {
  return [
    ...subsetsOf(handedOut(policy)).flatMap((value) => [
      { path: ['logout', 'ends'], value },
      { path: ['logout', 'clears'], value },
    ]),
    ...option(['logout', 'of'], 'account', 'login', 'shown'),
  ];
}

/** What else a changed password could end. */
function passwords(policy: Policy): SmallChange[] {
  if (policy.password === null) return [];
  return subsetsOf([...handedOut(policy), 'links']).map((value) => ({ path: ['password', 'ends'], value }));
}

function subsetsOf<Each>(all: readonly Each[]): Each[][] {
  return Array.from({ length: 2 ** all.length }, (_, bits) =>
    all.filter((_each, at) => (bits >> at) % 2 === 1),
  );
}

const option = (path: Path, ...values: unknown[]): SmallChange[] => values.map((value) => ({ path, value }));

const SESSIONS: readonly SmallChange[] = [
  ...option(['session', 'renews'], 'never', 'past-half', 'each-request'),
  ...option(['session', 'cookie', 'renewed'], false, true),
  ...option(['session', 'starts'], 'at-login', 'with-a-form', 'at-first-visit'),
  ...option(['session', 'roles'], 'at-login', 'each-request'),
  ...option(['session', 'at-once'], 'latest-wins', 'first-wins', 'any'),
  ...option(['session', 'kept'], 'memory', 'store', 'sealed'),
  ...option(['session', 'cookie', 'life'], 'browser'),
  ...option(['session', 'cookie', 'same-site'], 'strict', 'lax', 'none', 'unset'),
  ...option(['login', 'renew-session-id'], false, true),
  ...option(['remember', 'rotates'], false, true),
  ...option(['remember', 'reuse'], 'refuse', 'end-series'),
  ...option(['tokens', 'roles'], 'each-request', 'in-token'),
  ...option(['tokens', 'refresh', 'rotates'], false, true),
  ...option(['tokens', 'refresh', 'reuse'], 'accept', 'refuse', 'end-family'),
  ...option(['password', 'own'], 'keeps', 'ends', 'renews'),
  ...option(['password', 'change', 'asks-old'], false, true),
  ...option(['password', 'reset', 'then'], 'login', 'signed-in'),
  ...option(['password', 'reset', 'tells'], true, false),
  ...option(['password', 'reset', 'code'], 'given', 'asked'),
  ...option(['link-login', 'same-browser'], false, true),
  ...option(['link-login', 'tells'], true, false),
  ...option(['link-login', 'code'], 'given', 'asked'),
  ...option(['impersonation', 'kept'], 'account', 'session'),
  ...option(['csrf', 'origin'], 'ignored', 'checked'),
  ...option(['csrf', 'token'], 'absent', 'per-session', 'per-request'),
];
