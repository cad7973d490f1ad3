import { formatDuration, type Path, type Recorded, type Seconds } from '../../core/internal.js';
import type { Entry, Site } from '../site.js';
import { standingOf, type Standing } from '../steering.js';
import type { Wire } from '../wire.js';
import { framed } from './frame.js';
import { Html, html } from '../../render/html.js';

/** Requests that the page lists. */
const SHOWN_ENTRIES = 25;

/** The page that moves the clock and shows and changes what the app half has on record. */
export function steeringPage(site: Site, wire: Wire, lineOf: (place: Path) => number): string {
  const standing = standingOf(site, wire);
  return framed({
    app: site.policy.app,
    title: 'Steering',
    menu: [{ to: '/', text: 'To the app', current: false }],
    signOut: null,
    main: html`<h1>Steering</h1>
      <p class="audience">
        What the stand-in can do and the app cannot. These pages are not part of the app.
      </p>
      ${clock(standing)} ${recording(site)} ${switches(standing)} ${records(standing)} ${keys(standing, site)}
      ${accounts(standing)} ${messages(standing)} ${entries(site.entries.slice(-SHOWN_ENTRIES), lineOf)}`,
    strip: html``,
    data: null,
  });
}

function clock({ now, clock }: Standing): Html {
  const runs = clock === 'real' ? 'It runs, and can be moved on.' : 'It stands still until it is moved on.';
  return html`<section class="card">
    <h2>Clock: ${formatDuration(now)} after the start</h2>
    <p>${runs}</p>
    <form method="POST" action="/-/clock">
      <p>
        <label for="wait">Move on by</label><input id="wait" name="wait" placeholder="30m" required />
        <button>Move on</button>
      </p>
    </form>
    <form method="POST" action="/-/restart-app">
      <p>
        <button class="pick">Restart the app</button>
        <small>Sessions in memory are lost, all else stays.</small>
      </p>
    </form>
    <form method="POST" action="/-/reset">
      <p>
        <button class="pick">Reset</button> <small>Everything back to the policy, but for the clock.</small>
      </p>
    </form>
  </section>`;
}

const NEWLINE = new Html('\n');

/** Records what is clicked as a walk, and shows the last one. */
function recording({ recorder, recorded }: Site): Html {
  const lines = (recorded ?? '')
    .trimEnd()
    .split('\n')
    .flatMap((line) => [html`${line}`, NEWLINE]);
  const begin = html`<form method="POST" action="/-/walk">
    <p>
      <button name="record" value="on">Record a walk</button>
      <small
        >Everything goes back to the policy first; then click through the app, in as many browsers as you
        like.</small
      >
    </p>
  </form>`;
  const end =
    recorder === null
      ? null
      : html`<form method="POST" action="/-/walk">
          <p>
            <label for="walk-name">Recorded so far: ${recorder.count}. Call the walk</label
            ><input id="walk-name" name="name" maxlength="200" placeholder="A clerk comes back" required />
            <button>End and show it</button>
          </p>
        </form>`;
  const last =
    recorded === null || recorder !== null
      ? null
      : html`<p>
            <label for="walk-text">The last one, to be put into a file in walks/, or taken</label>
            <a href="/-/walk" download="recorded.yaml">as a file</a>
          </p>
          <textarea id="walk-text" rows="14" readonly>${lines}</textarea>`;
  return html`<section class="card">
    <h2>${recorder === null ? 'Record a walk' : 'Recording'}</h2>
    ${end ?? begin} ${last}
  </section>`;
}

function switches({ flags }: Standing): Html | null {
  const all = Object.entries(flags);
  if (all.length === 0) return null;
  const items = all.map(([flag, stands]) => {
    const other = stands === 'on' ? 'off' : 'on';
    return html`<li>
      <form method="POST" action="/-/set-flag">
        ${flag} is ${stands}
        <button name="flags" value="${JSON.stringify({ [flag]: other })}">Turn ${other}</button>
      </form>
    </li>`;
  });
  return html`<section class="card">
    <h2>Flags</h2>
    <ul>
      ${items}
    </ul>
  </section>`;
}

function records({ records, now }: Standing): Html {
  const rows = records.map(
    (
      record,
    ) => html`<tr${record.counts ? null : html` class="over"`}><td>${record.handle}</td><td>${record.account}</td>
<td>${record.counts ? 'counts' : `does not count${record.because === null ? '' : `: ${record.because}`}`}</td><td>${limits(record, now)}</td></tr>`,
  );
  return html`<section class="card">
    <h2>Sessions and tokens</h2>
    ${
      rows.length === 0
        ? html`<p>Nobody has logged in yet.</p>`
        : html`<div class="scroll">
            <table>
              <thead>
                <tr>
                  <th>What</th>
                  <th>Account</th>
                  <th>State</th>
                  <th>Limits, and where to move the clock</th>
                </tr>
              </thead>
              <tbody>
                ${rows}
              </tbody>
            </table>
          </div>`
    }
  </section>`;
}

function keys({ keys }: Standing, site: Site): Html | null {
  if (keys.length === 0) return null;
  const items = keys.map(
    ({ account, key, counts, because }) =>
      html`<li>
        ${account}:
        <code>${keyShown(site, key)}</code> ${counts ? 'counts' : `does not count: ${because ?? ''}`}
      </li>`,
  );
  return html`<section class="card">
    <h2>Keys of machines</h2>
    <p>What each of them shows with a request.</p>
    <ul>
      ${items}
    </ul>
  </section>`;
}

/** A key where a request has it. */
function keyShown({ policy: { apiKeys } }: Site, key: string): string {
  if (apiKeys === null || apiKeys.sent === 'bearer') return `Authorization: Bearer ${key}`;
  return apiKeys.sent === 'header' ? `${apiKeys.name}: ${key}` : `?${apiKeys.name}=${key}`;
}

function limits({ left }: Recorded, now: Seconds): Html[] {
  return left.map(({ limit, seconds }) =>
    seconds === 0
      ? html`<div>${limit} over</div>`
      : html`<div>
          ${limit} in ${formatDuration(seconds)}
          ${seconds > 1 ? moveTo(now + seconds - 1, 'just before') : null}${moveTo(now + seconds, 'past')}
        </div>`,
  );
}

function moveTo(instant: Seconds, words: string): Html {
  return html`<form method="POST" action="/-/clock">
    <button name="to" value="${instant}">${words}</button>
  </form>`;
}

function accounts({ accounts }: Standing): Html {
  const act = (deed: string, account: string, words: string, field: Html | null = null) =>
    html`<form method="POST" action="/-/${deed}">
      <input type="hidden" name="account" value="${account}" />${field}<button>${words}</button>
    </form>`;
  const rows = accounts.map(
    ({ name, roles, facts, state, isMachine }) =>
      html`<tr>
        <td>${name}</td>
        <td>${state}</td>
        <td>
          ${act('set-roles', name, 'Set roles', html`<input name="roles" aria-label="Roles of ${name}" value="${roles.join(', ')}" /> `)}
          ${act('set-facts', name, 'Change facts', html`<input name="facts" aria-label="Facts of ${name}, as JSON" value="${JSON.stringify(facts)}" size="${Math.min(50, JSON.stringify(facts).length)}" /> `)}
          ${isMachine ? html`${act('rotate-key', name, 'Rotate key')}${act('revoke-key', name, 'Revoke key')}` : act('set-password', name, 'Set password', html`<input name="password" aria-label="New password of ${name}" /> `)}
          ${state === 'suspended' ? null : act('suspend', name, 'Suspend')}${act('delete-account', name, 'Delete')}
        </td>
      </tr>`,
  );
  return html`<section class="card">
    <h2>Accounts</h2>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th>Account</th>
            <th>State</th>
            <th>Change</th>
          </tr>
        </thead>
        <tbody>
          ${rows}
        </tbody>
      </table>
    </div>
  </section>`;
}

function messages({ messages }: Standing): Html {
  const items = messages.map(
    ({ to, kind, text }) =>
      html`<li>
        To ${to}: ${kind === 'link' ? html`<a href="${text}">${text}</a>` : html`the code ${text}`}
      </li>`,
  );
  return html`<section class="card">
    <h2>Messages sent</h2>
    ${
      items.length === 0
        ? html`<p>None. One-time codes and links that are sent to people show up here.</p>`
        : html`<ul>
            ${items}
          </ul>`
    }
  </section>`;
}

function entries(latest: readonly Entry[], lineOf: (place: Path) => number): Html {
  const rows = [...latest].reverse().map(
    (entry) =>
      html`<tr>
        <td>${formatDuration(entry.time)}</td>
        <td>${entry.method} ${entry.target}</td>
        <td>${entry.status}${entry.location === null ? '' : ` → ${entry.location}`}</td>
        <td>${entry.seenAs}${entry.actedBy === null ? null : ` by ${entry.actedBy}`}</td>
        <td>${entry.why}${entry.decidedBy.length === 0 ? '' : ` (line ${lineOf(entry.decidedBy)})`}</td>
      </tr>`,
  );
  return html`<section class="card">
    <h2>Latest requests</h2>
    ${
      rows.length === 0
        ? html`<p>None yet.</p>`
        : html`<div class="scroll">
            <table>
              <thead>
                <tr>
                  <th>Time</th>
                  <th>Request</th>
                  <th>Answer</th>
                  <th>Seen as</th>
                  <th>Why</th>
                </tr>
              </thead>
              <tbody>
                ${rows}
              </tbody>
            </table>
          </div>`
    }
  </section>`;
}
