import type { SetCookie } from '../http/cookies.js';
import type { Exchange } from './evidence.js';
import type { Understood } from './story.js';
import type { Told } from './told.js';

/** The cookie by which a login is known, as it was recorded. */
export interface FoundSession {
  readonly cookie: SetCookie;
  readonly starts: 'at-login' | 'with-a-form' | 'at-first-visit';
  /** Whether a login changed its value; null where it was not seen before and after one. */
  readonly renewsId: boolean | null;
  /** Whether later answers gave it a new life. */
  readonly isProlonged: boolean;
  /** Seconds for which it is kept of whoever asked to be remembered, where that is another life; null else. */
  readonly rememberedFor: number | null;
  /** Whether the logout dropped it; null where no logout was recorded. */
  readonly isCleared: boolean | null;
}

/** The cookies of logins. */
export interface FoundCookies {
  readonly session: FoundSession | null;
  readonly remember: SetCookie | null;
}

const DAY = 86_400;

/** The cookies that logins set, and what becomes of them. */
export function cookiesIn(understood: Understood): FoundCookies {
  const { stories, login } = understood;
  if (login === null) return { session: null, remember: null };
  const fresh = new Map<string, SetCookie>();
  const ofRemembered = new Map<string, SetCookie>();
  for (const { told } of stories) {
    for (const { act, part } of told) {
      if (part !== 'login' && part !== 'code') continue;
      const field = login.remember;
      const isRemembered =
        field !== null && act.first.fields.some(([name, value]) => name === field && value !== '');
      for (const cookie of act.hops.flatMap(({ setCookies }) => setCookies)) {
        if (cookie.value !== '' && (cookie.maxAge ?? 1) > 0) {
          (isRemembered ? ofRemembered : fresh).set(cookie.name, cookie);
        }
      }
    }
  }
  const refresh = understood.tokens?.refresh?.cookie?.name;
  const all = [...new Map([...ofRemembered, ...fresh]).values()].filter(
    ({ name }) => !/csrf|xsrf/i.test(name) && name !== refresh,
  );
  const remember = all.length > 1 && ofRemembered.size > 0 ? (all.find(isOfRemembering) ?? null) : null;
  const sessions = all.filter((cookie) => cookie !== remember).sort((a, b) => likeness(b) - likeness(a));
  const [session] = sessions;
  return {
    session:
      session === undefined
        ? null
        : sessionOf(session, ofRemembered.get(session.name) ?? session, understood),
    remember,
  };
}

function isOfRemembering({ name, maxAge }: SetCookie): boolean {
  return (maxAge ?? 0) >= DAY && (/remember|keep|persist|known/i.test(name) || (maxAge ?? 0) >= 7 * DAY);
}

function likeness({ name, httpOnly }: SetCookie): number {
  return (/sess|sid|auth/i.test(name) ? 2 : 0) + (httpOnly ? 1 : 0);
}

function sessionOf(cookie: SetCookie, remembered: SetCookie, understood: Understood): FoundSession {
  const { name } = cookie;
  let renewsId: boolean | null = null;
  let isProlonged = false;
  let isCleared: boolean | null = null;
  let starts: FoundSession['starts'] = 'at-login';
  for (const { told } of understood.stories) {
    for (const [at, { act, part, who }] of told.entries()) {
      const set = act.hops.flatMap(({ setCookies }) => setCookies).filter((each) => each.name === name);
      const isSet = set.some((each) => each.value !== '' && (each.maxAge ?? 1) > 0);
      if (part === 'login') {
        const before = act.first.cookies.get(name);
        const after = set.at(-1)?.value ?? valueAfter(told, at, name);
        if (before !== undefined && after !== undefined) renewsId = (renewsId ?? true) && after !== before;
      } else if (part === 'logout') {
        isCleared = stillSent(told, at, name) ? false : (isCleared ?? true);
      } else if (who === null && isSet && part === 'other' && !act.first.cookies.has(name)) {
        const [firstSet] = act.hops.filter(({ setCookies }) => setCookies.some((each) => each.name === name));
        const isForm = firstSet === undefined || leadsToForm(firstSet, understood);
        if (!isForm) starts = 'at-first-visit';
        else if (starts === 'at-login') starts = 'with-a-form';
      } else if (who !== null && isSet && cookie.maxAge !== null) {
        isProlonged = true;
      }
    }
  }
  const rememberedFor = remembered.maxAge === cookie.maxAge ? null : remembered.maxAge;
  return { cookie, starts, renewsId, isProlonged, rememberedFor, isCleared };
}

/** Whether the browser sent the same cookie on after a logout; false where it asked for nothing more. */
function stillSent(told: readonly Told[], at: number, name: string): boolean {
  const before = told[at]?.act.first.cookies.get(name);
  const next = valueAfter(told, at, name);
  return before !== undefined && next === before;
}

/** The value of a cookie as the browser sent it next. */
function valueAfter(told: readonly Told[], at: number, name: string): string | undefined {
  const next = told[at]?.act.hops[1] ?? told[at + 1]?.act.first;
  return next?.cookies.get(name);
}

/** Whether an answer shows a form, or leads to the login. */
function leadsToForm({ location, path, body }: Exchange, { login, origin }: Understood): boolean {
  if (login === null) return false;
  if (path === login.page || (location?.startsWith(`${origin ?? ''}${login.page}`) ?? false)) return true;
  return /<form\b/i.test(body ?? '');
}

/** The token of forms against those of other sites. */
export interface FoundCsrf {
  readonly field: string;
  readonly isEachAnother: boolean;
  /** Whether the forms of guests carry it too. */
  readonly isOfGuests: boolean;
}

/** The token that forms carry, as it was recorded; null where none was. */
export function csrfIn({ stories, login }: Understood): FoundCsrf | null {
  const NAME = /csrf|xsrf|authenticity|verification_?token|^_token$/i;
  const forms = stories.map(({ told }) =>
    told.flatMap(({ act, who }) =>
      act.first.sends === 'form' && act.first.method !== 'GET' ? [{ fields: act.first.fields, who }] : [],
    ),
  );
  const field = forms
    .flat()
    .flatMap(({ fields }) => fields)
    .find(([name]) => NAME.test(name) && name !== login?.name)?.[0];
  if (field === undefined) return null;
  const isEachAnother = forms.some((own) => {
    const values = own.flatMap(({ fields, who }) =>
      who === null ? [] : fields.filter(([name]) => name === field).map(([, value]) => value),
    );
    return values.length > 1 && new Set(values).size === values.length;
  });
  const isOfGuests = forms
    .flat()
    .some(
      ({ fields, who }) => who === null && fields.some(([name, value]) => name === field && value !== ''),
    );
  return { field, isEachAnother, isOfGuests };
}
