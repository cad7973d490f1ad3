import type { Method } from '../http/messages.js';
import type { Page, Placed, Policy } from '../language/policy.js';
import { isBoundToPath } from '../audience/all-conditions.js';
import type { Path } from '../language/text/yaml-text.js';
import { parsePattern, type Pattern, type Segment } from '../paths/pattern.js';
import type { Audience } from '../vocabulary/audience.js';
import { check } from './check.js';
import type { Facts } from './facts.js';

/** Where a path names a tenant, the visitor's own is asked for. */
export const tenantForgotten = check<{ what: string; who: string; parameter: string; bound: string }>({
  meta: {
    code: 'tenant-forgotten',
    severity: 'warning',
    title: 'Where a path names a tenant, the visitor’s own is asked for.',
    why: 'Whoever belongs to one tenant types the name of another into the address and sees what is theirs.',
    cwe: 'CWE-639',
    mend: "Ask for the fact by the parameter of the path, as in facts: { club: ':club' }.",
  },
  *find(facts) {
    const areas = new TenantAreas(facts.policy);
    if (areas.isEmpty) return;
    const told = new Set<string>();
    for (const { method, path, pattern, at, isOfTenant } of asked(facts)) {
      const area = isOfTenant ? areas.named(pattern) : areas.at(pattern);
      const route = area === null ? null : facts.route(path, method);
      if (area === null || route === null || (route.page === null && route.rule === null)) continue;
      const { audience } = route.grounds;
      const who = strangerIn(facts, audience, area.fact);
      const key = `${route.grounds.at.join('.')} ${at.join('.')}`;
      if (who === null || told.has(key)) continue;
      told.add(key);
      yield {
        at,
        params: { what: `${method} ${path}`, who, parameter: area.parameter, bound: area.bound },
        related: [
          { at: area.at, message: `here the ${area.fact} is asked for` },
          ...(route.grounds.at.length > 1
            ? [{ at: route.grounds.at, message: 'this is whom it is for' }]
            : []),
        ],
        shownBy: facts.shownBy(method, facts.sampleOf({ pattern }), `${who} of another ${area.fact}`),
      };
    }
  },
  message: ({ what, who, parameter, bound }) =>
    `${what} is open to ${who} whatever :${parameter} says, while ${bound} asks that it is their own`,
});

/** Part of an app where a parameter names a tenant. */
interface Area extends Placed {
  readonly fact: string;
  readonly parameter: string;
  /** The path that asks for it. */
  readonly bound: string;
}

/** The parts of an app where some page or rule asks that a parameter is the visitor's own tenant. */
class TenantAreas {
  private readonly byName = new Map<string, Area>();
  private readonly byPlace = new Map<string, Area>();

  constructor({ pages, rules }: Policy) {
    for (const page of pages) this.add(page.audiences, [page.pattern]);
    for (const rule of rules) this.add(rule.audiences, rule.patterns);
  }

  get isEmpty(): boolean {
    return this.byName.size === 0;
  }

  /** The area that a path lies in: it has a parameter in the same place. */
  at({ segments }: Pattern): Area | null {
    for (const [at, segment] of segments.entries()) {
      const found = segment.kind === 'name' ? this.byPlace.get(placeOf(segments, at)) : undefined;
      if (found !== undefined && segment.kind === 'name') return { ...found, parameter: segment.name };
    }
    return null;
  }

  /** The area that an address names which a page of it asks for: it has a parameter of that name. */
  named({ segments }: Pattern): Area | null {
    const names = segments.flatMap((segment) => (segment.kind === 'name' ? [segment.name] : []));
    return names.map((name) => this.byName.get(name)).find((area) => area !== undefined) ?? null;
  }

  private add({ read, write, methods }: Page['audiences'], patterns: readonly Pattern[]): void {
    for (const stated of [read, write, ...methods.values()]) {
      const facts = stated?.audience.who === 'some' ? stated.audience.facts : [];
      for (const [fact, { parameters }] of facts) {
        for (const pattern of patterns) {
          for (const parameter of parameters) {
            this.addAt(pattern, { fact, parameter, bound: pattern.text, at: stated?.at ?? [] });
          }
        }
      }
    }
  }

  private addAt({ segments }: Pattern, area: Area): void {
    const at = segments.findIndex((segment) => segment.kind === 'name' && segment.name === area.parameter);
    if (at < 0) return;
    if (!this.byName.has(area.parameter)) this.byName.set(area.parameter, area);
    const place = placeOf(segments, at);
    if (!this.byPlace.has(place)) this.byPlace.set(place, area);
  }
}

/** What stands before a segment of a path. */
function placeOf(segments: readonly Segment[], at: number): string {
  return segments
    .slice(0, at)
    .map((segment) => (segment.kind === 'literal' ? segment.text : ':'))
    .join('/');
}

/** A request that is looked at, with the place that names it. */
interface Asked {
  readonly method: Method;
  readonly path: string;
  readonly pattern: Pattern;
  readonly at: Path;
  /** Whether it is what a page of a tenant asks for. */
  readonly isOfTenant: boolean;
}

/** Reading and writing every page, and all that the pages of tenants load and their parts send. */
function* asked(facts: Facts): Generator<Asked> {
  for (const page of facts.policy.pages) {
    const { pattern, at, loads, parts, answers } = page;
    const methods: Method[] = answers === null ? ['GET', 'POST'] : [...answers];
    for (const method of methods) {
      yield { method, path: pattern.text.replace(/\*\*?/g, 'x'), pattern, at, isOfTenant: false };
    }
    const own = facts.pageRoute(page)?.grounds.audience;
    if (own === undefined || !isBoundToPath(own)) continue;
    for (const endpoint of [...loads, ...parts.flatMap(({ sends }) => sends ?? [])]) {
      const [path = '/'] = endpoint.path.split('?', 1);
      const loaded = parsePattern(path);
      if (typeof loaded !== 'string') {
        yield { method: endpoint.method, path, pattern: loaded, at: endpoint.at, isOfTenant: true };
      }
    }
  }
}

/** Somebody who has a tenant and is in an audience that does not ask for it; null for nobody. */
function strangerIn(facts: Facts, audience: Audience, fact: string): string | null {
  if (audience.who === 'everyone' || audience.who === 'guests') return null;
  if (audience.who === 'some') {
    const isBound = audience.account !== null || (audience.facts.get(fact)?.parameters.length ?? 0) > 0;
    if (isBound) return null;
  }
  // Who has no tenant, such as somebody who looks after all of them, goes by their role alone.
  const found = facts.accounts.find(
    ({ visitor }) => visitor.facts.has(fact) && facts.admits(audience, visitor),
  );
  return found?.who ?? (audience.who === 'signed-in' ? 'whoever is signed in' : null);
}
