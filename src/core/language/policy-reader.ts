import type { Path, YamlText } from './yaml-text.js';
import { audienceReader, readRefusals, readStated, type Names } from './audience-reader.js';
import { readAddress, readOrigin, readPattern, type Scope } from './name-reader.js';
import { readLogin, readLogout, readSession, readTokens } from './login-reader.js';
import { readAccounts, readRoles } from './people-reader.js';
import type { Diagnostic } from './diagnostic.js';
import { reportIssues } from './issues.js';
import { problem, type Report } from './problems.js';
import { policySchema, type PolicyText } from './policy-schema.js';
import { readablePart } from './readable-part.js';
import type { Endpoint, LandingEntry, Page, Policy, Rule } from './policy.js';
import { PageIndex } from '../paths/page-index.js';

/**
 * Reads a policy: its shape, then the names in it, then the defaults of what was left out. Everything wrong is reported;
 * the result is null when any of it was.
 */
export function readPolicy(input: YamlText, report: Report): Policy | null {
  const faults: Diagnostic[] = [];
  const note: Report = (diagnostic) => {
    faults.push(diagnostic);
    report(diagnostic);
  };
  if (input.value === null) {
    note(
      problem(
        'empty-file',
        { expects: 'a policy: at least cavrin, app, origin and login' },
        input.placeOf([]),
      ),
    );
    return null;
  }
  const read = policySchema.safeParse(input.value);
  if (!read.success) reportIssues(read.error.issues, input, note);
  // The names are looked at even so, in whatever part of the policy has its form, so that one run reports everything.
  const text = read.success ? read.data : readablePart(input.value, read.error.issues);
  const policy = text === null ? null : resolve(text, { input, report: note });
  return faults.length === 0 ? policy : null;
}

function resolve(text: PolicyText, scope: Scope): Policy {
  const roles = readRoles(text.roles ?? {}, scope);
  const names: Names = { roles, audience: audienceReader(roles, scope) };
  const login = text.login === undefined ? null : readLogin(text.login, scope);
  const policy: Policy = {
    app: text.app,
    origin: readOrigin(text.origin, ['origin'], scope),
    roles,
    accounts: readAccounts(text.accounts ?? {}, roles, scope),
    pages: readPages(text.pages ?? {}, names, scope),
    rules: (text.rules ?? []).map((rule, index): Rule => {
      const at: Path = ['rules', index];
      const patterns = rule.path.map((path) => readPattern(path, [...at, 'path'], scope));
      return {
        at,
        number: index + 1,
        patterns,
        kind: rule.kind ?? null,
        audiences: readStated(rule, at, patterns, names),
      };
    }),
    otherwise: names.audience(text.otherwise ?? 'signed-in', ['otherwise'], []),
    refusals: readRefusals(text.refusals ?? {}, scope),
    login,
    landing: readLanding(text, names, scope),
    logout: text.logout === undefined ? null : readLogout(text.logout, login?.by ?? 'session', scope),
    session: readSession(text.session ?? {}, scope),
    tokens: text.tokens === undefined ? null : readTokens(text.tokens, scope),
    accepted: (text.accepted ?? []).map((entry, index) => ({ at: ['accepted', index], ...entry })),
  };
  requireTokens(policy, scope);
  requireDistinctEndpoints(policy, scope);
  return policy;
}

function readPages(pages: NonNullable<PolicyText['pages']>, names: Names, scope: Scope): Page[] {
  const index = new PageIndex<Page>();
  return Object.entries(pages).map(([path, page]) => {
    const at: Path = ['pages', path];
    const pattern = readPattern(path, at, scope, 'key');
    const result: Page = {
      at,
      pattern,
      kind: page.kind ?? null,
      audiences: readStated(page, at, [pattern], names),
    };
    const earlier = index.add(pattern, result);
    if (earlier !== null) {
      const place = scope.input.placeOfKey(['pages'], earlier.pattern.text);
      const related = [{ place, message: 'the other page' }];
      scope.report(problem('same-path', { path }, scope.input.placeOfKey(['pages'], path), related));
    }
    return result;
  });
}

function readLanding(text: PolicyText, names: Names, scope: Scope): LandingEntry[] {
  return (text.landing ?? []).map((entry, index) => {
    const at: Path = ['landing', index];
    const place = scope.input.placeOf(at);
    const otherwise = entry.otherwise !== undefined;
    if (otherwise === (entry.to !== undefined) || otherwise === (entry.role !== undefined)) {
      const form = 'a landing entry is { role: …, to: path } or { otherwise: path }';
      scope.report(problem('bad-value', { problem: form }, place));
    }
    const to = readAddress(
      entry.otherwise ?? entry.to ?? '/',
      [...at, otherwise ? 'otherwise' : 'to'],
      scope,
    );
    const role = entry.role?.map((name) => names.roles.resolve(name, [...at, 'role'])) ?? null;
    return { at, role: otherwise ? null : role, to };
  });
}

function requireTokens(policy: Policy, scope: Scope): void {
  if (policy.login === null || policy.login.by === 'session' || policy.tokens !== null) return;
  const because = `login.by is ${policy.login.by}`;
  scope.report(
    problem('missing-section', { section: 'tokens', because }, scope.input.placeOf(['login', 'by'])),
  );
}

function requireDistinctEndpoints(policy: Policy, scope: Scope): void {
  const first = new Map<string, Endpoint>();
  const endpoints = [policy.login?.submit, policy.tokens?.submit, ...(policy.logout?.submits ?? [])];
  for (const endpoint of endpoints.filter((each) => each !== undefined)) {
    const request = `${endpoint.method} ${endpoint.path}`;
    const earlier = first.get(request);
    if (earlier !== undefined) {
      const related = [{ place: scope.input.placeOf(earlier.at), message: 'the other endpoint' }];
      scope.report(problem('same-endpoint', { request }, scope.input.placeOf(endpoint.at), related));
    }
    first.set(request, endpoint);
  }
}
