import { accountClasses } from '../app/classes.js';
import { isSafe } from '../http/messages.js';
import type { Router } from '../app/router.js';
import { knownToScript } from '../browser/script.js';
import { handedOut } from '../vocabulary/credentials.js';
import type { Page, Policy } from '../language/policy.js';
import { sampleAddress } from '../paths/coverage.js';
import type { Stage } from '../play/stage.js';
import type { Meter } from './meter.js';

/** Every page, asked for by every kind of account, for reading and where it takes that for writing. */
export function pagesMeter({ app: { policy, router } }: Stage): Meter {
  const kinds = accountClasses(policy).filter(({ account }) => account.state === 'active');
  const kindOf = new Map(
    kinds.flatMap(({ account, accounts }) => accounts.map(({ name }) => [name, account.name])),
  );
  const asking = (page: Page) => {
    const { kind = 'page', guard = 'server' } = router.find('GET', addressOf(page)) ?? {};
    // A machine has no use for what is made for people, and where only calls carry a token, pages know nobody.
    const isKnown = kind === 'api' || guard === 'browser' || knowsByCookie(policy);
    const some = kinds.filter(({ account }) => isKnown && (!account.key || kind === 'api'));
    return ['a guest', ...some.map(({ account }) => account.name)];
  };
  const sent = new Set(policy.pages.flatMap(({ parts }) => parts.flatMap(({ sends }) => sends?.path ?? [])));
  return {
    group: 'pages',
    coverables: policy.pages.flatMap((page) =>
      waysToAsk(router, page, sent).flatMap((way) =>
        asking(page).map((who) => ({
          key: `${page.pattern.text} ${way} ${who}`,
          subject: page.pattern.text,
          aspect: `${way === 'read' ? 'asked for' : 'written to'} by ${who}`,
          at: page.at,
        })),
      ),
    ),
    touchedBy: ({ played, stage, from, clock }) =>
      played.exchanges.flatMap(({ route, request, visitor }) => {
        // The app gives a page that is guarded in the browser to anybody: it is script that knows who asks.
        const byScript = route?.guard === 'browser' ? knownToScript(stage.client, from, clock).account : null;
        const account = visitor.account ?? byScript;
        const who = account === null ? 'a guest' : kindOf.get(account);
        if (!route?.page || who === undefined) return [];
        return [`${route.page.pattern.text} ${isSafe(request.method) ? 'read' : 'write'} ${who}`];
      }),
  };
}

/** Whether a page is read, and whether the policy says anything of its own about writing to it. */
function waysToAsk(router: Router, page: Page, sent: ReadonlySet<string>): ('read' | 'write')[] {
  const { pattern, answers, audiences } = page;
  const address = addressOf(page);
  const isTold =
    audiences.write !== audiences.read ||
    sent.has(pattern.text) ||
    [...audiences.methods.keys()].some((each) => !isSafe(each)) ||
    router.find('GET', address)?.grounds.at !== router.find('POST', address)?.grounds.at;
  const isWritten = answers?.some((method) => !isSafe(method)) ?? isTold;
  const isRead = answers?.some(isSafe) ?? true;
  return [...(isRead ? (['read'] as const) : []), ...(isWritten ? (['write'] as const) : [])];
}

function knowsByCookie(policy: Policy): boolean {
  return handedOut(policy).includes('session') || policy.tokens?.kept === 'cookie';
}

function addressOf({ pattern }: Page): string {
  return sampleAddress(pattern, () => 'x');
}
