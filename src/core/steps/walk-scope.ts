import { parseUrl } from '../http/address.js';
import { parseNetwork } from '../http/client-address.js';
import { addressFault, checkName, type Scope } from '../language/text/name-reader.js';
import type { Policy } from '../language/policy.js';
import { problem } from '../language/text/problems.js';
import { nearest } from '../language/text/suggestions.js';
import type { Path } from '../language/text/yaml-text.js';

// The names and addresses in walks, held against the policy that they are played with.

/** What the steps before one have done to accounts. */
export interface WalkMemory {
  /** Those that were made, with their passwords. */
  readonly signedUp: Map<string, string>;
  /** The passwords that were set. */
  readonly changed: Map<string, string>;
  readonly deleted: Set<string>;
  /** The passwords that people chose for themselves. */
  readonly chosen: Set<string>;
}

export function newMemory(): WalkMemory {
  return { signedUp: new Map(), changed: new Map(), deleted: new Set(), chosen: new Set() };
}

/** The same, to be added to without changing it. */
export function copyOf({ signedUp, changed, deleted, chosen }: WalkMemory): WalkMemory {
  return {
    signedUp: new Map(signedUp),
    changed: new Map(changed),
    deleted: new Set(deleted),
    chosen: new Set(chosen),
  };
}

export interface WalkScope extends Scope, WalkMemory {
  readonly policy: Policy | null;
}

/** The other site on which a link or a form stands. */
export function readFrom(site: string | undefined, at: Path, scope: WalkScope): string | null {
  if (site === undefined) return null;
  const url = parseUrl(site);
  if (url === null || !/^https?:$/.test(url.protocol)) {
    const says = `${site} is no site; write one like https://mail.example`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  } else if (url.origin === scope.policy?.origin) {
    const says = `${site} is the app itself: leave from out`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  }
  return site;
}

export function checkPage(path: string, at: Path, { policy, input, report }: WalkScope): string {
  const pages = policy?.pages.map((page) => page.pattern.text) ?? [path];
  if (!pages.includes(path)) {
    report(problem('unknown-page-path', { name: path, near: nearest(path, pages) }, input.placeOf(at)));
  }
  return path;
}

export function checkAccount(name: string, at: Path, scope: WalkScope): void {
  const { policy, signedUp } = scope;
  if (policy === null || policy.accounts.has(name) || signedUp.has(name)) return;
  const near = nearest(name, [...policy.accounts.keys(), ...signedUp.keys()]);
  scope.report(problem('unknown-account', { name, near }, scope.input.placeOf(at)));
}

/** An address as somebody types it: in the app, or a whole URL. What is odd in between is the app's to refuse. */
export function checkAddress(address: string, at: Path, scope: WalkScope): string {
  const whole = /^https?:\/\//i.test(address) && parseUrl(address) !== null;
  const rooted = address.startsWith('/') && parseUrl(address, 'https://a.example') !== null;
  if (!whole && !rooted) {
    const fault = addressFault(address) ?? 'a browser cannot make an address of it';
    scope.report(problem('bad-path', { path: address, problem: fault }, scope.input.placeOf(at)));
  }
  return address;
}

export function readClient(address: string | undefined, at: Path, scope: WalkScope): string | null {
  if (address === undefined) return null;
  if (parseNetwork(address) === null || address.includes('/')) {
    const says = `${address} is no network address; write one like 10.1.2.3 or 2001:db8::7`;
    scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
  }
  return address;
}

export function checkFlags(
  stands: Readonly<Record<string, boolean>>,
  at: Path,
  { policy, input, report }: WalkScope,
): void {
  for (const name of policy === null ? [] : Object.keys(stands)) {
    if (policy?.flags.has(name) === true) continue;
    const near = nearest(name, policy?.flags.keys() ?? []);
    report(problem('unknown-flag', { name, near }, input.placeOfKey(at, name)));
  }
}

export function checkRole(name: string, at: Path, { policy, input, report }: WalkScope): void {
  if (policy === null || policy.roles.has(name)) return;
  report(
    problem(
      'unknown-role',
      { name, audiences: null, near: nearest(name, policy.roles.keys()) },
      input.placeOf(at),
    ),
  );
}

/** The name of one of several logins. */
export function checkLogin(name: string, at: Path, { policy, input, report }: WalkScope): void {
  const names = (policy?.logins ?? []).flatMap((login) => login.name ?? []);
  if (policy === null || names.includes(name)) return;
  report(problem('unknown-login', { name, near: nearest(name, names) }, input.placeOf(at)));
}

/** An identity provider, and somebody who has an account there: one of whom it knows, or somebody whom the app does not know. */
export function checkProvider(name: string, person: string, at: Path, scope: WalkScope): void {
  const { policy, input, report } = scope;
  if (policy === null) return;
  const provider = policy.providers.find((each) => each.name === name);
  if (provider === undefined) {
    const near = nearest(
      name,
      policy.providers.map((each) => each.name),
    );
    report(problem('unknown-provider', { name, near }, input.placeOf([...at, 'with'])));
  } else if (!provider.knows.has(person)) {
    checkName(person, 'account', input.placeOf([...at, 'as']), report);
    // Later steps may name whoever gets an account by it.
    if (provider.unknown === 'sign-up' && !policy.accounts.has(person)) scope.signedUp.set(person, '');
    if (policy.accounts.has(person)) {
      const says = `${name} does not know ${person}: add ${person} to its knows, or name somebody new`;
      report(problem('bad-value', { problem: says }, input.placeOf([...at, 'as'])));
    }
  }
}

/** The account of a machine. */
export function checkKey(name: string, at: Path, scope: WalkScope): void {
  const { policy, input, report } = scope;
  if (policy === null || policy.accounts.get(name)?.key === true) return;
  const machines = [...policy.accounts.values()].filter(({ key }) => key).map((each) => each.name);
  if (!policy.accounts.has(name)) {
    report(problem('unknown-account', { name, near: nearest(name, machines) }, input.placeOf(at)));
    return;
  }
  const says = `${name} has no key: only accounts with key: true have one`;
  report(problem('bad-value', { problem: says }, input.placeOf(at)));
}

/** An account that people log in to, and not the key of a machine. */
export function checkPerson(name: string, at: Path, scope: WalkScope): void {
  checkAccount(name, at, scope);
  if (scope.policy?.accounts.get(name)?.key !== true) return;
  const says = `${name} has a key and no password: write { send: { request: GET /…, key: ${name} } }`;
  scope.report(problem('bad-value', { problem: says }, scope.input.placeOf(at)));
}
