import { randomUUID } from 'node:crypto';
import { closeSync, fchmodSync, openSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

/**
 * Writes a new file beside another, in whose place it is put once it is complete: whoever looks, or ends this program, never
 * comes across one that is half written. Its name cannot be known before, and what has it is left alone.
 *
 * @param mode what it may be used for; null for what is usual
 * @returns its name
 */
export function writePart(beside: string, content: string | Uint8Array, mode: number | null): string {
  const part = join(dirname(beside), `.cavrin-${randomUUID()}.part`);
  const descriptor = openSync(part, 'wx');
  try {
    writeFileSync(descriptor, content);
    if (mode !== null) fchmodSync(descriptor, mode & 0o7777);
  } catch (error) {
    rmSync(part, { force: true });
    throw error;
  } finally {
    closeSync(descriptor);
  }
  return part;
}
