import { createServer, request as httpRequest, Agent, type RequestListener, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import KoaRouter from '@koa/router';
import express from 'express';
import fastify from 'fastify';
import fc from 'fast-check';
import Koa from 'koa';
import { createApp } from '../../src/core/app/app';
import { policyText, project } from '../support/policies';

/** Routes as the policy writes them; the routers write the last in ways of their own. */
const ROUTES = ['/', '/admin', '/admin/:id', '/files/:name/edit', '/docs/**'];

/** The route that took an address and its parameters, as one text; `none` for no route. */
type Found = string;
const told = (route: string, parameters: Record<string, unknown>): Found =>
  `${route} ${JSON.stringify(Object.fromEntries(Object.entries(parameters).filter(([name]) => name !== 'rest' && name !== '*')))}`;

interface Setting {
  readonly name: string;
  readonly routing: string;
  /** Addresses that it takes for something else, which no setting says: they are listed in docs/truth.md. */
  readonly differs: RegExp | null;
  start(): Promise<{ readonly listener: RequestListener; readonly stop: () => Promise<void> }>;
}

/** A strict path-to-regexp wants something after the slash of a rest. */
const NO_EMPTY_REST = /^\/docs\/$/i;
/** A strict find-my-way takes nothing for a parameter at the end. */
const emptyParameter = (isSensitive: boolean, joinsSlashes: boolean) =>
  new RegExp(joinsSlashes ? '^/+(?:%61|a)dmin/+$' : '^/(?:%61|a)dmin/$', isSensitive ? '' : 'i');

const never = async () => Promise.resolve();

function ofExpress(isSensitive: boolean, isStrict: boolean): Setting {
  return {
    name: `express, case sensitive: ${isSensitive}, strict: ${isStrict}`,
    routing: `letter-case: ${isSensitive ? 'same' : 'ignored'}, decodes: false, trailing-slash: ${isStrict ? 'different' : 'same'}, encoded-slash: kept, empty-segments: kept`,
    differs: isStrict ? NO_EMPTY_REST : null,
    start: () => {
      const app = express();
      app.set('case sensitive routing', isSensitive);
      app.set('strict routing', isStrict);
      for (const route of ROUTES) {
        app.get(route.replace('/**', '{/*rest}'), (request, response) => {
          response.send(told(route, request.params));
        });
      }
      return Promise.resolve({ listener: app, stop: never });
    },
  };
}

function ofKoa(isSensitive: boolean, isStrict: boolean): Setting {
  return {
    name: `koa, sensitive: ${isSensitive}, strict: ${isStrict}`,
    routing: `letter-case: ${isSensitive ? 'same' : 'ignored'}, decodes: false, trailing-slash: ${isStrict ? 'different' : 'same'}, encoded-slash: kept, empty-segments: kept`,
    differs: isStrict ? NO_EMPTY_REST : null,
    start: () => {
      const router = new KoaRouter({ sensitive: isSensitive, strict: isStrict });
      for (const route of ROUTES) {
        router.get(route.replace('/**', '{/*rest}'), (context) => {
          context.body = told(route, context['params']);
        });
      }
      const app = new Koa();
      app.silent = true;
      app.use(router.routes());
      return Promise.resolve({ listener: app.callback(), stop: never });
    },
  };
}

function ofFastify(
  caseSensitive: boolean,
  ignoreTrailingSlash: boolean,
  ignoreDuplicateSlashes: boolean,
): Setting {
  return {
    name: `fastify, case sensitive: ${caseSensitive}, trailing slash ignored: ${ignoreTrailingSlash}, duplicate slashes ignored: ${ignoreDuplicateSlashes}`,
    routing: `letter-case: ${caseSensitive ? 'same' : 'ignored'}, decodes: true, trailing-slash: ${ignoreTrailingSlash ? 'same' : 'different'}, encoded-slash: kept, empty-segments: ${ignoreDuplicateSlashes ? 'dropped' : 'kept'}`,
    differs: ignoreTrailingSlash ? null : emptyParameter(caseSensitive, ignoreDuplicateSlashes),
    start: async () => {
      const app = fastify({ routerOptions: { caseSensitive, ignoreTrailingSlash, ignoreDuplicateSlashes } });
      for (const route of ROUTES) {
        const paths = route.endsWith('/**') ? [route.slice(0, -3), route.replace('/**', '/*')] : [route];
        for (const path of paths) {
          app.get(path, (request, reply) =>
            reply.send(told(route, request.params as Record<string, unknown>)),
          );
        }
      }
      await app.ready();
      return {
        listener: (request, response) => {
          app.routing(request, response);
        },
        stop: () => app.close(),
      };
    },
  };
}

const BOTH = [true, false];
const SETTINGS = BOTH.flatMap((one) =>
  BOTH.flatMap((other) => [
    ofExpress(one, other),
    ofKoa(one, other),
    ...BOTH.map((third) => ofFastify(one, other, third)),
  ]),
);

const agent = new Agent({ keepAlive: true });

/** Sends an address exactly as it is written. */
function ask(server: Server, path: string): Promise<Found> {
  const { port } = server.address() as AddressInfo;
  return new Promise((settle, fail) => {
    const sent = httpRequest({ host: '127.0.0.1', port, path, agent }, (answer) => {
      let text = '';
      answer.setEncoding('utf8');
      answer.on('data', (part: string) => (text += part));
      answer.on('end', () => {
        settle(answer.statusCode === 200 ? text : 'none');
      });
    });
    sent.on('error', fail);
    sent.end();
  });
}

const segment = fc.constantFrom(
  ...['admin', 'Admin', 'files', 'FILES', 'docs', 'edit', 'a', 'A1', 'x', ''],
  ...['%61dmin', 'a%2Fb', 'x%20y', '%C3%A9', 'a%5Cb', 'f%69les', '~', '%7e', 'a+b', '%2B', ':id', '*'],
);
const path = fc.array(segment, { maxLength: 4 }).map((segments) => `/${segments.join('/')}`);

describe.each(SETTINGS.map((setting) => [setting.name, setting] as const))('%s', (_name, setting) => {
  test('takes the same addresses for the same pages as the policy that says so', async () => {
    const pages = ROUTES.map((route) => `${route}: { for: everyone }`).join(', ');
    const { policy } = project(
      policyText({
        pages: `pages: { ${pages} }`,
        login: null,
        landing: null,
        logout: null,
        more: `routing: { ${setting.routing} }`,
      }),
    );
    if (policy === null) throw new Error('no policy');
    const { router } = createApp(policy);
    const { listener, stop } = await setting.start();
    const server = createServer(listener).listen(0, '127.0.0.1');
    await new Promise((listening) => server.once('listening', listening));
    const matched = new Set<string>();
    try {
      for (const address of ['/docs/', '/admin/', ...fc.sample(path, 2_000)]) {
        const route = router.find('GET', address);
        const page = route?.page ?? null;
        const own =
          page === null ? 'none' : told(page.pattern.text, Object.fromEntries(route?.parameters ?? []));
        const theirs = await ask(server, address);
        if (setting.differs?.test(address) === true) expect(own).not.toBe(theirs);
        else expect([address, own]).toEqual([address, theirs]);
        if (page !== null) matched.add(address);
      }
    } finally {
      server.close();
      await stop();
    }
    expect(matched.size).toBeGreaterThan(20);
  }, 60_000);
});
