import { ALL_CHECKS, positionOf, type Diagnostic, type Place } from '../core/internal.js';
import type { FindingsJson } from './json-formats.js';
import { jsonText } from './json.js';

/** Diagnostics in the format `cavrin/findings`. */
export function findingsJson(diagnostics: readonly Diagnostic[]): string {
  const number = (severity: Diagnostic['severity']) =>
    diagnostics.filter((diagnostic) => diagnostic.severity === severity).length;
  const result: FindingsJson = {
    format: 'cavrin/findings',
    version: 1,
    findings: diagnostics.map(({ code, severity, message, place, related, hint, shownBy }) => ({
      code,
      severity,
      message,
      place: place === null ? null : { ...startOf(place), ...endOf(place) },
      related: related.map((other) => ({ ...startOf(other.place), message: other.message })),
      hint,
      shownBy: shownBy ?? null,
      check: checkBehind(code),
    })),
    totals: { errors: number('error'), warnings: number('warning'), advice: number('advice') },
  };
  return jsonText(result);
}

/** The start of a place, counted from 1. */
export function startOf(place: Place): { file: string; line: number; column: number } {
  return { file: place.source.file, ...positionOf(place.source, place.start) };
}

function endOf(place: Place): { endLine: number; endColumn: number } {
  const { line, column } = positionOf(place.source, place.end);
  return { endLine: line, endColumn: column };
}

/** The check behind a code; null for a code that no check has. */
function checkBehind(code: string): FindingsJson['findings'][number]['check'] {
  const meta = ALL_CHECKS.find((check) => check.meta.code === code)?.meta;
  return meta === undefined ? null : { title: meta.title, why: meta.why, cwe: meta.cwe };
}
