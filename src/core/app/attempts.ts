import type { Clock } from '../time/clock.js';
import type { Login } from '../language/policy.js';
import type { AppState } from './app.js';

/** Whether a login lets nobody in under an account name for now; unknown names pause alike, so that they do not leak. */
export function isPaused({ attempts: rules }: Login, state: AppState, name: string, clock: Clock): boolean {
  const pausedAt = state.attempts.get(name)?.pausedAt ?? null;
  return rules !== null && pausedAt !== null && !clock.elapsed(pausedAt, rules.pause);
}

/** Counts a failed login; with the last that is allowed the pause begins. */
export function countFailure(
  { attempts: rules }: Login,
  state: AppState,
  name: string,
  clock: Clock,
): AppState {
  if (rules === null) return state;
  const recent = (state.attempts.get(name)?.failures ?? []).filter(
    (failure) => !clock.elapsed(failure, rules.within),
  );
  const failures = [...recent, clock.now];
  const next =
    failures.length < rules.most ? { failures, pausedAt: null } : { failures: [], pausedAt: clock.now };
  return { ...state, attempts: new Map(state.attempts).set(name, next) };
}

/** Forgets the failures of a name that got in. */
export function forgetFailures(state: AppState, name: string): AppState {
  if (!state.attempts.has(name)) return state;
  const attempts = new Map(state.attempts);
  attempts.delete(name);
  return { ...state, attempts };
}
