import { AppAddress } from '../app-address.js';
import { Chromium } from '../chromium.js';
import { endedBySignal } from '../ended-by-signal.js';
import { hinderedBy } from '../driver-errors.js';
import { RunEnded } from '../run-ended.js';
import { NoAnswer, Transport } from '../transport.js';
import { learnByBrowser } from './by-browser.js';
import { learnByRequests, NOTHING } from './by-requests.js';
import type { Learnt, Looker } from './learnt.js';
import { writtenLive } from './written-live.js';

/** What is looked at, and by whom. */
export interface LearnOptions {
  /** Origin and base path of the app. */
  readonly at: string;
  /** The address of its login page, below that. */
  readonly login: string;
  readonly lookers: readonly [Looker, Looker];
  /** The variables that hold the passwords, by account; none for those of the policy. */
  readonly variables: ReadonlyMap<string, string>;
  readonly folder: string;
  readonly env: Readonly<Record<string, string | undefined>>;
  readonly patience: number;
}

/** A first live.yaml, and what it holds. */
export interface FirstLive {
  readonly text: string;
  readonly learnt: Learnt;
}

/**
 * Looks at a running app and writes down how a run can have it: by requests where its login page has a form, else in a browser.
 *
 * @throws RunEnded where the app is not there
 */
export async function learn(options: LearnOptions): Promise<FirstLive> {
  const { at, login, lookers } = options;
  const address = new AppAddress(at, new URL(at).origin);
  const transport = new Transport(address, 1, options.patience);
  const chromium = Chromium.find(options.folder, options.env['CHROMIUM']);
  const look = async () => {
    try {
      const byRequests = await learnByRequests(address, transport, login, lookers);
      const found = byRequests ?? (await inBrowser(address, chromium, options));
      const driver = byRequests === null ? ('a browser' as const) : ('requests' as const);
      return { text: writtenLive(found, { ...options, driver }), learnt: found };
    } catch (error) {
      if (!(error instanceof NoAnswer)) throw error;
      throw new RunEnded(
        `${at}: ${error.reason}`,
        'start the app, and look at the address and the login page',
      );
    } finally {
      transport.stop();
    }
  };
  return endedBySignal(look, () => {
    transport.stop();
    if (typeof chromium !== 'string') void chromium.end().catch(() => undefined);
  });
}

async function inBrowser(
  address: AppAddress,
  chromium: Chromium | string,
  { login, lookers }: LearnOptions,
): Promise<Learnt> {
  const noForm = `${login} has no login form that is there without script`;
  if (typeof chromium === 'string') {
    return { ...NOTHING, notes: [`${noForm}, and no browser to look in: ${chromium}`] };
  }
  await chromium.onlyFor([address.origin]);
  const told = () => (chromium.refused === null ? [] : [chromium.refused]);
  try {
    const found = await learnByBrowser(address, chromium, login, lookers);
    if (found === null) {
      return { ...NOTHING, notes: [`${noForm}, and in a browser none was seen`, ...told()] };
    }
    return { ...found, notes: [...found.notes, ...told()] };
  } catch (error) {
    return { ...NOTHING, notes: [`${noForm}: ${hinderedBy(error, 'in a browser').message}`, ...told()] };
  } finally {
    await chromium.end();
  }
}
