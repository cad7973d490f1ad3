import * as z from 'zod';
import { jsonText } from '../json.js';
import { lineIn, type ShownAgainst } from './against-text.js';
import { otherwise } from './draft-json.js';
import { otherwiseIn } from './draft-text.js';

const lacking = z.strictObject({ what: z.string(), line: z.int().nullable() });

/** `cavrin draft --into --format json`. */
export const againstFormat = z.strictObject({
  format: z.literal('cavrin/draft-against'),
  version: z.literal(1),
  app: z.string(),
  policy: z.string(),
  notInPolicy: z.array(lacking),
  notInSources: z.array(lacking),
  otherwise: z.array(
    z.strictObject({ what: z.string(), inSources: z.string(), inPolicy: z.string(), line: z.int() }),
  ),
  recorded: z.array(otherwise),
  notes: z.array(z.string()),
});

/** The comparison of sources with a policy, for programs. */
export function againstJson({ app, input, compared, results, notes }: ShownAgainst): string {
  const value: z.infer<typeof againstFormat> = {
    format: 'cavrin/draft-against',
    version: 1,
    app,
    policy: input.source.file,
    notInPolicy: compared.notInPolicy.map(({ what }) => ({ what, line: null })),
    notInSources: compared.notInSources.map(({ what, at }) => ({ what, line: lineIn(input, at) })),
    otherwise: compared.otherwise.map(({ what, inSources, inPolicy, at }) => ({
      what,
      inSources,
      inPolicy,
      line: lineIn(input, at),
    })),
    recorded: otherwiseIn(results).map((each) => ({ ...each, differences: [...each.differences] })),
    notes: [...notes],
  };
  return jsonText(value);
}
