import { audienceWords, SHOWN, type CellReason, type RowReasons } from '../../core/internal.js';
import { columnsOf, type GridColumn } from '../grid-columns.js';
import { html, type Html } from '../html.js';
import { changeWords } from '../why-text.js';
import { lineLink, type ReportInput } from './report-input.js';

/** Who may do what: a table of pages by roles, of which each cell opens why it is so. */
export function accessSection(input: ReportInput): Html {
  const { grid, reasons } = input;
  const columns = columnsOf(grid);
  const head = columns.map(({ heading }) => html`<th scope="col">${heading}</th>`);
  const rows = grid.rows.map(({ page, cells }, at) => {
    const own = columns.map((column) => {
      const cell = cells[column.at] ?? '';
      return html`<td class="${kindOf(cell)}">
        <button type="button" popovertarget="why-${at}">${cellText(cell)}</button>
      </td>`;
    });
    return html`<tr>
      <th scope="row">${page}</th>
      ${own}
    </tr> `;
  });
  const others = columns.flatMap(({ heading, others: also }) =>
    also.length === 0 ? [] : [html`<li><strong>${heading}</strong> also stands for: ${also.join(', ')}</li>`],
  );
  return html`<section id="access" aria-labelledby="h-access">
    <h2 id="h-access">Who may do what</h2>
    <p>
      What each role gets at each page. <span class="shown key">shown</span> they see it;
      <span class="sent key">→ /page</span> they are sent there; <span class="refused key">403</span> they are
      refused with that status. Press a cell to see why.
    </p>
    <p class="filter" hidden>
      <label>Show pages with <input type="search" id="filter" autocomplete="off" /></label>
      <span id="filtered" role="status"></span>
    </p>
    <div class="scroll" tabindex="0" role="region" aria-label="Pages by roles">
      <table class="access">
        <thead>
          <tr>
            <th scope="col">page</th>
            ${head}
          </tr>
        </thead>
        <tbody>
          ${rows}
        </tbody>
      </table>
    </div>
    ${
      others.length === 0
        ? null
        : html`<ul class="notes">
            ${others}
          </ul>`
    }
    ${grid.rows.map(({ page, cells }, at) => whyOf(input, page, cells, columns, reasons.get(page), at))}
  </section>`;
}

function kindOf(cell: string): string {
  return cell === SHOWN ? 'shown' : cell.startsWith('/') ? 'sent' : 'refused';
}

function cellText(cell: string): string {
  return cell.startsWith('/') ? `→ ${cell}` : cell;
}

const BY = { page: 'the page', rule: 'a rule', otherwise: 'what holds otherwise', endpoint: 'its endpoint' };

/** Why a row is as it is: whom the page is for, and what that comes to for each column. */
function whyOf(
  input: ReportInput,
  page: string,
  cells: readonly string[],
  columns: readonly GridColumn[],
  reasons: RowReasons | undefined,
  at: number,
): Html {
  const grounds = reasons?.grounds ?? null;
  const audience =
    grounds === null
      ? null
      : html`<p>
          For <strong>${audienceWords(grounds.audience)}</strong>, as ${BY[grounds.by]}
          says.${lineLink(input, grounds.at)}
        </p>`;
  const lines = columns.map(({ at: column, heading }) => {
    const state = input.grid.states[column]?.name;
    const reason = reasons?.cells.find((each) => each.state === state);
    const cell = cells[column] ?? '';
    return html`<dt>${heading}</dt>
      <dd class="${kindOf(cell)}">${cellText(cell)}${reasonWords(cell, reason)}</dd>`;
  });
  return html`<div popover id="why-${at}" class="why">
    <h3>GET ${page}</h3>
    ${audience}
    <dl>${lines}</dl>
  </div> `;
}

function reasonWords(cell: string, reason: CellReason | undefined): string {
  if (reason === undefined || cell === SHOWN) return '';
  const [change] = reason.changes;
  return ` (${reason.reason})${change === undefined ? '' : `. To get in: ${changeWords(change)}`}`;
}
