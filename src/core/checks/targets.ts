import type { LandingEntry, Policy } from '../language/policy.js';
import type { OwnRefusals } from '../language/refusals.js';
import type { Refusal, Refusals } from '../vocabulary/refusal.js';
import type { Path } from '../language/text/yaml-text.js';

/** An address that the policy itself sends people to. */
export interface Target {
  readonly at: Path;
  readonly address: string;
}

/** Every address that a policy sends people to, in the order of its sections. */
export function targetsOf(policy: Policy): Target[] {
  const { logins, landing, logout, tokens, signUp, secondFactor, password, linkLogin, pages, menu } = policy;
  const targets: Target[] = [];
  const add = (address: string, ...at: Path) => targets.push({ at, address });
  for (const { at, page, wrong, landing: own } of logins) {
    add(page, ...at, 'page');
    if (wrong !== page) add(wrong, ...at, 'wrong');
    targets.push(...entryTargets(own));
  }
  targets.push(...entryTargets(landing));
  if (signUp !== null) {
    add(signUp.page, 'sign-up', 'page');
    if (signUp.lands !== 'landing' && signUp.lands.path !== signUp.page) {
      add(signUp.lands.path, 'sign-up', 'lands');
    }
  }
  if (secondFactor !== null) add(secondFactor.page, 'second-factor', 'page');
  for (const form of [password?.change, password?.reset, linkLogin]) {
    if (!form) continue;
    add(form.page, ...form.at, 'page');
    if (form.lands !== form.page) add(form.lands, ...form.at, 'lands');
  }
  if (logout !== null) targets.push(...entryTargets(logout.lands));
  for (const { at, forward, afterWrite } of pages) {
    targets.push(...entryTargets(forward?.entries ?? []));
    const { to } = afterWrite;
    if (to !== null) add(to.replace(/:[A-Za-z][\w-]*/g, 'x'), ...at, 'after-write');
  }
  targets.push(...refusalTargets(policy.refusals, ['refusals']));
  for (const { at, refusals } of [...pages, ...policy.rules]) {
    if (refusals !== null) targets.push(...refusalTargets(refusals, [...at, 'refusals']));
  }
  for (const { at, sends } of policy.barriers) if (sends !== null) add(sends, ...at, 'sends');
  const failed = tokens?.failedRefresh ?? 'login';
  if (failed !== 'login') add(failed, 'tokens', 'failed-refresh');
  menu.forEach((link, index) => add(link.to, 'menu', index, 'to'));
  return targets;
}

function refusalTargets({ page, api }: OwnRefusals, at: Path): Target[] {
  const of = (refusals: Partial<Refusals>, place: Path) =>
    Object.entries<Refusal | number>({ ...refusals }).flatMap(([key, refusal]): Target[] =>
      typeof refusal !== 'number' && refusal.to === 'path'
        ? [{ at: [...place, key], address: refusal.path }]
        : [],
    );
  return [...of(page, at), ...(api === page ? [] : of(api, [...at, 'api']))];
}

function entryTargets(entries: readonly LandingEntry[]): Target[] {
  return entries.map((entry) => {
    const { at, role, facts, leaving, to } = entry;
    // A logout that lands everybody at one path is written without a list.
    if (typeof at.at(-1) === 'string') return { at, address: to };
    const otherwise = role === null && facts === null && leaving === null;
    return { at: [...at, otherwise ? 'otherwise' : 'to'], address: to };
  });
}
