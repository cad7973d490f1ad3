import * as z from 'zod';
import {
  isMethod,
  type DescribedAccess,
  type DescribedRequest,
  type DescribedScheme,
  type Description,
  type Diagnostic,
  type Source,
} from '../core/internal.js';
import { badSource } from './bad-source.js';
import { readData } from './data.js';
import { patternOfTemplate } from './template.js';

const REMEDY = 'name a description in OpenAPI 3.0 or 3.1, in YAML or JSON';

const requirements = z.array(z.record(z.string(), z.array(z.string()).catch([])));
const text = z.string().optional().catch(undefined);
const server = z.object({
  url: z.string(),
  variables: z
    .record(z.string(), z.object({ default: text }))
    .optional()
    .catch(undefined),
});
const document = z.object({
  openapi: z.string(),
  info: z.object({ title: text }).optional().catch(undefined),
  servers: z.array(server).optional().catch(undefined),
  paths: z.record(z.string(), z.unknown()).catch({}),
  security: requirements.optional().catch(undefined),
  components: z
    .object({ securitySchemes: z.record(z.string(), z.unknown()).optional() })
    .loose()
    .optional()
    .catch(undefined),
});
const operation = z.object({
  operationId: text,
  security: requirements.optional().catch(undefined),
  responses: z.record(z.string(), z.unknown()).optional().catch(undefined),
  requestBody: z.unknown().optional(),
});
const flow = z.object({ tokenUrl: text, refreshUrl: text });
const scheme = z.object({
  type: z.string(),
  in: text,
  name: text,
  scheme: text,
  flows: z
    .object({ password: flow, clientCredentials: flow, authorizationCode: flow, implicit: flow })
    .partial()
    .optional()
    .catch(undefined),
});

/** Reads a description of an api (https://spec.openapis.org/oas/v3.1.0): its requests, and who may make them. */
export function readOpenApi(source: Source): Description | Diagnostic {
  const read = readData(source, 'a description in OpenAPI 3.0 or 3.1');
  if (!('data' in read)) return read;
  const { data } = read;
  if (typeof data === 'object' && data !== null && 'swagger' in data) {
    return badSource(source, Math.max(0, source.text.indexOf('swagger')), {
      problem: 'this is a description in Swagger 2.0',
      remedy: 'convert it to OpenAPI 3.0 or 3.1',
    });
  }
  const found = document.safeParse(data);
  if (!found.success || !/^3\.[01](?:\.|$)/.test(found.data.openapi)) {
    return badSource(source, 0, { problem: 'this is no description in OpenAPI 3.0 or 3.1', remedy: REMEDY });
  }
  const { info, servers, paths, security = [] } = found.data;
  const refs = new References(data);
  const schemes = new Map(
    Object.entries(found.data.components?.securitySchemes ?? {}).flatMap(([name, value]) => {
      const own = scheme.safeParse(refs.follow(value));
      return own.success ? [[name, own.data] as const] : [];
    }),
  );
  const { origin, base, note } = serverOf(servers?.[0]);
  const notes = note === null ? [] : [`${source.file}: ${note}`];
  const requests: DescribedRequest[] = [];
  for (const [path, value] of Object.entries(paths)) {
    const template = patternOfTemplate(`${base}${path}`);
    const item = refs.follow(value);
    if (template === null || typeof item !== 'object' || item === null) {
      notes.push(`${source.file}: the path ${path} cannot be read, and is left out`);
      continue;
    }
    for (const [name, each] of Object.entries(item)) {
      const method = name.toUpperCase();
      const own = isMethod(method) ? operation.safeParse(refs.follow(each)) : null;
      if (own === null || !own.success || !isMethod(method)) continue;
      requests.push({
        pattern: template.pattern,
        method,
        kind: 'api',
        access: accessOf(own.data.security ?? security, schemes),
        status: statusOf(own.data.responses ?? {}),
        guess: template.guess,
        takesPassword: method === 'POST' && hasPassword(own.data.requestBody, refs),
      });
    }
  }
  if (requests.length === 0) {
    return badSource(source, 0, {
      problem: 'it describes no request',
      remedy: 'name a description with paths',
    });
  }
  notes.push(...refs.notes.map((each) => `${source.file}: ${each}`));
  return {
    from: source.file,
    app: info?.title ?? null,
    origin,
    requests,
    schemes: [...schemes.values()].flatMap((each) => schemeOf(each, base) ?? []),
    notes,
  };
}

type Scheme = z.output<typeof scheme>;

/** What `$ref` stands for, within the document (RFC 6901); other files are not read. */
class References {
  readonly notes: string[] = [];

  constructor(private readonly root: unknown) {}

  follow(value: unknown): unknown {
    let here = value;
    for (let left = 20; left > 0; left--) {
      if (typeof here !== 'object' || here === null || !('$ref' in here) || typeof here.$ref !== 'string') {
        return here;
      }
      here = this.at(here.$ref);
    }
    return null;
  }

  private at(reference: string): unknown {
    if (!reference.startsWith('#')) {
      const note = `${reference} is in another file, which is not read: bundle the description into one`;
      if (!this.notes.includes(note)) this.notes.push(note);
      return null;
    }
    let here = this.root;
    for (const part of reference.slice(1).split('/').slice(1)) {
      const key = decoded(part).replaceAll('~1', '/').replaceAll('~0', '~');
      if (typeof here !== 'object' || here === null || !Object.hasOwn(here, key)) return null;
      here = Reflect.get(here, key);
    }
    return here;
  }
}

function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

/** The origin and base path of the first server, with the default values of its variables (OpenAPI 3.1 §4.8.6). */
function serverOf(first: z.output<typeof server> | undefined): {
  readonly origin: string | null;
  readonly base: string;
  readonly note: string | null;
} {
  const url = first?.url.replace(
    /\{([^{}]+)\}/g,
    (whole, name: string) => first.variables?.[name]?.default ?? whole,
  );
  if (url === undefined || url === '/') return { origin: null, base: '', note: null };
  const isWhole = /^https?:\/\//.test(url);
  if (/[{}]/.test(url) || !(isWhole ? URL.canParse(url) : url.startsWith('/'))) {
    return { origin: null, base: '', note: `the server ${url} has no fixed address` };
  }
  const parsed = new URL(url, 'http://localhost');
  return { origin: isWhole ? parsed.origin : null, base: parsed.pathname.replace(/\/+$/, ''), note: null };
}

/** Who may make a request: an empty list, or an empty requirement in it, lets everybody (OpenAPI 3.1 §4.8.10, §4.8.30). */
function accessOf(
  security: readonly Readonly<Record<string, readonly string[]>>[],
  schemes: ReadonlyMap<string, Scheme>,
): DescribedAccess {
  if (security.length === 0 || security.some((each) => Object.keys(each).length === 0)) return 'everyone';
  const scopes = security.map((each) =>
    Object.entries(each).flatMap(([name, own]) =>
      /^(?:oauth2|openIdConnect|http|apiKey)$/.test(schemes.get(name)?.type ?? '') ? own : [],
    ),
  );
  return scopes.some((each) => each.length === 0) ? 'signed-in' : { scopes };
}

function statusOf(responses: Readonly<Record<string, unknown>>): number | null {
  const good = Object.keys(responses).filter((status) => /^2\d\d$/.test(status));
  return good.length === 0 ? null : Number(good[0]);
}

const body = z.object({ content: z.record(z.string(), z.object({ schema: z.unknown().optional() })) });
const schema = z.object({ properties: z.record(z.string(), z.unknown()) });

function hasPassword(value: unknown, refs: References): boolean {
  const read = body.safeParse(refs.follow(value));
  if (!read.success) return false;
  return Object.values(read.data.content).some((each) => {
    const own = schema.safeParse(refs.follow(each.schema));
    const names = own.success ? Object.keys(own.data.properties) : [];
    // A body with many fields makes or changes an account.
    return names.length <= 4 && names.some((name) => /^pass(?:word|phrase)?$/i.test(name));
  });
}

/** How callers show who they are. What is handed out elsewhere is shown like a key. */
function schemeOf(
  { type, in: place, name, scheme: how, flows }: Scheme,
  base: string,
): DescribedScheme | null {
  if (type === 'apiKey') {
    if (name === undefined) return null;
    if (place === 'cookie') return { kind: 'cookie', name };
    return { kind: 'key', sent: place === 'query' ? 'address' : 'header', name };
  }
  if (type === 'oauth2') {
    const submit = ownRequest(flows?.password?.tokenUrl, base);
    if (submit !== null) {
      return { kind: 'tokens', submit, refresh: ownRequest(flows?.password?.refreshUrl, base) ?? submit };
    }
  }
  const isBearer =
    type === 'oauth2' || type === 'openIdConnect' || (type === 'http' && how?.toLowerCase() === 'bearer');
  return isBearer ? { kind: 'key', sent: 'bearer', name: null } : null;
}

/** A token endpoint of the app itself; null for one elsewhere. */
function ownRequest(url: string | undefined, base: string): string | null {
  if (url === undefined || /^[a-z]+:\/\//i.test(url)) return null;
  return `POST ${url.startsWith('/') ? url : `${base}/${url}`}`;
}
