import { ANY_STEPS } from '../steps/all-steps.js';
import { formatDuration } from '../time/duration.js';
import type { Act } from './acts.js';
import type { DraftedWalk, Plain } from './drafted.js';
import type { SeenPage } from './seen-pages.js';
import type { Story, Understood } from './story.js';
import type { Told } from './told.js';
import { pathOf } from './login-found.js';
import { madeUpPassword } from './sign-up-found.js';
import { landsAt } from './ways-found.js';

type Step = Record<string, Plain>;

/** What each page loads, by its pattern. */
type Loads = ReadonlyMap<string, readonly string[]>;

/** Shorter pauses are how people read and type; a walk does not wait for them. */
const SHORTEST_WAIT = 60;

/**
 * A walk for each recording: what was done, with what came out.
 *
 * @param sections the sections that the policy has: what asks for another is no step of a walk
 */
export function recordedWalks(
  understood: Understood,
  pages: readonly SeenPage[],
  sections: ReadonlySet<string>,
): DraftedWalk[] {
  const loads = new Map(pages.map((page) => [page.pattern, page.loads]));
  const taken = new Set<string>();
  return understood.stories.flatMap((story) => {
    const all = stepsOf(story, understood, { loads, sections });
    const steps = all.filter((step) => canBeDone(step, sections));
    const who = story.recording.person ?? 'a guest';
    const name = `As recorded: ${who}`;
    const count = [...taken].filter((each) => each === name || each.startsWith(`${name} (`)).length;
    const own = count === 0 ? name : `${name} (${count + 1})`;
    taken.add(own);
    return steps.length === 0 ? [] : [{ name: own, steps }];
  });
}

function canBeDone(step: Step, sections: ReadonlySet<string>): boolean {
  return ANY_STEPS.every(
    ({ verb, needs }) => !(verb in step) || needs === undefined || sections.has(needs.section),
  );
}

function stepsOf(
  { told, recording, stays }: Story,
  understood: Understood,
  { loads, sections }: { readonly loads: Loads; readonly sections: ReadonlySet<string> },
): Step[] {
  const steps: Step[] = [];
  const isInAlready = recording.person !== null && told[0]?.who === recording.person;
  if (isInAlready && understood.login !== null) steps.push({ login: recording.person });
  let end = told[0]?.act.first.at ?? 0;
  for (const [at, { act }] of told.entries()) {
    const pause = Math.round(act.first.at - end);
    end = act.last.at;
    if (pause >= SHORTEST_WAIT) steps.push({ wait: formatDuration(pause) });
    const stay = stays.find((each) => each.at === at);
    const shown = stay?.came === 'shown' ? { lands: understood.addresses.safe(stay.path) } : {};
    // Whoever goes on by a link that script follows asks for the page all the same.
    if (stay !== undefined && !stay.isLoaded && !stay.isLed) {
      steps.push({ visit: understood.addresses.safe(stay.path), ...shown });
    }
    const step = isPartOfAnother(told, at, understood, loads) ? null : stepOf(told, at, understood, sections);
    if (step !== null) {
      steps.push(stay?.isLoaded === true && !('lands' in step) ? { ...step, ...shown } : step);
    }
  }
  return steps;
}

/** Whether the simulated browser does it by itself: what a page loads, refreshes, and the call that a refresh follows. */
function isPartOfAnother(
  told: readonly Told[],
  at: number,
  { addresses, script }: Understood,
  loads: Loads,
): boolean {
  const one = told[at];
  if (one === undefined || one.part === 'refresh') return true;
  const { act } = one;
  const before = told[at - 1];
  const isLedByScript =
    act.kind === 'page' &&
    before?.act.kind === 'call' &&
    ['login', 'code', 'sign-up', 'logout'].includes(before.part) &&
    act.first.referer !== null &&
    act.first.at - before.act.last.at < 3;
  if (isLedByScript) return true;
  if (act.kind === 'page' || one.part !== 'other') return false;
  const { method, path, status, referer } = act.first;
  if (method === 'OPTIONS' || method === 'HEAD') return true;
  const isRenewed =
    status === 401 &&
    told[at + 1]?.part === 'refresh' &&
    told
      .slice(at + 2, at + 4)
      .some((later) => later.act.first.path === path && later.act.first.method === method);
  if (isRenewed) return true;
  const loaded = told.slice(0, at).findLast((each) => each.act.kind === 'page')?.act.last.path ?? null;
  const from = pathOf(referer) ?? loaded;
  const page = from === null ? null : addresses.patternOf(from);
  const call = `${method} ${addresses.patternOf(path) ?? ''}`;
  return page !== null && ((loads.get(page) ?? []).includes(call) || script?.always.has(call) === true);
}

function stepOf(
  told: readonly Told[],
  at: number,
  understood: Understood,
  sections: ReadonlySet<string>,
): Step | null {
  const one = told[at];
  if (one === undefined) return null;
  const { act, part, person } = one;
  const { login, addresses } = understood;
  const path = addresses.safe(act.first.path);
  // Without its section it is a request as any other.
  switch (part === 'logout' && !sections.has('logout') ? 'other' : part) {
    case 'login': {
      if (person === null) return null;
      const field = login?.remember ?? null;
      const remember =
        sections.has('remember') &&
        field !== null &&
        act.first.fields.some(([name, value]) => name === field && value !== '');
      return { login: remember ? { as: person, remember: true } : person, ...cameOut(told, at, understood) };
    }
    case 'wrong login':
      return person === null
        ? null
        : {
            login: { as: person, password: 'wrong' },
            ...(act.hops.length > 1 ? { lands: addresses.safe(act.last.path) } : {}),
            ...(act.first.status >= 400 ? { status: act.first.status } : {}),
          };
    case 'sign-up':
      return person === null
        ? null
        : {
            'sign-up': { as: person, password: madeUpPassword(person, understood) },
            ...cameOut(told, at, understood),
          };
    case 'code':
      return { code: one.after === null ? 'wrong' : 'right', ...cameOut(told, at, understood) };
    case 'logout':
      return { logout: null, ...cameOut(told, at, understood) };
    default: {
      if (addresses.patternOf(act.first.path) === null || act.last.status >= 500) return null;
      if (act.kind === 'call') return { send: `${act.first.method} ${path}`, status: act.last.status };
      const does: Step =
        act.first.method === 'GET' ? { visit: path } : { send: `${act.first.method} ${path}` };
      return { ...does, ...cameOut(told, at, understood) };
    }
  }
}

/** What a step is expected to show: where it landed, or with what status. */
function cameOut(told: readonly Told[], at: number, understood: Understood): Step {
  const one = told[at];
  const { login, addresses, script } = understood;
  if (one === undefined || login === null) return one === undefined ? {} : answered(one.act, understood);
  const isCall = one.act.kind === 'call';
  if (isCall || script !== null) {
    const lands = isCall ? landsAt(told, at, login) : (one.led?.path ?? null);
    return lands === null ? {} : { lands: addresses.safe(lands) };
  }
  return answered(one.act, understood);
}

function answered({ hops, last }: Act, { addresses }: Understood): Step {
  const lands = hops.length > 1 ? { lands: addresses.safe(last.path) } : {};
  return last.status < 300 && hops.length > 1 ? lands : { ...lands, status: last.status };
}
