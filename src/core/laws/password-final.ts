import { linkRules } from '../app/link-rules.js';
import type { Law, Sight, View } from './law.js';
import { leftBehindAt, type Leaving } from './left-behind.js';
import { afterPassword } from './owning.js';
import { passwordChanges } from './password-changes.js';

/** Nothing from before a changed password opens anything after it. */
export const passwordFinal: Law = {
  meta: {
    name: 'password-final',
    title: 'After the password was changed or reset, something from before it still opens something.',
    holds: 'Nothing from before a changed password opens anything after it.',
    mend: 'name it in password.ends',
    needs: { words: 'section password', isThere: ({ password }) => password !== null },
    weight: 'law',
  },
  broken: (view) => {
    // Where the policy says nothing of passwords it says nothing of what becomes of them.
    if (view.stage.app.policy.password === null) return null;
    return leftBehindAt(view, PASSWORD) ?? linkLeft(view);
  },
};

const PASSWORD: Leaving = {
  event: 'password-changed',
  since: 'the password was changed',
  isNow: (view) => passwordChanges(view).length > 0,
  allowedBy: ['password', 'ends'],
  owned: afterPassword,
};

/** A link that was sent before, and is still good. */
function linkLeft(view: View): Sight | null {
  const { played, stage, clock } = view;
  const { policy } = stage.app;
  if (policy.password?.ends.has('links') === true) return null;
  for (const account of passwordChanges(view)) {
    const left = played.state.links.find(({ kind, account: to, used, sentAt }) => {
      const life = kind === 'confirm' ? 0 : (linkRules(policy, kind)?.life ?? 0);
      return to === account && !used && life > 0 && !clock.elapsed(sentAt, life);
    });
    if (left === undefined) continue;
    const what = left.kind === 'reset' ? 'link for a new password' : 'link to log in by';
    return {
      seen: `the ${what} that was sent to ${account} before the password was changed is still good`,
      allowedBy: ['password', 'ends'],
      weakness: `link ${left.kind}`,
      mend: `write password.ends: [${[...(policy.password?.ends ?? []), 'links'].join(', ')}]`,
    };
  }
  return null;
}
