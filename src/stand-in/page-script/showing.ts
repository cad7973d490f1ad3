import type { Client } from '../../core/browser/client.js';
import type { Flight, HeldTokens } from '../../core/browser/state.js';
import { formatDuration } from '../../core/time/duration.js';

/** Shows a request of script with what came back: beside the data it was for, or in the list of calls. */
export function showCall({ request, purpose }: Flight, status: number): void {
  const name = `${request.method} ${request.path}${request.query}`;
  const words = status < 400 ? `${status} received` : `${status} refused`;
  const load = document.querySelector(`[data-load="${CSS.escape(name)}"] span`);
  if (load !== null && purpose.kind === 'call' && purpose.call.loads !== null) {
    load.textContent = words;
    return;
  }
  const calls = document.getElementById('calls');
  const item = document.createElement('li');
  item.dataset['status'] = String(status);
  item.textContent = `${name}: ${words}`;
  calls?.append(item);
}

/** Draws the menu with some of its links. */
export function showMenu({ menu }: Client, shown: readonly string[], path: string): void {
  const items = menu
    .filter(({ to }) => shown.includes(to))
    .map(({ to, text }) => {
      const link = document.createElement('a');
      link.href = to;
      link.textContent = text;
      if (to === path) link.setAttribute('aria-current', 'page');
      const item = document.createElement('li');
      item.append(link);
      return item;
    });
  document.querySelector('nav ul')?.replaceChildren(...items);
}

/** Brings the parts of the page into sight that script shows its visitor. */
export function showParts(shown: readonly string[]): void {
  for (const part of document.querySelectorAll<HTMLElement>('[data-part]')) {
    part.hidden = !shown.includes(part.dataset['part'] ?? '');
  }
}

/** Takes what the visitor is not to see off the page. */
export function showRefusal(why: string): void {
  const main = document.querySelector('main');
  if (main === null) return;
  const title = document.createElement('h1');
  title.textContent = 'Not allowed';
  const words = document.createElement('p');
  words.textContent = `Script in this page turned you away: ${why}.`;
  main.replaceChildren(title, words);
  main.dataset['refused'] = why;
}

/** Says in the strip what script holds. */
export function showTokens(tokens: HeldTokens | null, now: number): void {
  const place = document.getElementById('tokens');
  if (place !== null) place.textContent = tokens === null ? 'none' : tokenWords(tokens, now);
  const signOut = document.querySelector<HTMLFormElement>('form[data-form="logout"]');
  // Only script knows whether there are tokens to sign out of.
  if (signOut !== null) signOut.hidden = tokens === null && signOut.dataset['known'] === 'no';
}

function tokenWords({ access, refresh, receivedAt, expiresIn, claims }: HeldTokens, now: number): string {
  const left = receivedAt + expiresIn - now;
  const life = left > 0 ? `${formatDuration(left)} left` : 'over';
  const kinds = [
    ...(access === '' && refresh === null ? ['in cookies, out of the reach of script'] : []),
    ...(access === '' ? [] : [`access token, ${life}`]),
    ...(refresh === null ? [] : ['refresh token']),
  ];
  return `of ${claims.account}: ${kinds.join('; ')}`;
}
