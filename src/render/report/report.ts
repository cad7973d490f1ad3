import { Html, html } from '../html.js';
import { accessSection } from './report-access.js';
import { findingsSection } from './report-findings.js';
import type { ReportInput } from './report-input.js';
import { lawsSection } from './report-laws.js';
import { SCRIPT, STYLE } from './report-look.js';
import { landingSection, livesSection, statesSection } from './report-pictures.js';
import { uncoveredSection } from './report-uncovered.js';
import { verdictSection } from './report-verdict.js';
import { walksSection } from './report-walks.js';

const CONTENTS = [
  ['verdict', 'Verdict'],
  ['access', 'Who may do what'],
  ['landings', 'Landings'],
  ['lives', 'How long things last'],
  ['states', 'Login states'],
  ['walks', 'Walks'],
  ['laws', 'Laws and promises'],
  ['findings', 'Findings'],
  ['uncovered', 'Not touched'],
  ['policy', 'The policy'],
] as const;

/**
 * Everything that is known of a policy, as one page for whoever signs it off. It fetches nothing and needs no script; its own
 * security policy (Content Security Policy Level 3) lets nothing else in.
 *
 * @param digest the SHA-256 of a text, in base64
 */
export function reportHtml(input: ReportInput, digest: (text: string) => string): string {
  const { policy } = input.proof.stage.app;
  const { source } = input.proof.input;
  const security = [
    "default-src 'none'",
    `style-src 'sha256-${digest(STYLE)}'`,
    `script-src 'sha256-${digest(SCRIPT)}'`,
    "base-uri 'none'",
    "form-action 'none'",
  ].join('; ');
  const lines = source.text.replace(/\n$/, '').split('\n');
  // In one piece: their digests are those of the very text.
  const [style, script] = [new Html(`<style>${STYLE}</style>`), new Html(`<script>${SCRIPT}</script>`)];
  const page = html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta http-equiv="Content-Security-Policy" content="${security}" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <title>${policy.app}: who may do what</title>
        ${style}
      </head>
      <body>
        <header>
          <h1>${policy.app}</h1>
          <p class="quiet">${source.file}, as cavrin ${input.version} sees it</p>
        </header>
        <nav aria-label="Contents">
          <ul>
            ${CONTENTS.map(([id, name]) => html`<li><a href="#${id}">${name}</a></li>`)}
          </ul>
        </nav>
        <main>
          ${verdictSection(input)} ${accessSection(input)} ${landingSection(input)} ${livesSection(input)}
          ${statesSection(input)} ${walksSection(input)} ${lawsSection(input)} ${findingsSection(input)}
          ${uncoveredSection(input)}
          <section id="policy" aria-labelledby="h-policy">
            <h2 id="h-policy">The policy</h2>
            <div class="scroll" tabindex="0" role="region" aria-label="The text of the policy">
              <ol class="text">
                ${lines.map((line, at) => html`<li id="L${at + 1}">${line === '' ? ' ' : line.replaceAll('\t', '  ')}</li>`)}
              </ol>
            </div>
          </section>
        </main>
        ${script}
      </body>
    </html> `;
  return page.text;
}
