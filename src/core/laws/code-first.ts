import { admit } from '../app/admit.js';
import type { AppState } from '../app/app.js';
import { GUEST } from '../app/identify.js';
import type { Audience } from '../vocabulary/audience.js';
import { letsIn } from '../play/entries.js';
import type { Exchange } from '../play/stage.js';
import type { Task } from '../app/tasks.js';
import type { Policy } from '../language/policy.js';
import type { Breach, Law } from './law.js';
import { isShown } from './shown.js';

const asksForCode = (audience: Audience) => audience.who === 'some' && audience.secondFactor;

/** What asks for the second factor is not shown without it. */
export const codeFirst: Law = {
  meta: {
    name: 'code-first',
    title: 'A page that needs the second factor is shown without it.',
    holds: 'What asks for a one-time code is not shown without it.',
    mend: 'give the data second-factor: true as well',
    needs: { words: 'section second-factor', isThere: ({ secondFactor }) => secondFactor !== null },
    weight: 'law',
  },
  broken: ({ played, book, stage, clock }) => {
    const rules = stage.app.policy.secondFactor;
    if (rules === null) return null;
    for (const exchange of played.exchanges) {
      const { route, visitor, response, request } = exchange;
      const skipped = rules.asked === 'at-login' ? letInWithout(played.state, exchange) : null;
      if (skipped !== null) {
        return {
          seen: `${skipped} is let in without the one-time code that their role owes`,
          ...wayPast(stage.app.policy, exchange),
        };
      }
      const isServed = response.status < 300 || isShown(exchange);
      if (route === null || route.page === null || !isServed || visitor.secondFactor) continue;
      // Who was given a role that owes the code owes it at the next login.
      const owes = played.state.accounts.get(visitor.account ?? '')?.alwaysOwesCode === true;
      // A code that is asked for at the login stands before everything that is not open to guests.
      if (
        rules.asked === 'at-login' &&
        owes &&
        isShown(exchange) &&
        admit(route.grounds.audience, GUEST, route.parameters, clock) !== 'served'
      ) {
        return {
          seen: `${visitor.account ?? ''} gets ${request.path} without the one-time code of their login`,
          ...wayPast(stage.app.policy, null),
        };
      }
      const own = route.guard === 'server' && asksForCode(route.grounds.audience);
      // What a page shows that asks for no code is no secret of those that do.
      const loaders = book.loadersOf(request.method, route);
      const [first] = loaders.every(({ audience }) => asksForCode(audience)) ? loaders : [];
      if (!own && first === undefined) continue;
      const what =
        first === undefined ? request.path : `${request.path}, the data of ${first.page.pattern.text},`;
      return {
        seen: `${visitor.account ?? 'a guest'} gets ${what} without a one-time code`,
        allowedBy: route.grounds.at,
      };
    }
    return null;
  },
};

/** Who is let in without a code although a role of theirs owes one; null for nobody. */
function letInWithout({ accounts, sessions, families }: AppState, exchange: Exchange): string | null {
  const account = letsIn(exchange) ? accounts.get(exchange.explanation.seenAs ?? '') : undefined;
  if (account === undefined || !account.secondFactor || account.alwaysOwesCode) return null;
  const isOf = (record: { readonly account: string | null }) => record.account === account.name;
  const given = sessions.findLast(isOf) ?? families.findLast(isOf);
  return given === undefined || given.secondFactor || ('half' in given && given.half) ? null : account.name;
}

/** A way in that asks for no code, by the task of its request, and its address where several have the task. */
interface WayPast extends Pick<Breach, 'allowedBy' | 'mend'> {
  readonly task: Task;
  readonly path: string | null;
}

function waysPast({ password, linkLogin, providers, signUp }: Policy): WayPast[] {
  type Way = { readonly at: Breach['allowedBy']; readonly code: 'asked' | 'given' } | null | undefined;
  const given = (task: Task, way: Way, path: string | null = null): WayPast[] => {
    if (way?.code !== 'given') return [];
    const allowedBy = [...way.at, 'code'];
    return [{ task, path, allowedBy, mend: `set ${allowedBy.join('.')}: asked` }];
  };
  const mend = 'set sign-up.then: nothing, so that people log in, and are asked for a code';
  return [
    ...given('reset', password?.reset),
    ...given('open-link', linkLogin),
    ...providers.flatMap((provider) => given('provider-back', provider, provider.back.path)),
    ...(signUp?.then === 'login'
      ? [{ task: 'sign-up', path: null, allowedBy: [...signUp.at, 'then'], mend } as const]
      : []),
  ];
}

/** What lets somebody in without their code: the way of a request, or any by which an account of the policy comes in. */
function wayPast(policy: Policy, exchange: Exchange | null): Pick<Breach, 'allowedBy' | 'mend'> {
  const { allowedBy, mend } = waysPast(policy).find(({ task, path }) =>
    exchange === null
      ? task !== 'sign-up'
      : exchange.route?.task === task && (path === null || path === exchange.request.path),
  ) ?? { allowedBy: policy.secondFactor?.at ?? [], mend: 'ask for the code at each way in: code: asked' };
  return { allowedBy, mend };
}
