import type { Route } from '../app/router.js';
import type { Endpoint, Page, Part } from '../language/policy.js';
import type { Facts } from './facts.js';

/** A part of a page and the request that it sends, with what the policy says of that. */
export interface PartRequest {
  readonly page: Page;
  readonly part: Part;
  readonly sends: Endpoint;
  readonly route: Route;
}

/** Every part that sends a request. */
export function partRequests(facts: Facts): PartRequest[] {
  return facts.policy.pages.flatMap((page) =>
    page.parts.flatMap((part): PartRequest[] => {
      const { sends } = part;
      const route = sends === null ? null : facts.route(sends.path, sends.method);
      return sends === null || route === null ? [] : [{ page, part, sends, route }];
    }),
  );
}
