import type { DisplayReading, DisplayState } from '@umbral/core/display';
import { DisplayWatch, type ReaderThread, type SeenBody } from './display-watch';
import type { FromReader, ToReader } from './messages';

const state: DisplayState = {
  note: null,
  doubtShare: 0,
  refreshS: null,
  stepV: 0.01,
  stepA: 0.001,
  corners: [],
  texts: ['3.85', '0.100'],
};
const reading = (t: number, amps: number): DisplayReading => ({
  t,
  volts: 3.85,
  amps,
  watts: null,
  doubts: [null, null],
  isSample: true,
});
const framing = { numbers: [], isMirrored: false };
const picture = { close: () => undefined } as unknown as ImageBitmap;

/** A thread that is made to answer, and a recorder that takes or refuses. */
function watching() {
  let at = 10;
  const asked: ToReader[] = [];
  const thread: ReaderThread = {
    postMessage: (message: ToReader) => void asked.push(message),
    terminate: () => undefined,
    onmessage: null,
  };
  const told: SeenBody[] = [];
  let answers: () => Promise<string | null> = () => Promise.resolve(null);
  const watch = new DisplayWatch({
    thread: () => thread,
    tell: (body) => {
      told.push(body);
      return answers();
    },
    now: () => at,
    why: () => '',
    elsewhere: 'it stands elsewhere',
    silent: 'no picture comes',
  });
  const answer = (data: FromReader): void =>
    thread.onmessage?.call(thread as Worker, { data } as MessageEvent<FromReader>);
  return {
    watch,
    asked,
    told,
    answer,
    pass: async (seconds: number) => {
      at += seconds;
      await jest.advanceTimersByTimeAsync(1000 * seconds);
    },
    answering: (how: () => Promise<string | null>) => (answers = how),
  };
}

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

test('pictures are read one at a time, and not more often than is useful', async () => {
  const { watch, answer, pass, asked } = watching();
  // Before anything is framed the thread has nothing to read, and would never answer.
  expect(watch.isDue(10)).toBe(false);
  watch.watch(framing, false, 'old-supply');
  expect(watch.isDue(10)).toBe(true);
  watch.take(10, picture);
  expect(watch.isDue(11)).toBe(false);
  answer({ kind: 'read', t: 10, reading: null, state });
  expect(watch.isDue(10.01)).toBe(false);
  await pass(0.1);
  expect(watch.isDue(10.1)).toBe(true);
  expect(asked.map((a) => a.kind)).toEqual(['framing', 'picture']);
  watch.close();
});

test('what was read is told in order a few times a second, with the steps of the display', async () => {
  const { watch, answer, pass, told } = watching();
  watch.watch(framing, false, 'old-supply');
  answer({ kind: 'read', t: 10.1, reading: reading(10, 0.1), state });
  answer({ kind: 'read', t: 10.2, reading: { ...reading(10.1, 0.1), isSample: false }, state });
  answer({ kind: 'read', t: 10.3, reading: reading(10.2, 0.2), state });
  await pass(0.2);
  expect(told[0]).toMatchObject({
    instrument: 'old-supply',
    samples: [
      [10, 3.85, 0.1],
      [10.2, 3.85, 0.2],
    ],
    steps: { volts: 0.01, amps: 0.001 },
  });
  watch.close();
});

test('while the server is away readings wait, and are told once with their times when it is back', async () => {
  const { watch, answer, pass, told, answering } = watching();
  watch.watch(framing, false, 'old-supply');
  answering(() => Promise.reject(new Error('away')));
  answer({ kind: 'read', t: 10.1, reading: reading(10, 0.1), state });
  await pass(0.2);
  expect(watch.snapshot().refused).toContain('could not be reached');
  answer({ kind: 'read', t: 10.5, reading: reading(10.4, 0.3), state });
  answering(() => Promise.resolve(null));
  await pass(0.2);
  expect(told.at(-1)?.samples.map((s) => s[0])).toEqual([10, 10.4]);
  await pass(0.2);
  expect(told.at(-1)?.samples).toEqual([]);
  expect(watch.snapshot().refused).toBe('');
  watch.close();
});

test('where no picture comes any more what was read is old, and the recorder hears why', async () => {
  const { watch, told, answer, pass } = watching();
  watch.watch(framing, false, 'camera');
  watch.take(10, picture);
  answer({ kind: 'read', t: 10, reading: reading(10, 0.1), state });
  await pass(1);
  expect(watch.snapshot().isSilent).toBe(false);
  await pass(3);
  expect(watch.snapshot()).toMatchObject({ isSilent: true, picturesPerSecond: 0 });
  expect(told.at(-1)).toMatchObject({ samples: [], why: 'no picture comes' });
  watch.take(14, picture);
  answer({ kind: 'read', t: 14, reading: reading(14, 0.2), state });
  expect(watch.snapshot().isSilent).toBe(false);
});

test('while a display is framed nobody is told', async () => {
  const { watch, answer, pass, told } = watching();
  watch.watch(framing, false, null);
  answer({ kind: 'read', t: 10.1, reading: reading(10, 0.1), state });
  await pass(1);
  expect(told).toEqual([]);
  watch.close();
});

test('numbers are looked for in one picture, and a framing that is not found again is said', async () => {
  const { watch, answer, pass, told } = watching();
  watch.watch(framing, false, null);
  const found = watch.find([picture], false);
  expect(watch.isDue(99)).toBe(false);
  answer({ kind: 'found', numbers: [], readsMirrored: true });
  expect(await found).toMatchObject({ readsMirrored: true });
  expect(watch.isDue(99)).toBe(true);
  watch.watch(framing, true, 'old-supply');
  answer({ kind: 'again', isFound: false });
  expect(watch.snapshot().isElsewhere).toBe(true);
  // Whatever stands there now may be another number: it is told to nobody until somebody has looked.
  answer({ kind: 'read', t: 10.1, reading: reading(10, 0.1), state });
  await pass(0.2);
  expect(told.at(-1)).toMatchObject({ samples: [], why: 'it stands elsewhere' });
  watch.standsThere();
  answer({ kind: 'read', t: 10.3, reading: reading(10.2, 0.1), state });
  await pass(0.2);
  expect(told.at(-1)).toMatchObject({ samples: [[10.2, 3.85, 0.1]], why: '' });
  watch.close();
});
