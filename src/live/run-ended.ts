/** That a run cannot go on: what happened, what to do, and what the app printed last. */
export class RunEnded extends Error {
  constructor(
    message: string,
    readonly hint: string | null,
    readonly output = '',
  ) {
    super(message);
  }
}
