// Where the people of an app are kept while it runs.
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** The file of the app at a port. */
export const fileAt = (port) => join(tmpdir(), `cavrin-library-people-${port}.json`);
