import { ALL_CHECKS, positionOf, type Diagnostic, type Place } from '../core/internal.js';
import { jsonText } from './json.js';

const LEVELS = { error: 'error', warning: 'warning', advice: 'note' } as const;

export interface SarifOptions {
  readonly version: string;
}

/** Diagnostics as a log of static analysis results (SARIF 2.1.0, OASIS). */
export function sarif(diagnostics: readonly Diagnostic[], { version }: SarifOptions): string {
  const found = [...new Set(diagnostics.map(({ code }) => code))];
  const rules = found.map(ruleOf);
  const log = {
    $schema: 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: { driver: { name: 'cavrin', semanticVersion: version, rules } },
        // §3.14.17: columns count as the positions of this program do.
        columnKind: 'utf16CodeUnits',
        results: diagnostics.map((each) => resultOf(each, found.indexOf(each.code))),
      },
    ],
  };
  return jsonText(log);
}

/** SARIF 2.1.0 §3.49. */
function ruleOf(code: string) {
  const meta = ALL_CHECKS.find((check) => check.meta.code === code)?.meta;
  if (meta === undefined) return { id: code };
  return {
    id: code,
    shortDescription: { text: meta.title },
    fullDescription: { text: meta.why },
    help: { text: meta.mend },
    defaultConfiguration: { level: LEVELS[meta.severity] },
    properties: {
      tags: ['security', ...(meta.cwe === null ? [] : [`external/cwe/${meta.cwe.toLowerCase()}`])],
    },
  };
}

/** SARIF 2.1.0 §3.27. */
function resultOf({ code, severity, message, place, related, hint, shownBy }: Diagnostic, ruleIndex: number) {
  const text = [message, shownBy && `Shown by: ${shownBy}`, hint].filter((part) => part).join('. ');
  return {
    ruleId: code,
    ruleIndex,
    level: LEVELS[severity],
    message: { text },
    locations: place === null ? [] : [{ physicalLocation: locationOf(place) }],
    relatedLocations: related.map((other, id) => ({
      id,
      message: { text: other.message },
      physicalLocation: locationOf(other.place),
    })),
  };
}

/** SARIF 2.1.0 §3.29; a file is named by a URI reference (RFC 3986 §4.1). */
function locationOf(place: Place) {
  const start = positionOf(place.source, place.start);
  const end = positionOf(place.source, place.end);
  return {
    artifactLocation: { uri: place.source.file.split('/').map(encodeURIComponent).join('/') },
    region: {
      startLine: start.line,
      startColumn: start.column,
      endLine: end.line,
      endColumn: end.column,
    },
  };
}
