import * as z from 'zod';
import { keepScene, keptSceneSchema, once, type Job, type SceneOutcome } from '../core/internal.js';
import { jsonText } from './json.js';
import { castWords } from './proof-words.js';

/** Some of the scenes of a proof, to be put together with the others. */
export const proofPartFormat = once(() =>
  z.strictObject({
    format: z.literal('cavrin/proof-part'),
    version: z.literal(1),
    app: z.string(),
    policy: z.string(),
    /** Which part it is, from 1, and of how many. */
    part: z.int(),
    of: z.int(),
    scenes: z.array(
      z.strictObject({
        /** The same only for the same program and all of the policy that bears on the scene. */
        key: z.string(),
        words: z.string(),
        outcome: keptSceneSchema(),
      }),
    ),
  }),
);
export type ProofPartJson = z.infer<ReturnType<typeof proofPartFormat>>;

/** One scene of a part of a proof. */
export interface PartScene {
  readonly key: string;
  readonly job: Job;
  readonly outcome: SceneOutcome;
}

/** A part of a proof, in the format `cavrin/proof-part`: `cavrin prove --join` puts parts together. */
export function proofPartJson(
  { app, policy }: Pick<ProofPartJson, 'app' | 'policy'>,
  { part, of }: Pick<ProofPartJson, 'part' | 'of'>,
  scenes: readonly PartScene[],
): string {
  const json: ProofPartJson = {
    format: 'cavrin/proof-part',
    version: 1,
    app,
    policy,
    part,
    of,
    scenes: scenes.map(({ key, job, outcome }) => ({
      key,
      words: castWords(job.cast),
      outcome: keepScene(outcome),
    })),
  };
  return jsonText(json);
}
