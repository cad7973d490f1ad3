import { cookieValue, writeSetCookie, type CookieRules } from '../http/cookies.js';

type Rules = Omit<CookieRules, 'life'>;

/** The Set-Cookie headers that hand something out: of its cookie, and of those that go with it. */
export function handedOutIn(rules: Rules, value: string, maxAge: number | null): string[] {
  const { name, others, secure, httpOnly, sameSite, path, domain } = rules;
  return [name, ...others].map((each) =>
    writeSetCookie({ name: each, value, path, domain, secure, httpOnly, sameSite, maxAge }),
  );
}

/** The Set-Cookie headers that make a browser drop it. */
export function clearedIn(rules: Rules): string[] {
  return handedOutIn(rules, '', 0);
}

/** What came in a Cookie header; null where any of the cookies is missing, or they do not belong together. */
export function shownIn(header: string, { name, others }: Pick<Rules, 'name' | 'others'>): string | null {
  const value = cookieValue(header, name);
  if (value === null || others.length === 0) return value;
  return others.every((each) => cookieValue(header, each) === value) ? value : null;
}
