import type { Page, Request } from 'playwright-core';

/** The errors of Chromium that mean that the app gave no answer. Of a circle of redirects, say, all answers are read off. */
const NO_ANSWER: readonly (readonly [reason: string, errors: readonly string[]])[] = [
  [
    'the app closed the connection without an answer',
    ['EMPTY_RESPONSE', 'CONNECTION_CLOSED', 'CONNECTION_RESET', 'CONNECTION_ABORTED'],
  ],
  ['nothing listens there', ['CONNECTION_REFUSED', 'CONNECTION_FAILED', 'SOCKS_CONNECTION_FAILED']],
  [
    'the answer of the app cannot be read',
    ['INVALID_HTTP_RESPONSE', 'INVALID_RESPONSE', 'CONTENT_DECODING_FAILED', 'RESPONSE_HEADERS_TOO_BIG'],
  ],
];

/** Tells why the app gave a tab no page, which the browser's own page in its place does not. */
export class Unanswered {
  private failed: { readonly host: string; readonly error: string } | null = null;

  /** @param host name and port of the app: what does not come of elsewhere is not its doing */
  constructor(
    page: Page,
    private readonly host: string,
  ) {
    const isOfPage = (request: Request) =>
      request.isNavigationRequest() && request.frame() === page.mainFrame();
    page.on('request', (request) => {
      this.failed = isOfPage(request) ? null : this.failed;
    });
    page.on('requestfailed', (request) => {
      const error = /net::ERR_(\w+)/.exec(request.failure()?.errorText ?? '')?.[1];
      if (error === undefined || !isOfPage(request)) return;
      this.failed = { host: new URL(request.url()).host, error };
    });
  }

  /** In words without a full stop; null where an answer came, or nothing was asked. */
  get reason(): string | null {
    const { failed } = this;
    if (failed?.host !== this.host) return null;
    return NO_ANSWER.find(([, errors]) => errors.includes(failed.error))?.[0] ?? null;
  }
}
