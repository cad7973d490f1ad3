import { execFile } from 'node:child_process';
import { filledWith, type Done, type Secrets } from '../core/internal.js';
import type { Resolve } from './app-process.js';
import { RunEnded } from './run-ended.js';
import type { Transport } from './transport.js';

/** After how many milliseconds a command of live.yaml is given up. */
const PATIENCE = 60_000;

/** Does what live.yaml says by commands and requests. */
export class Doer {
  /** What is being done: scripts of one app need not be made to run at the same time. */
  private before: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly folder: string,
    private readonly transport: Transport,
    private readonly secrets: Secrets,
    private readonly resolve: Resolve,
    /** What braces stand for wherever they are: the address and the port of the app. */
    private readonly always: Readonly<Record<string, string>>,
  ) {}

  /**
   * Does something, with values in the place of what stands in braces, and gives what it printed or was answered.
   *
   * @throws RunEnded where it fails: whatever is seen after that would say nothing
   */
  perform(what: string, done: Done, values: Readonly<Record<string, string>> = {}): Promise<string> {
    const all = { ...this.always, ...values };
    const doing = this.before.then(() =>
      done.by === 'run' ? this.run(what, done.command, all) : this.ask(what, done, all),
    );
    this.before = doing.catch(() => undefined);
    return doing.then((text) => text.trim());
  }

  private run(
    what: string,
    command: readonly string[],
    values: Readonly<Record<string, string>>,
  ): Promise<string> {
    const [program = '', ...args] = command.map((word) => filledWith(word, values));
    return new Promise((settle, fail) => {
      execFile(program, args, { cwd: this.folder, timeout: PATIENCE }, (error, stdout, stderr) => {
        if (error === null) settle(stdout);
        else {
          const how =
            typeof error.code === 'number'
              ? `ended with status ${error.code}`
              : `failed (${error.code ?? error.signal ?? 'no reason given'})`;
          fail(
            new RunEnded(
              `${what}: ${command.join(' ')} ${how}`,
              'run it by hand to see why',
              this.secrets.cut(stderr.trimEnd()),
            ),
          );
        }
      });
    });
  }

  private async ask(
    what: string,
    { method, path, form, json, headers }: Extract<Done, { by: 'request' }>,
    values: Readonly<Record<string, string>>,
  ): Promise<string> {
    const encoded = Object.fromEntries(
      Object.entries(values).map(([name, value]) => [name, encodeURIComponent(value)]),
    );
    const fields = [...(form ?? json ?? [])].map(([name, text]): [string, string] => [
      name,
      filledWith(this.resolve(text), values),
    ]);
    const body =
      form !== null
        ? new URLSearchParams(fields).toString()
        : json !== null
          ? JSON.stringify(Object.fromEntries(fields))
          : '';
    const type = form !== null ? 'application/x-www-form-urlencoded' : 'application/json';
    const answer = await this.transport.send(
      method,
      filledWith(path, encoded),
      {
        accept: '*/*',
        'user-agent': 'cavrin',
        ...(body === '' ? {} : { 'content-type': type }),
        ...Object.fromEntries([...headers].map(([name, text]) => [name.toLowerCase(), this.resolve(text)])),
      },
      body,
    );
    if (answer.status >= 400) {
      throw new RunEnded(
        `${what}: ${method} ${path} was answered with ${answer.status}`,
        'try the request by hand to see why',
        this.secrets.cut(answer.body.slice(0, 500)),
      );
    }
    return answer.body;
  }
}
