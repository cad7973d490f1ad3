import type { HttpRequest } from '../http/messages.js';
import type { App } from './app.js';

/** Whether the app takes a request to have come over https. Behind a proxy that ends TLS it has only the proxy's word. */
export function believesHttps({ policy: { proxy } }: App, request: HttpRequest): boolean {
  // Without a proxy a browser that would not keep the cookie is the browser's own affair: it is told all the same.
  return proxy === null || !proxy.endsTls || (proxy.trusted && request.origin.startsWith('https:'));
}

/** Whether a request came over https, as far as the app can know. */
export function speaksHttps(app: App, request: HttpRequest): boolean {
  return request.origin.startsWith('https:') && believesHttps(app, request);
}
