import { Hindered } from '../../src/live/hindered';
import { answered } from '../../src/live/leaving';

/** A page that is left so many times while somebody looks. */
function left(times: number): jest.Mock<Promise<string>, []> {
  let looks = 0;
  return jest.fn((): Promise<string> => {
    looks += 1;
    return looks <= times
      ? Promise.reject(new Error('page.evaluate: Execution context was destroyed'))
      : Promise.resolve('seen');
  });
}

test('a page that is left meanwhile is looked at again, but the app is asked once', async () => {
  const look = left(2);
  expect(await answered(look, 5_000)).toBe('seen');
  expect(look).toHaveBeenCalledTimes(3);
  const call = left(1);
  await expect(answered(call, 5_000, true)).rejects.toThrow(Hindered);
  expect(call).toHaveBeenCalledTimes(1);
});

test('one that is left again and again is given up, and other errors are told as they are', async () => {
  await expect(answered(left(1_000), 100)).rejects.toThrow('again and again for 0.1s');
  await expect(answered(() => Promise.reject(new Error('another')), 100)).rejects.toThrow('another');
});
