import fc from 'fast-check';
import { Frames, type Frame } from '../../src/editor/frames';

const message = (text: string, more = '') =>
  Buffer.from(`Content-Length: ${Buffer.byteLength(text)}\r\n${more}\r\n${text}`);

function framesOf(bytes: Buffer, cuts: readonly number[]): Frame[] {
  const frames = new Frames();
  const at = [
    0,
    ...cuts.map((cut) => Math.min(cut, bytes.length)).sort((one, two) => one - two),
    bytes.length,
  ];
  return at.slice(1).flatMap((end, index) => [...frames.add(bytes.subarray(at[index], end))]);
}

/** What is no message, with what is said of it. */
const SPOILT: readonly (readonly [Buffer, string])[] = [
  [message('{"id":1}', 'Content-Type: application/json; charset=latin-9\r\n'), 'another charset'],
  [Buffer.from('Content-Length: 99999999999\r\n\r\n{}'), 'more than 67108864 bytes'],
  [Buffer.from('Content-Length: -5\r\n\r\n{}'), 'without a Content-Length'],
  [Buffer.from('Length: 5\r\n\r\n{}'), 'without a Content-Length'],
  [Buffer.from('no header at all\r\n\r\n'), 'without a Content-Length'],
  [message('{"id":'), 'no JSON'],
  [
    Buffer.concat([Buffer.from('Content-Length: 4\r\n\r\n"'), Buffer.from([0xff, 0xfe]), Buffer.from('"')]),
    'no JSON',
  ],
  [Buffer.alloc(9000, 'x'), 'a header of more than 4096 bytes'],
];

const part = fc.oneof(
  fc.string({ unit: 'binary' }).map((text) => {
    const value = { id: 1, method: text.toWellFormed() };
    return { bytes: message(JSON.stringify(value)), value };
  }),
  fc.constantFrom(...SPOILT).map(([bytes, said]) => ({ bytes, said })),
);

test('messages come out the same however their bytes are cut, and what is none is told once', () => {
  fc.assert(
    fc.property(
      fc.array(part, { maxLength: 6 }),
      fc.array(fc.nat(12_000), { maxLength: 8 }),
      (parts, cuts) => {
        // Behind what never ends a header the next one is found only at its own beginning.
        const frames = framesOf(Buffer.concat([...parts.map(({ bytes }) => bytes), message('7')]), cuts);
        const values = frames.flatMap((frame) => ('value' in frame ? [frame.value] : []));
        expect(values).toEqual([...parts.flatMap((each) => ('value' in each ? [each.value] : [])), 7]);
        const faults = frames.flatMap((frame) => ('fault' in frame ? [frame.fault] : []));
        const wanted = parts.flatMap((each) => ('said' in each ? [each.said] : []));
        expect(faults.length).toBeLessThanOrEqual(wanted.length);
        for (const fault of faults) expect(wanted.some((said) => fault.includes(said))).toBe(true);
        expect(faults.length > 0).toBe(wanted.length > 0);
      },
    ),
  );
});

test.each(SPOILT)('%# is told as what it is', (bytes, said) => {
  const frames = framesOf(Buffer.concat([bytes, message('{}')]), []);
  expect(frames).toEqual([{ fault: expect.stringContaining(said) as string }, { value: {} }]);
});
