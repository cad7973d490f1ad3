import * as z from 'zod';
import { ErrorCodes } from 'vscode-languageserver/node';

/** An error of the protocol, for the request that has this id. */
export interface Refusal {
  readonly id: string | number | null;
  readonly code: number;
  readonly message: string;
}

/** What becomes of a message: it is taken, answered with an error, or dropped as a notification is that nobody can be told of. */
export type Admission = 'taken' | 'dropped' | Refusal;

const message = z.looseObject({
  method: z.string().optional(),
  id: z.union([z.string(), z.number(), z.null()]).optional(),
});

/** An unsigned integer, as the protocol has them. */
const whole = z.int().min(0).max(0x7fff_ffff);
const position = z.looseObject({ line: whole, character: whole });
const textDocument = z.looseObject({ uri: z.string() });
const versioned = z.looseObject({ uri: z.string(), version: z.int() });
const atPosition = z.looseObject({ textDocument, position });
const edit = z.looseObject({
  text: z.string(),
  range: z.looseObject({ start: position, end: position }).optional(),
});

/** The parameters of what this server reads. */
const PARAMETERS: ReadonlyMap<string, z.ZodType> = new Map<string, z.ZodType>([
  [
    'initialize',
    z.looseObject({ processId: z.int().nullable().optional(), capabilities: z.looseObject({}) }),
  ],
  [
    'textDocument/didOpen',
    z.looseObject({ textDocument: versioned.extend({ text: z.string(), languageId: z.string() }) }),
  ],
  ['textDocument/didChange', z.looseObject({ textDocument: versioned, contentChanges: z.array(edit) })],
  ['textDocument/didClose', z.looseObject({ textDocument })],
  ['textDocument/hover', atPosition],
  ['textDocument/completion', atPosition],
  ['textDocument/definition', atPosition],
]);

/** Holds messages against the order of a session and the form of parameters (Language Server Protocol 3.17, Lifecycle Messages). */
export class Door {
  private phase: 'new' | 'running' | 'shut' = 'new';

  admit(value: unknown): Admission {
    const read = message.safeParse(value);
    if (!read.success) return refused(null, ErrorCodes.InvalidRequest, 'this is no message');
    const { method, id = null } = read.data;
    // An answer to something that was asked of the client.
    if (method === undefined) return 'taken';
    const isRequest = read.data.id !== undefined;
    const fault = this.faultOf(method, value);
    if (fault !== null) return isRequest ? refused(id, ...fault) : 'dropped';
    if (method === 'initialize') this.phase = 'running';
    if (method === 'shutdown') this.phase = 'shut';
    return 'taken';
  }

  private faultOf(method: string, value: unknown): readonly [code: number, message: string] | null {
    if (method === 'exit') return null;
    if (this.phase === 'shut') return [ErrorCodes.InvalidRequest, 'the server was shut down'];
    if (this.phase === 'running' && method === 'initialize') {
      return [ErrorCodes.InvalidRequest, 'the server was initialized before'];
    }
    if (this.phase === 'new' && method !== 'initialize') {
      return [ErrorCodes.ServerNotInitialized, 'the server is not initialized yet'];
    }
    const { params } = value as { readonly params?: unknown };
    const wrong = PARAMETERS.get(method)?.safeParse(params).error?.issues[0];
    if (wrong === undefined) return null;
    const at = wrong.path.length === 0 ? '' : ` at ${wrong.path.join('.')}`;
    return [ErrorCodes.InvalidParams, `wrong parameters of ${method}${at}: ${wrong.message}`];
  }
}

function refused(id: Refusal['id'], code: number, message: string): Refusal {
  return { id, code, message };
}
