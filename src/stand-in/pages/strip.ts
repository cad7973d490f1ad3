import {
  cookieValue,
  CREDENTIALS,
  formatDuration,
  handle,
  holdingOf,
  readSetCookie,
  recordWords,
  type Holding,
} from '../../core/internal.js';
import { limitWords } from '../../render/messages-text.js';
import { html, type Html } from '../../render/html.js';
import type { View } from './view.js';

/** The strip at the foot of every page: who one is, by what, the time left, and why the last refusal came. */
export function strip(view: View): Html {
  const { decided, time, site, lastRefusal } = view;
  const { visitor, explanation } = decided;
  const seenAs = visitor.account ?? 'guest';
  const rows = [
    row('You are', html`<strong>${seenAs}</strong>${roleWords(visitor.roles)}`),
    ...(visitor.actedBy === null
      ? []
      : [row('Acting', html`${visitor.actedBy} acts for ${seenAs}${actingWords(view)}`)]),
    row('Known by', html`${byWords(view)}`),
    ...holdings(view).map((holding) =>
      row(`Your ${recordWords(holding.what)}`, html`${holdingWords(holding)}`),
    ),
    ...(site.stage.client.tokens === null
      ? []
      : [row('Tokens in script', html`<span id="tokens">none</span>`)]),
    row('This page', html`${explanation.reason}${lineWords(view, explanation.decidedBy)}`),
    ...(lastRefusal === null
      ? []
      : [row('Last refusal', html`${lastRefusal.target}: ${lastRefusal.why}${lineText(lastRefusal.line)}`)]),
    row('Clock', html`${formatDuration(time)} after the start`),
  ];
  return html`<aside
    aria-label="What the app knows of you"
    data-seen-as="${seenAs}"
    ${visitor.actedBy === null ? null : html`data-acted-by="${visitor.actedBy}"`}
    data-why="${explanation.reason}"
  >
    <dl>${rows}</dl>
    <p><a href="/-/">Steer the clock, sessions and accounts</a></p>
  </aside>`;
}

/** How long whoever acts for somebody still does. */
function actingWords({ site, decided, time }: View): string {
  const life = site.policy.impersonation?.life ?? null;
  const own = site.state.sessions[decided.visitor.session]?.acting;
  const acting = own ?? site.state.acting.get(decided.visitor.actedBy ?? '');
  return life === null || !acting ? '' : `, ${formatDuration(acting.since + life - time)} left`;
}

function row(name: string, value: Html): Html {
  return html`<div>
    <dt>${name}</dt>
    <dd>${value}</dd>
  </div>`;
}

function roleWords(roles: ReadonlySet<string>): string {
  return roles.size === 0 ? '' : ` (${[...roles].join(', ')})`;
}

function byWords({ decided, request, site }: View): string {
  const { visitor } = decided;
  if (visitor.by === null) {
    const half = site.state.sessions[visitor.session]?.half === true;
    return half ? 'nothing yet: the one-time code is missing' : 'nothing';
  }
  const shown = cookieValue(request.cookie, site.policy.session.cookie.name);
  const isResumed = visitor.by === 'session' && shown !== handle('session', visitor.session);
  return isResumed ? 'remember-me, which began a new session' : visitor.by;
}

/** What the browser has in cookies once it has this response. */
function holdings({ decided, request, site, wire, time }: View): Holding[] {
  const { stage, state } = site;
  const { session, remember } = site.policy;
  const others = [...session.cookie.others, ...(remember?.cookie.others ?? [])];
  const names = wire.cookieNames.filter((name) => !others.includes(name));
  return names.flatMap((name): Holding[] => {
    const set = decided.response.setCookie.map(readSetCookie).findLast((cookie) => cookie?.name === name);
    const value = set === undefined ? cookieValue(request.cookie, name) : (set?.value ?? null);
    const what = CREDENTIALS.find((kind) => value?.startsWith(`${kind}-`) === true);
    return value === null || what === undefined ? [] : [holdingOf(stage, state, what, value, time)];
  });
}

/** A credential with what is left of it. */
export function holdingWords({
  counts,
  because,
  left,
}: Pick<Holding, 'counts' | 'because' | 'left'>): string {
  const why = because === null ? 'does not count' : `does not count: ${because}`;
  const state = counts ? [] : [because === 'guest' ? "a guest's" : why];
  return [...state, ...limitWords({ left })].join(', ') || 'no limit';
}

function lineWords({ lineOf }: View, at: View['decided']['explanation']['decidedBy']): string {
  return at.length === 0 ? '' : lineText(lineOf(at));
}

function lineText(line: number | null): string {
  return line === null ? '' : ` (line ${line} of the policy)`;
}
