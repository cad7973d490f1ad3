import { runChecks } from '../checks/run-checks.js';
import { compareGrid } from '../grid/agreed.js';
import { gridOf, type GridColumns } from '../grid/grid.js';
import type { Diagnostic } from '../language/text/diagnostic.js';
import type { Policy } from '../language/policy.js';
import { sourceOf, type Source } from '../language/text/source.js';
import { statedAudiences } from '../language/stated.js';
import type { Path, YamlText } from '../language/text/yaml-text.js';
import { stageOf, type Stage } from '../play/stage.js';
import type { Walk } from '../steps/walk.js';
import { playWalk } from '../walks/runner.js';
import { readProject } from '../walks/project.js';
import { withValue } from './edits.js';
import { mistakesIn, type Mistake } from './mistakes.js';
import { decidedOtherwise } from './same-decisions.js';
import { TellingApart } from './telling-apart.js';
import type { TellingWalk } from './telling-walk.js';

/** What could notice a mistake. */
export const WATCHERS = ['check', 'walks', 'grid', 'laws and promises'] as const;
export type Watcher = (typeof WATCHERS)[number];

/** A mistake as it was put to the test. */
export interface Doubted {
  readonly what: string;
  readonly where: string;
  readonly at: Path;
  /** Who notices it; nobody where it is empty. */
  readonly by: readonly Watcher[];
  /** What tells the two policies apart, where nobody notices; null where nothing was found, or it was not looked for. */
  readonly shows: TellingWalk | null;
  /** Whether it says the same in other words. */
  readonly isSame: boolean;
}

/** A policy in doubt, with all that is to watch over it. */
export interface InDoubt {
  readonly policy: Policy;
  readonly input: YamlText;
  readonly walks: readonly Walk[];
  /** The files that the walks are in, but for those in the policy itself. */
  readonly walkSources: readonly Source[];
  /** A table that was agreed on; null for none. */
  readonly agreed: { readonly source: Source; readonly by: GridColumns } | null;
}

/** Every mistake that a policy is to be held against, each given by its number so that several can share the work. */
export class Doubt {
  readonly mistakes: readonly Mistake[];
  private readonly stage: Stage;
  private readonly findings: ReadonlySet<string>;
  private readonly passing: ReadonlySet<string>;
  private readonly differences: ReadonlySet<string>;
  private readonly apart: TellingApart;
  private readonly plain: string;
  private readonly undecided: string;

  constructor(private readonly given: InDoubt) {
    const { policy, input, walks } = given;
    this.stage = stageOf(policy);
    this.plain = meaningOf(policy);
    this.undecided = meaningOf(apartFromDecisions(policy));
    this.mistakes = mistakesIn(policy, input.value);
    this.findings = new Set(runChecks(policy, input, walks).map(keyOf));
    this.passing = new Set(walks.filter((walk) => playWalk(this.stage, walk).passed).map(({ name }) => name));
    this.differences = this.agreedWith(policy);
    this.apart = new TellingApart(this.stage);
  }

  /** Puts one mistake to the test; null where nobody could write it, since the policy could not be read. */
  judge({ what, where, at, next }: Mistake): Doubted | null {
    const { input, walkSources } = this.given;
    const said = { what, where, at };
    const read = readProject(
      sourceOf(input.source.file, JSON.stringify(withValue(input.value, at, next))),
      walkSources,
    );
    if (read.policy === null || read.input === null) return null;
    // What the walks name may be gone with it: that is told when they are read.
    if (read.diagnostics.length > 0) return { ...said, by: ['check'], shows: null, isSame: false };
    if (meaningOf(read.policy) === this.plain) return { ...said, by: [], shows: null, isSame: true };
    const stage = stageOf(read.policy);
    // Rules and pages may say it elsewhere, and still every request is decided alike.
    const requests = decidedOtherwise(this.stage, stage);
    const isElsewhere =
      requests?.length === 0 && meaningOf(apartFromDecisions(read.policy)) === this.undecided;
    if (isElsewhere) return { ...said, by: [], shows: null, isSame: true };
    const by: Watcher[] = [];
    const found = runChecks(read.policy, read.input, read.walks).filter(isTold);
    if (found.some((each) => !this.findings.has(keyOf(each)))) by.push('check');
    if (read.walks.some((walk) => this.passing.has(walk.name) && !playWalk(stage, walk).passed)) {
      by.push('walks');
    }
    const differs = this.agreedWith(read.policy);
    if ([...differs].some((each) => !this.differences.has(each))) by.push('grid');
    if (by.length > 0) return { ...said, by, shows: null, isSame: false };
    const apart = this.apart.from(stage, requests ?? []);
    if (apart.breaksLaw) return { ...said, by: ['laws and promises'], shows: null, isSame: false };
    return { ...said, by, shows: apart.walk, isSame: false };
  }

  /** How a policy differs from the table that was agreed on, each difference as a text. */
  private agreedWith(policy: Policy): ReadonlySet<string> {
    const { agreed } = this.given;
    if (agreed === null) return new Set();
    const compared = compareGrid(gridOf(policy, 'GET', agreed.by), agreed.source);
    return new Set(
      ('differences' in compared ? compared.differences : compared).map((each) => JSON.stringify(each)),
    );
  }
}

/** Advice is no notice: it is there to be read, and nothing fails by it. */
function isTold({ severity }: Diagnostic): boolean {
  return severity !== 'advice';
}

function keyOf({ code, message }: Diagnostic): string {
  return `${code} ${message}`;
}

/**
 * All that a policy means, apart from where it says so, to be compared. A role that nothing asks for is as good as none, and a
 * switch or a fact is what asks for it.
 */
function meaningOf(policy: Policy | ReturnType<typeof apartFromDecisions>): string {
  const asked = 'rolesAsked' in policy ? new Set(policy.rolesAsked) : rolesAsked(policy);
  const hasSessions = handsOutSessions(policy);
  return JSON.stringify(policy, (key, value: unknown) => {
    if (key === 'session' && !hasSessions) return undefined;
    if (key === 'at' || key === 'includes' || key === 'given' || key === 'accepted') return undefined;
    if (value instanceof Map) return [...value].map(([name, each]) => [String(name), each as unknown]);
    if (value instanceof Set) {
      const all = [...(value as Set<unknown>)].map(String).sort();
      return key === 'holds' || key === 'roles' ? all.filter((role) => asked.has(role)) : all;
    }
    return typeof value === 'bigint' ? String(value) : value;
  });
}

/** What could give somebody a session. */
type Givers = Pick<
  Policy,
  'logins' | 'secondFactor' | 'signUp' | 'linkLogin' | 'providers' | 'remember' | 'csrf' | 'session'
> & { readonly impersonation: object | null };

/** Whether anybody has a session: where logins hand out tokens alone, nothing that is said of sessions comes to anything. */
function handsOutSessions(policy: Givers): boolean {
  const { logins, secondFactor, signUp, linkLogin, providers, remember, csrf, session, impersonation } =
    policy;
  const others = [secondFactor, signUp, linkLogin, remember, csrf, impersonation];
  const isForGuests =
    session.starts !== 'at-login' || logins.some((login) => login.return?.kept === 'session');
  return (
    isForGuests ||
    providers.length > 0 ||
    others.some((each) => each !== null) ||
    logins.some(({ by }) => by !== 'tokens')
  );
}

/** A policy without what decides single requests, which `decidedOtherwise` compares. */
function apartFromDecisions(policy: Policy) {
  const { pages, rules, barriers, impersonation } = policy;
  const within = statedAudiences(policy).flatMap(({ audience }) =>
    audience.who === 'some' ? (audience.loginWithin ?? []) : [],
  );
  return {
    ...policy,
    otherwise: null,
    pages: pages.map((page) => ({
      ...page,
      audiences: null,
      guard: null,
      cache: null,
      refusals: null,
      kind: null,
    })),
    // How long ago a login may be at the least, and the hosts and schemes that browsers go to.
    rules: {
      within: Math.min(...within),
      hosts: rules.flatMap(({ conditions }) => conditions.hosts ?? []),
      onlyHttps: rules.some((rule) => rule.onlyHttps),
    },
    barriers: barriers.map((barrier) => ({ ...barrier, lets: null })),
    impersonation: impersonation && { ...impersonation, not: null },
    rolesAsked: [...rolesAsked(policy)].sort(),
  };
}

/** The roles that anything of a policy asks for. */
function rolesAsked(policy: Policy): ReadonlySet<string> {
  const { landing, logins, logout, pages, impersonation, secondFactor, session, promises } = policy;
  const entries = [
    ...landing,
    ...logins.flatMap((login) => login.landing),
    ...(logout?.lands ?? []),
    ...pages.flatMap(({ forward }) => forward?.entries ?? []),
  ];
  return new Set([
    ...statedAudiences(policy).flatMap(({ audience }) =>
      audience.who === 'some' ? [...(audience.any ?? []), ...audience.all, ...audience.none] : [],
    ),
    ...entries.flatMap(({ role }) => role ?? []),
    ...logins.flatMap(({ takes, asRole }) => (asRole ? [...policy.roles.keys()] : (takes ?? []))),
    ...(impersonation?.by ?? []),
    ...(impersonation?.of ?? []),
    ...(secondFactor?.of ?? []),
    ...session['by-role'].map(({ role }) => role),
    ...promises.flatMap(({ only }) => only ?? []),
  ]);
}
