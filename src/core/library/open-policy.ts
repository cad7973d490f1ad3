import { runChecks } from '../checks/run-checks.js';
import { diffPolicies, type PolicyDiff } from '../diff/policy-diff.js';
import { gridOf, type Grid } from '../grid/grid.js';
import { guestState, asItself, reach, type Condition } from '../grid/login-state.js';
import { shownAddress } from '../http/address.js';
import { SOME_CLIENT } from '../http/client-address.js';
import type { Method } from '../http/messages.js';
import { hasErrors, inReadingOrder } from '../language/text/diagnostic.js';
import type { Policy } from '../language/policy.js';
import { sourceOf } from '../language/text/source.js';
import type { Path, YamlText } from '../language/text/yaml-text.js';
import { stageOf, type Stage } from '../play/stage.js';
import { loadProject } from '../walks/project.js';
import type { SceneOutcome } from '../proof/known/scene-outcome.js';
import { ALONE, castsOf, isUnasked, MOST_STATES, settleScene, verdictsOf } from '../proof/prove.js';
import type { Seconds } from '../time/duration.js';
import { playSteps, playWalk } from '../walks/runner.js';
import type { Walk } from '../steps/walk.js';
import { decide, type AskedRequest, type Visitor } from '../why/admission.js';
import { explainRequest } from '../why/explain-request.js';
import type { Change } from '../why/changes.js';
import { readRequestLine } from '../why/request-line.js';
import type { Reason } from '../app/reasons.js';
import { filePlace, findingOf, playedStep, playedWalk, type FilePlace, type Finding } from './results.js';
import type { PlayedStep, PlayedWalk } from './results.js';

/** That a policy or its walks cannot be read. Everything that is wrong with them is in `findings`. */
export class PolicyError extends Error {
  constructor(readonly findings: readonly Finding[]) {
    super(findings.map(({ code, message, place }) => `${code} ${placeText(place)}: ${message}`).join('\n'));
    this.name = 'PolicyError';
  }
}

/** That something was asked that a policy cannot answer, such as of an account that it does not have. */
export class QuestionError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'QuestionError';
  }
}

/** A file of walks. */
export interface WalkFile {
  readonly file: string;
  readonly text: string;
}

/**
 * Reads a policy and its walks, and puts the policy to work.
 *
 * @param text the policy, in YAML
 * @param more its name in findings, and files of walks
 * @throws PolicyError with everything that is wrong with them
 * @example const policy = await openPolicy(await readFile('cavrin.yaml', 'utf8'))
 */
export async function openPolicy(
  text: string,
  more: { readonly file?: string; readonly walks?: readonly WalkFile[] } = {},
): Promise<OpenPolicy> {
  const walks = (more.walks ?? []).map((each) => sourceOf(each.file, each.text));
  const read = await loadProject(sourceOf(more.file ?? 'cavrin.yaml', text), walks);
  if (read.policy === null || read.input === null || hasErrors(read.diagnostics)) {
    throw new PolicyError(inReadingOrder(read.diagnostics).map(findingOf));
  }
  return new OpenPolicy(read.policy, read.input, read.walks);
}

/** Whether somebody may have what they ask for. */
export interface Admission {
  readonly admitted: boolean;
  /** `served` where they may, else why not. */
  readonly reason: Reason;
  /** The line of the policy that decides; null where nothing of it was asked. */
  readonly decidedBy: FilePlace | null;
}

/** What a request comes to, by all of the app: its session, tokens and redirects too. */
export interface Explanation extends Admission {
  /** The account that the app takes the visitor for, or script where it guards the page; or `guest`. */
  readonly seenAs: string;
  /** Who acts for that account; null where nobody does. */
  readonly actedBy: string | null;
  /** Where it leads, and the status of the last response; null where no page is shown. */
  readonly lands: string | null;
  readonly status: number | null;
  /** The smallest changes of the visitor of which each would admit them; empty where they are admitted, or nothing would. */
  readonly changes: readonly Change[];
}

/** What came of a law or promise for all sequences of steps. */
export interface Verdict {
  /** The name of a law, or `promise` and its number from 1. */
  readonly goal: string;
  /** `unasked`: the policy has nothing that the law is about. */
  readonly verdict: 'holds' | 'broken' | 'open' | 'unasked';
  /** Whether it fails nothing. */
  readonly isAdvice: boolean;
  /** The shortest walk that breaks it; empty for other verdicts. */
  readonly walk: readonly PlayedStep[];
  /** Why it is not settled, or not asked; null for other verdicts. */
  readonly because: string | null;
}

/** What was proved. */
export interface Proof {
  readonly verdicts: readonly Verdict[];
  /** For how long something still opens what is not open to everybody; empty where the proof was ended before. */
  readonly exposures: readonly ProvedExposure[];
}

/** For how long after something a credential can still open what is not open to everybody. */
export interface ProvedExposure {
  /** What somebody has: a credential, or `browser` for all that one holds that is left alone. */
  readonly credential: string;
  /** What the time counts from. */
  readonly event: string;
  /** null: without end. */
  readonly ends: Seconds | null;
}

/** A policy at work. What it is asked changes nothing in it. */
export class OpenPolicy {
  private readonly stage: Stage;

  /** @internal made by `openPolicy` */
  constructor(
    private readonly policy: Policy,
    private readonly input: YamlText,
    private readonly walks: readonly Walk[],
  ) {
    this.stage = stageOf(policy);
  }

  /** What is careless in the policy and its walks, in the order of the text. */
  check(): Finding[] {
    return inReadingOrder(runChecks(this.policy, this.input, this.walks)).map(findingOf);
  }

  /** Plays every walk on a virtual clock. */
  play(): PlayedWalk[] {
    return this.walks.map((walk) => playedWalk(playWalk(this.stage, walk)));
  }

  /**
   * Whether somebody whom a server knows may have what they ask for, by barriers, pages and rules.
   *
   * @param request such as `GET /ledger`, or with a host and the network that it comes from
   * @param visitor null for a guest; what is left out of roles, facts, age and flags is what the policy says
   * @throws QuestionError where the request is none, or a role or flag is not in the policy
   */
  admits(request: string | AskedRequest, visitor: KnownVisitor | null): Admission {
    const { reason, decidedBy } = decide(this.stage, requestOf(request), this.visitorOf(visitor));
    return { admitted: reason === 'served', reason, decidedBy: this.placeOf(decidedBy) };
  }

  /**
   * What a request comes to for an account of the policy in a login state, which is brought about by playing it.
   *
   * @param request such as `GET /ledger`
   * @param who an account (left out: a guest), and what has become of its login (left out: `signed-in`)
   * @throws QuestionError where there is no such request, account or state
   */
  explain(request: string, who: { readonly as?: string; readonly state?: Condition } = {}): Explanation {
    const { method, address } = requestOf(request);
    const explained = explainRequest(this.stage, this.loginState(who), method, address, SOME_CLIENT);
    const { grounds, played, visitor, changes, outcome } = explained;
    const { why } = outcome;
    // Whoever is sent on from a page as it was meant was let in.
    const reason = why === null || why === 'forwarded' ? 'served' : why;
    const { page } = played.browser.tab;
    return {
      admitted: reason === 'served',
      reason,
      decidedBy: this.placeOf((reason === 'served' ? grounds?.at : outcome.decidedBy) ?? null),
      seenAs: visitor.account ?? 'guest',
      actedBy: visitor.actedBy,
      lands: page === null ? null : shownAddress(page.address, this.stage.client.origin),
      status: played.exchanges.at(-1)?.response.status ?? null,
      changes,
    };
  }

  /** Where every login state lands on every page. */
  grid(method: Method = 'GET'): Grid {
    return gridOf(this.policy, method);
  }

  /** Who lands elsewhere under a later policy. */
  diff(later: OpenPolicy): PolicyDiff {
    return diffPolicies(this.policy, later.policy);
  }

  /**
   * Settles every law and promise for all sequences of steps, one scene after another. It takes seconds to minutes.
   *
   * @param mostStates a goal is left open after so many states of a scene
   * @param isEnded asked now and then; once true, what is not settled stays open
   */
  async prove({
    mostStates = MOST_STATES,
    isEnded = () => false,
  }: { readonly mostStates?: number; readonly isEnded?: () => boolean } = {}): Promise<Proof> {
    const casts = castsOf(this.stage, null);
    const outcomes: SceneOutcome[] = [];
    for (const cast of casts) {
      outcomes.push(
        await settleScene(this.stage, { cast, most: mostStates, withExposures: cast === ALONE }, isEnded),
      );
    }
    const verdicts = verdictsOf(this.policy, casts, outcomes, 'it was ended');
    return {
      verdicts: verdicts.map(({ goal, finding }) => ({
        goal: goal.id,
        verdict: isUnasked({ goal, finding }) ? 'unasked' : finding.verdict,
        isAdvice: goal.law?.weight === 'advice',
        walk:
          finding.verdict === 'broken'
            ? playSteps(this.stage, finding.by.steps).steps.map(playedStep)
            : NO_STEPS,
        because:
          finding.verdict === 'open'
            ? finding.because
            : isUnasked({ goal, finding })
              ? `no ${goal.lacks ?? ''}`
              : null,
      })),
      exposures: (outcomes[0]?.exposures ?? []).map(({ credential, event, ends }) => ({
        credential,
        event,
        ends,
      })),
    };
  }

  private visitorOf(visitor: KnownVisitor | null): Visitor | null {
    if (visitor === null) return null;
    const known = this.policy.accounts.get(visitor.account);
    const { roles = known?.given ?? [], facts, secondFactor = false, loggedInFor = 0 } = visitor;
    const usual = [...this.policy.flags].flatMap(([name, isOn]) => (isOn ? [name] : []));
    const { joinedFor = known?.joined ?? null, flags = usual } = visitor;
    const unknown = roles.find((role) => !this.policy.roles.has(role));
    if (unknown !== undefined) throw new QuestionError(`the policy has no role ${unknown}`);
    const flag = flags.find((each) => !this.policy.flags.has(each));
    if (flag !== undefined) throw new QuestionError(`the policy has no flag ${flag}`);
    return {
      account: visitor.account,
      roles,
      facts: facts ?? Object.fromEntries(known?.facts ?? []),
      secondFactor,
      loggedInFor,
      joinedFor,
      flags,
      actedBy: visitor.actedBy ?? null,
    };
  }

  private loginState({ as, state = 'signed-in' }: { readonly as?: string; readonly state?: Condition }) {
    if (as === undefined) return guestState(this.policy);
    const account = this.policy.accounts.get(as);
    if (account === undefined) throw new QuestionError(`the policy has no account ${as}`);
    const who = state === 'signed-in' ? asItself(this.stage, account) : reach(this.stage, account, state);
    if (who === null) throw new QuestionError(`under this policy ${as} is never ${state}`);
    return who;
  }

  private placeOf(path: Path | null): FilePlace | null {
    return path === null || path.length === 0 ? null : filePlace(this.input.placeOf(path));
  }
}

/** Somebody as a server knows them. */
export type KnownVisitor = Pick<Visitor, 'account'> & Partial<Omit<Visitor, 'account'>>;

const NO_STEPS: readonly PlayedStep[] = [];

function requestOf(request: string | AskedRequest): AskedRequest {
  if (typeof request !== 'string') return request;
  const read = readRequestLine(request);
  if (typeof read === 'string') throw new QuestionError(`${read}; write it like "GET /ledger"`);
  return read;
}

function placeText(place: FilePlace | null): string {
  return place === null ? '' : `${place.file}:${place.line}:${place.column}`;
}
