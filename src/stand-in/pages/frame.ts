import { html, type Html } from '../../render/html.js';

/** What every page has around its own content. */
export interface Frame {
  readonly app: string;
  readonly title: string;
  readonly menu: readonly { readonly to: string; readonly text: string; readonly current: boolean }[];
  /** The button that signs the reader out; null for nobody signed in. */
  readonly signOut: Html | null;
  readonly main: Html;
  readonly strip: Html;
  /** What the page's script goes by; null where the page has none. */
  readonly data: Html | null;
}

/** A whole page. It works without script, which only policies with tokens or data calls need. */
export function framed({ app, title, menu, signOut, main, strip, data }: Frame): string {
  const script =
    data === null
      ? null
      : html`${data}
          <script src="/-/page.js" defer></script>`;
  const links = menu.map(
    ({ to, text, current }) =>
      html`<li><a href="${to}" ${current ? html` aria-current="page"` : null}>${text}</a></li>`,
  );
  const page = html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <title>${title} – ${app}</title>
        <link rel="stylesheet" href="/-/style.css" />
        <link rel="icon" href="/-/icon.svg" type="image/svg+xml" />
      </head>
      <body>
        <a class="skip" href="#main">Skip to the content</a>
        <header>
          <p class="app">${app}</p>
          <nav aria-label="Menu">
            <ul>
              ${links}
            </ul>
          </nav>
          ${signOut}
        </header>
        <main id="main">${main}</main>
        ${strip} ${script}
      </body>
    </html> `;
  return page.text;
}
