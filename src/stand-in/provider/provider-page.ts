import { PROVIDER_PATHS, type IdentityProvider } from '../../core/internal.js';
import { html, type Html } from '../../render/html.js';

/** The parts of a request for somebody that go along with the form. */
const PASSED_ON = [
  'client_id',
  'redirect_uri',
  'response_type',
  'scope',
  'state',
  'nonce',
  'code_challenge',
  'code_challenge_method',
];

/**
 * The page of an identity provider: a form in which somebody says who they are, or that they are signed out.
 *
 * @param asked the request for somebody; null where nobody asks for anybody
 */
export function providerPage(
  { name, issuer }: IdentityProvider,
  asked: URLSearchParams | null,
  people: readonly string[],
): string {
  const main = asked === null ? html`<p>You are signed out here.</p>` : loginForm(name, asked, people);
  return html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <title>${name}</title>
        <link rel="stylesheet" href="/style.css" />
      </head>
      <body>
        <header><p class="app">${name}</p></header>
        <main id="main">
          <h1>${name}</h1>
          <p>A made-up identity provider, in the place of ${issuer}.</p>
          ${main}
        </main>
      </body>
    </html> `.text;
}

function loginForm(name: string, asked: URLSearchParams, people: readonly string[]): Html {
  const hidden = PASSED_ON.flatMap((key) => {
    const value = asked.get(key);
    return value === null ? [] : [html`<input type="hidden" name="${key}" value="${value}" />`];
  });
  return html`<form class="card" method="post" action="${PROVIDER_PATHS.login}" data-form="with ${name}">
    <h2>Who are you?</h2>
    ${hidden}
    <p>
      <label for="person">Account</label>
      <input id="person" name="person" autocomplete="username" />
    </p>
    <p><button>Go on</button></p>
    <fieldset>
      <legend>Known here</legend>
      <ul class="accounts">
        ${people.map((person) => html`<li><button class="pick" name="person" value="${person}">${person}</button></li>`)}
      </ul>
    </fieldset>
  </form>`;
}
