/** The look of a report: light and dark, on a phone and on paper. Pictures keep light paper under them. */
export const STYLE = `
:root { --ink: #1b2226; --soft: #4a565c; --paper: #fbfbf9; --card: #fff; --line: #cdd3d4; --link: #00527f; --good: #00614a; --bad: #a3001b; --careful: #7a4a00; --shown: #d6e9f4; --refused: #fbe6cc; color-scheme: light dark; }
@media (prefers-color-scheme: dark) { :root { --ink: #e9eceb; --soft: #b3bdc0; --paper: #14181a; --card: #1d2326; --line: #414b50; --link: #8cc8ee; --good: #6fd6b2; --bad: #ff9d9d; --careful: #f0c27a; --shown: #1f4257; --refused: #573a17; } }
* { box-sizing: border-box; }
body { margin: 0 auto; max-width: 76rem; padding: 1rem; background: var(--paper); color: var(--ink); font: 16px/1.5 system-ui, "Segoe UI", Arial, sans-serif; overflow-wrap: anywhere; }
h1 { margin: 0; font-size: 1.7rem; } h2 { margin: 2.2rem 0 .4rem; font-size: 1.3rem; border-top: 2px solid var(--line); padding-top: .8rem; } h3 { font-size: 1.05rem; margin: 1rem 0 .3rem; }
p { margin: .4rem 0; } ul, ol { margin: .4rem 0; padding-left: 1.5rem; }
a { color: var(--link); } .line { font-size: .85em; white-space: nowrap; } .quiet, .line, .time { color: var(--soft); } a.line { color: var(--link); }
.good { color: var(--good); } .bad { color: var(--bad); } .careful { color: var(--careful); }
.headline { font-size: 1.5rem; font-weight: 600; }
nav ul { list-style: none; padding: 0; display: flex; flex-wrap: wrap; gap: .3rem 1rem; }
.scroll { overflow-x: auto; max-width: 100%; } .scroll:focus-visible, button:focus-visible, a:focus-visible, summary:focus-visible, input:focus-visible { outline: 3px solid var(--link); outline-offset: 1px; }
.picture { background: #fff; border: 1px solid var(--line); border-radius: 6px; padding: .5rem; margin: .6rem 0; } .picture svg { display: block; max-width: none; }
table { border-collapse: collapse; font-size: .92rem; } th, td { border: 1px solid var(--line); padding: .2rem .5rem; text-align: left; vertical-align: top; } thead th { background: var(--card); vertical-align: bottom; } tbody th { font-weight: 500; white-space: nowrap; }
table.access td { padding: 0; } table.access button { all: unset; display: block; width: 100%; min-width: 4.5rem; padding: .2rem .5rem; cursor: pointer; box-sizing: border-box; white-space: nowrap; } table.access button:hover { text-decoration: underline; } table.access button:focus-visible { outline: 3px solid var(--link); outline-offset: -3px; }
table.access thead th { max-width: 9rem; overflow-wrap: normal; }
td.shown, .shown.key { background: var(--shown); } td.refused, .refused.key { background: var(--refused); } .key { padding: 0 .35rem; border: 1px solid var(--line); border-radius: 3px; }
.why { max-width: min(44rem, 94vw); max-height: 84vh; overflow: auto; background: var(--card); color: var(--ink); border: 2px solid var(--line); border-radius: 8px; padding: .4rem 1.2rem 1rem; } .why dl { display: grid; grid-template-columns: minmax(7rem, 15rem) 1fr; gap: .2rem 1rem; margin: .4rem 0; } .why dt { font-weight: 600; } .why dd { margin: 0; }
details { border: 1px solid var(--line); border-radius: 6px; margin: .4rem 0; padding: .2rem .7rem; background: var(--card); } summary { cursor: pointer; padding: .2rem 0; }
pre, code { font: .88rem/1.45 ui-monospace, "DejaVu Sans Mono", monospace; } pre { background: var(--card); border: 1px solid var(--line); border-radius: 6px; padding: .4rem .6rem; margin: .4rem 0; }
.findings > li { margin-bottom: .8rem; }
ol.text { list-style: none; padding: 0; counter-reset: line; } ol.text li { white-space: pre; counter-increment: line; font: .88rem/1.45 ui-monospace, "DejaVu Sans Mono", monospace; } ol.text li::before { content: counter(line); display: inline-block; width: 3.2rem; margin-right: 1rem; text-align: right; color: var(--soft); } ol.text li:target { background: var(--refused); }
@media (max-width: 40rem) { body { padding: .6rem; font-size: 15px; } .why dl { grid-template-columns: 1fr; } .why dd { margin-bottom: .4rem; } }
@media print { @page { size: A4; margin: 14mm; } :root { --ink: #000; --soft: #333; --paper: #fff; --card: #fff; --line: #999; --link: #000; --good: #004d3a; --bad: #8a0017; --shown: #e3eff6; --refused: #f7e8d3; color-scheme: light; } body { max-width: none; padding: 0; font-size: 10pt; } nav, .filter, .why { display: none; } .scroll { overflow: visible; } .picture svg { max-width: 100%; height: auto; } table { font-size: 7.5pt; } table.access button { min-width: 0; white-space: normal; } tbody th { white-space: normal; } h2 { break-after: avoid; } tr, .picture, .findings > li { break-inside: avoid; } ol.text li { white-space: pre-wrap; font-size: 7.5pt; } }
`;

/** Filters the table of pages by their paths. Without it everything can be read. */
export const SCRIPT = `
const field = document.getElementById('filter'), told = document.getElementById('filtered');
const rows = [...document.querySelectorAll('table.access tbody tr')];
field.closest('p').hidden = false;
field.addEventListener('input', () => {
  const wanted = field.value.toLowerCase();
  let shown = 0;
  for (const row of rows) {
    row.hidden = !row.cells[0].textContent.toLowerCase().includes(wanted);
    if (!row.hidden) shown += 1;
  }
  told.textContent = wanted === '' ? '' : shown + ' of ' + rows.length;
});
`;
