import type { Browser } from 'playwright-core';
import type { Policy } from '../../src/core/language/policy';
import type { StepResult } from '../../src/core/walks/runner';
import { LONGEST_FROZEN } from '../../src/core/browser/tabs';
import { answered, type Answered } from '../../src/core/play/stage';
import { isAdministration } from '../../src/core/steps/all-steps';
import type { Walk } from '../../src/core/steps/walk';
import { steer, told } from './over-the-wire';
import { steeringFields } from './steering';
import { Person } from './person';
import { sendOver } from './wire-browser';

/** What the simulation says of a step: what `cavrin walk --format json` gives of it. */
export interface Simulated {
  readonly time: number;
  readonly lands: string | null;
  readonly exchanges: readonly Answered[];
  /** The parts that the page shows, where they are compared. */
  readonly parts?: readonly string[];
}

/** The same of a step that was played in this process. */
export function simulatedStep({ time, outcome, played }: StepResult): Simulated {
  const { lands, parts } = outcome;
  return { time, lands, exchanges: played.exchanges.map(answered), parts };
}

/** Plays walks of a policy in Chromium against a stand-in that runs it. */
export class ChromiumPlay {
  /** People whose browsers are used again, made as good as new between walks. */
  private readonly people: Person[] = [];

  constructor(
    private readonly standIn: { readonly address: string; readonly secret: string },
    private readonly policy: Policy,
    private readonly browser: Browser,
    private readonly otherSite: string,
  ) {}

  /** Fails at the first step that does not come out as it is simulated. */
  async hold(walk: Walk, steps: readonly Simulated[]): Promise<void> {
    await steer(this.standIn, 'reset');
    const { now: start } = await this.ask<{ now: number }>('/-/now');
    const here = new Map<string, Person>();
    const closes = walk.steps.some(({ action }) => action.verb === 'close-browser');
    try {
      for (const [at, step] of walk.steps.entries()) {
        const expected = steps[at];
        if (expected === undefined) throw new Error('a step that was not simulated');
        if (expected.time - (steps[at - 1]?.time ?? 0) >= LONGEST_FROZEN) {
          for (const each of here.values()) await each.letGo();
        }
        const person = here.get(step.browser) ?? this.personAt(here.size, closes);
        here.set(step.browser, person);
        await steer(this.standIn, 'clock', { to: String(start + expected.time) });
        const before = (await this.ask<{ number: number }[]>('/-/requests')).at(-1)?.number ?? 0;
        await this.act(person, step);
        const seen = (await this.ask<Answered[]>(`/-/requests?after=${before}`)).map(told);
        expect([at, ...seen]).toEqual([at, ...expected.exchanges.map(told)]);
        if (person.lands() !== null) expect(unsealed(person.lands())).toBe(expected.lands);
        if (expected.parts !== undefined) expect([at, await person.parts()]).toEqual([at, expected.parts]);
      }
    } finally {
      for (const person of here.values()) await person.leave();
    }
  }

  async end(): Promise<void> {
    for (const person of this.people) await person.end();
  }

  private async act(person: Person, step: Walk['steps'][number]): Promise<void> {
    const { action } = step;
    if (action.verb === 'wait') return;
    if (isAdministration(action)) await steer(this.standIn, action.verb, steeringFields(action));
    else await person.act(step, await this.latestLink());
  }

  /** Somebody at a browser that knows nothing; one who will close it has it to themselves. */
  private personAt(number: number, closes: boolean): Person {
    const fresh = () => new Person(this.standIn.address, this.otherSite, this.policy, this.browser, closes);
    if (closes) return fresh();
    const known = this.people[number] ?? fresh();
    this.people[number] = known;
    return known;
  }

  private async ask<Answer>(path: string): Promise<Answer> {
    const { address } = this.standIn;
    const { body } = await sendOver(address, 'GET', path, { host: new URL(address).host });
    return JSON.parse(body) as Answer;
  }

  private async latestLink(): Promise<string> {
    const { messages } = await this.ask<{ messages: { kind: string; text: string }[] }>('/-/state');
    return messages.findLast(({ kind }) => kind === 'link')?.text ?? '/';
  }
}

/** The secret of a link is sealed on the wire. */
function unsealed(address: string | null): string | null {
  return address?.replace(/(link-\d+)\.[\w-]+/, '$1') ?? null;
}
