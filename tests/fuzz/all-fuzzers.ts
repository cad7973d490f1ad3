import { editorFuzzer } from './editor';
import { expressionFuzzer } from './expressions';
import type { Fuzzer } from './fuzzer';
import { liveConfigFuzzer } from './live-config';
import { partFuzzer } from './proof-parts';
import { requestFuzzer } from './requests';
import { sourceFuzzers } from './sources';
import { textFuzzer } from './texts';
import { typedFuzzer } from './typed';

/**
 * All fuzzers, in the order in which they take turns.
 *
 * @param examples the folder of the examples
 * @param program the built program
 */
export async function allFuzzers(examples: string, program: string): Promise<readonly Fuzzer[]> {
  return [
    textFuzzer(examples),
    await requestFuzzer(),
    expressionFuzzer(),
    ...sourceFuzzers(),
    await liveConfigFuzzer(examples),
    await partFuzzer(),
    await typedFuzzer(),
    editorFuzzer(examples, program),
  ];
}
