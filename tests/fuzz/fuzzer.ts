import type { Random } from './random';

/** Makes inputs of one kind at random, and holds what comes of them to what is promised. */
export interface Fuzzer {
  /** What it makes, as the counts call it. */
  readonly what: string;
  /** How many of them there are in each round. */
  readonly often: number;
  make(random: Random): string;
  /** What is wrong with how an input is answered; null where nothing is. What is thrown is a fault too. */
  faultOf(input: string): Promise<string | null> | string | null;
  /** Lets go of what it has started; gives what went wrong on the way. */
  end?(): Promise<string | null>;
}
