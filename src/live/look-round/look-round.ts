import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { AppAddress } from '../app-address.js';
import { Chromium } from '../chromium.js';
import { endedBySignal } from '../ended-by-signal.js';
import { driverWords } from '../driver-errors.js';
import { HtmlPage } from '../html-page.js';
import { asksForHttps } from '../learn/by-requests.js';
import { Visitor } from '../learn/visitor.js';
import type { Looker } from '../learn/learnt.js';
import { RunEnded } from '../run-ended.js';
import { NoAnswer, Transport } from '../transport.js';
import { BrowserRounder } from './by-browser.js';
import { isOfPassword, RequestRounder } from './by-requests.js';
import { goRound, type RoundRecording } from './round.js';

/** What is looked at, and by whom. */
export interface LookRoundOptions {
  /** Origin and base path of the app. */
  readonly at: string;
  /** The address of its login page, below that. */
  readonly login: string;
  readonly lookers: readonly Looker[];
  readonly folder: string;
  readonly env: Readonly<Record<string, string | undefined>>;
  /** After how many milliseconds an answer is given up. */
  readonly patience: number;
}

/**
 * Looks round in a running app, as a guest and as some people, and records it: by requests where its login page has a form, else in
 * Chromium. Nothing is sent but the forms of login and logout.
 *
 * @throws RunEnded where the app is not there, or cannot be looked at
 */
export async function lookRound(
  options: LookRoundOptions,
): Promise<{ readonly recordings: readonly RoundRecording[]; readonly notes: readonly string[] }> {
  const { at } = options;
  const address = new AppAddress(at, new URL(at).origin);
  const transport = new Transport(address, 1, options.patience);
  const chromium = Chromium.find(options.folder, options.env['CHROMIUM']);
  const look = () => looked(address, transport, chromium, options);
  return endedBySignal(look, () => {
    transport.stop();
    if (typeof chromium !== 'string') void chromium.end().catch(() => undefined);
  });
}

async function looked(
  address: AppAddress,
  transport: Transport,
  chromium: Chromium | string,
  options: LookRoundOptions,
) {
  const { at, login, lookers } = options;
  try {
    const plain = await new Visitor(address, transport, false).ask('GET', login);
    const isProxied = asksForHttps(plain, address);
    const first = isProxied ? await new Visitor(address, transport, true).ask('GET', login) : plain;
    if (new HtmlPage(first.answer.body).forms().some(isOfPassword)) {
      return await goRound(
        () => Promise.resolve(new RequestRounder(address, transport, isProxied)),
        login,
        lookers,
      );
    }
    return await inBrowser(address, chromium, options);
  } catch (error) {
    const words = driverWords(error);
    if (words !== null) throw new RunEnded(words, null);
    if (!(error instanceof NoAnswer)) throw error;
    throw new RunEnded(`${at}: ${error.reason}`, 'start the app, and look at the address and the login page');
  } finally {
    transport.stop();
  }
}

async function inBrowser(
  address: AppAddress,
  chromium: Chromium | string,
  { login, lookers, patience }: LookRoundOptions,
) {
  if (typeof chromium === 'string') {
    throw new RunEnded(
      `${login} has no login form that is there without script, and there is no browser to look in`,
      chromium,
    );
  }
  await chromium.onlyFor([address.origin]);
  // Recordings hold passwords and cookies: they are gone however it ends.
  const recorded = mkdtempSync(join(tmpdir(), 'cavrin-round-'));
  try {
    const { recordings, notes } = await goRound(
      () => BrowserRounder.start(address, chromium, recorded, patience),
      login,
      lookers,
    );
    return { recordings, notes: [...notes, ...(chromium.refused === null ? [] : [chromium.refused])] };
  } finally {
    await chromium.end();
    rmSync(recorded, { recursive: true, force: true });
  }
}
