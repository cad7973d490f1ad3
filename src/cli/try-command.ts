import { createInterface, type Interface } from 'node:readline';
import { Command } from 'commander';
import { formatDuration } from '../core/internal.js';
import { diagnosticsText } from '../render/diagnostics-text.js';
import { changedText } from '../render/try/try-text.js';
import { printable } from '../render/style.js';
import { policyOf, readTexts, type Request } from './files.js';
import { withPolicy } from './output.js';
import { openProject } from './project.js';
import { Refused, STATUS } from './status.js';
import { lookOf, type Terminal } from './terminal.js';
import { replyTo, usualFile, type Answering } from './try-answers.js';
import { nothingTried, nowOf, browsersOf, withSteps, type Tried } from './try-session.js';
import { completions } from './try-words.js';
import { whenChanged } from './watch.js';

interface TryOptions {
  readonly into?: string;
  readonly color?: boolean;
}

/** Standard input comes once. */
class NoPolicyFile extends Refused {
  constructor() {
    super('try reads steps from standard input: name the file of the policy instead of -');
  }
}

/** `cavrin try`. */
export function tryCommand(terminal: Terminal, done: (status: number) => void): Command {
  const command = new Command('try')
    .summary('try a policy step by step at a prompt, and save what was done as a walk')
    .description(
      'Takes the steps of walks, a line each, and answers each as walk does, with what the browser holds after it: ' +
        'login ines, visit /ledger, wait past session-idle, in thief: visit /office. ' +
        'Type help for all that can be typed; a tab completes it. When the policy changes, the steps so far are played ' +
        'again, and what comes out otherwise is shown. Steps can be piped in, too.\n' +
        'Exit status: 0 ended, 2 the input is wrong.',
    );
  return withPolicy(command)
    .option('--into <file>', 'the file of walks to save into (default: walks/tried.yaml beside the policy)')
    .option('--color', 'colour the text even where it goes to no terminal')
    .option('--no-color', 'no colours')
    .action(async (policy: string | undefined, options: TryOptions) => {
      if (policy === '-') throw new NoPolicyFile();
      done(await tryAt({ folder: terminal.folder, policy, walks: [] }, options, terminal));
    });
}

async function tryAt(request: Request, options: TryOptions, terminal: Terminal): Promise<number> {
  const look = lookOf(terminal, terminal.out, options.color);
  const texts = readTexts(request, 'policy only');
  const project = await openProject(texts);
  if ('faults' in project) {
    terminal.err.write(diagnosticsText(project.faults, lookOf(terminal, terminal.err, options.color)));
    return STATUS.wrong;
  }
  const into = options.into ?? usualFile(policyOf(request) ?? 'cavrin.yaml');
  const prompt = new Prompt(request, nothingTried(project), texts.policy?.text ?? '', {
    terminal,
    look,
    into,
  });
  return prompt.run();
}

/** Takes lines one by one, from a terminal or from a pipe. */
class Prompt {
  private number = 0;

  constructor(
    private readonly request: Request,
    private tried: Tried,
    private text: string | null,
    private readonly answering: Answering,
  ) {}

  async run(): Promise<number> {
    const isAsked = process.stdin.isTTY;
    const lines = createInterface({
      input: process.stdin,
      ...(isAsked ? { output: this.answering.terminal.out } : {}),
      terminal: isAsked,
      completer: (line: string) => completions(this.tried, line),
    });
    if (!isAsked) return this.takePiped(lines);
    this.write(`${printable(this.tried.stage.app.policy.app)}: type a step, or help; Ctrl-D ends\n`);
    const unwatch = await whenChanged(
      this.request,
      this.answering.terminal,
      () => void this.lookAgain(lines),
    );
    lines.on('SIGINT', () => {
      this.write('\n');
      this.ask(lines);
    });
    this.ask(lines);
    for await (const line of lines) {
      await this.readAgain();
      if (this.take(line) === 'ended') break;
      this.ask(lines);
    }
    lines.close();
    await unwatch();
    this.write('\n');
    return STATUS.good;
  }

  /** Steps from a pipe: the first that is wrong ends it. */
  private async takePiped(lines: Interface): Promise<number> {
    for await (const line of lines) {
      if (!isNothing(line)) await this.readAgain();
      const went = this.take(line);
      if (went === 'wrong') return STATUS.wrong;
      if (went === 'ended') break;
    }
    return STATUS.good;
  }

  private take(line: string): 'done' | 'wrong' | 'ended' {
    this.number += 1;
    if (isNothing(line)) return 'done';
    const reply = replyTo(line, this.tried, this.answering);
    if ('wrong' in reply) {
      const where = process.stdin.isTTY ? '' : `standard input:${this.number}: `;
      this.answering.terminal.err.write(`${where}${printable(reply.wrong)}; ${printable(reply.hint)}\n`);
      return 'wrong';
    }
    this.tried = reply.tried;
    this.write(reply.shown);
    return reply.ends === true ? 'ended' : 'done';
  }

  /** Shows at once what a change of the policy comes to, and goes on asking. */
  private async lookAgain(lines: Interface): Promise<void> {
    if (await this.readAgain()) this.ask(lines);
  }

  /** Reads the policy again, and plays the steps with it where it has changed; whether it had. */
  private async readAgain(): Promise<boolean> {
    const texts = readTexts(this.request, 'policy only');
    const text = texts.policy?.text ?? '';
    if (text === this.text && texts.faults.length === 0) return false;
    this.text = text;
    const { look, terminal } = this.answering;
    const project = await openProject(texts);
    if ('faults' in project) {
      this.write(
        `\n${diagnosticsText(project.faults, look)}the policy cannot be used as it is now: what it was before still answers\n`,
      );
      return true;
    }
    const fresh = nothingTried(project);
    const after = withSteps(fresh, this.tried.written);
    if ('wrong' in after) {
      // It is looked at again with the next line: then the step may be taken back.
      this.text = null;
      terminal.err.write(
        `the policy has changed, and a step does not go with it: ${printable(after.wrong)}; undo leads back\n`,
      );
      return true;
    }
    const changed = changedText(this.tried, after, look);
    this.write(
      `\nthe policy has changed: ${changed === '' ? 'every step comes out as before' : 'some steps come out otherwise'}\n${changed}`,
    );
    this.tried = after;
    return true;
  }

  private ask(lines: Interface): void {
    const { time } = nowOf(this.tried);
    const [own] = browsersOf(this.tried);
    lines.setPrompt(`${own?.account ?? 'guest'} ${formatDuration(time)}> `);
    lines.prompt();
  }

  private write(text: string): void {
    this.answering.terminal.out.write(text);
  }
}

/** Whether a line is empty, or a comment. */
function isNothing(line: string): boolean {
  return /^\s*(?:#|$)/.test(line);
}
