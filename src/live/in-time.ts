/** What comes of something that may never end; what is given instead once it took too long, in milliseconds. */
export async function inTime<Value, Late>(
  deed: Promise<Value>,
  longest: number,
  late: () => Late,
): Promise<Value | Late> {
  let timer: NodeJS.Timeout | undefined;
  const tooLong = new Promise<Late>((give, fail) => {
    timer = setTimeout(() => {
      Promise.resolve().then(late).then(give, fail);
    }, longest);
  });
  // It may still fail once nobody waits for it.
  deed.catch(() => undefined);
  try {
    return await Promise.race([deed, tooLong]);
  } finally {
    clearTimeout(timer);
  }
}
