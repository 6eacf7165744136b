import { SeenSource, type Health, type LiveSample } from './index.ts';

/** A source whose clock is moved by hand, with what it told. */
function watched(factor = 1) {
  let at = 100;
  const told: { samples: LiveSample[]; gaps: { from: number; to: number; why: string }[]; health: [Health, string][] } =
    {
      samples: [],
      gaps: [],
      health: [],
    };
  const source = new SeenSource(
    {
      sample: (s) => void told.samples.push(s),
      gap: (from, to, why) => void told.gaps.push({ from, to, why }),
      health: (health, why) => void told.health.push([health, why]),
    },
    { now: () => at * factor, factor },
  );
  return { source, told, pass: (seconds: number) => (at += seconds), now: () => at };
}

type Samples = [t: number, volts: number | null, amps: number | null][];
const told = (by: string, at: number, samples: Samples, why = '') => ({ by, at, samples, why });

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

test('readings stand on our clock: a page that told at once is off by nothing, whatever its clock says', () => {
  const { source, told: heard } = watched();
  // The page's clock reads 5.4 when ours reads 100.
  source.take(
    told('window-a', 5.4, [
      [5.1, 3.85, 0.1],
      [5.2, null, 0.2],
      [5.3, 3.85, null],
    ]),
  );
  expect(heard.samples.map((s) => s.t)).toEqual([expect.closeTo(99.7, 9), expect.closeTo(99.8, 9)]);
  expect(heard.samples[1].v).toBeNaN();
  expect(heard.samples.map((s) => s.i)).toEqual([0.1, 0.2]);
  expect(heard.health).toEqual([['measuring', '']]);
});

test('what was told late keeps its times: an outage of the network is no gap', () => {
  const { source, told: heard, pass } = watched();
  source.take(told('window-a', 1, [[0.9, 3.85, 0.1]]));
  pass(3);
  const late = Array.from({ length: 30 }, (_, k): Samples[number] => [1 + k / 10, 3.85, 0.1 + k / 1000]);
  source.take(told('window-a', 4, late));
  expect(heard.gaps).toEqual([]);
  expect(heard.samples).toHaveLength(31);
});

test('a display that cannot be read is lost with its reason, and the gap bears it', () => {
  const { source, told: heard, pass } = watched();
  source.start();
  source.take(
    told('window-a', 0, [
      [-0.2, 3.85, 0.1],
      [-0.1, 3.85, 0.1],
    ]),
  );
  for (let k = 1; k <= 20; k++) {
    pass(0.15);
    source.take(told('window-a', k * 0.15, [], 'The display is dark'));
  }
  expect(heard.health.at(-1)).toEqual(['lost', 'The display is dark']);
  pass(0.1);
  source.take(told('window-a', 3.1, [[3.05, 3.85, 0.3]]));
  expect(heard.health.at(-1)).toEqual(['measuring', '']);
  expect(heard.gaps).toEqual([
    { from: expect.closeTo(99.9, 6), to: expect.closeTo(103.05, 6), why: 'The display is dark' },
  ]);
  return source.stop();
});

test('with nobody looking it says what to do', () => {
  const { source, told: heard, pass } = watched();
  source.start();
  expect(heard.health[0][1]).toContain('open Camera');
  source.take(told('window-a', 0, [[-0.1, 3.85, 0.1]]));
  pass(2);
  jest.advanceTimersByTime(300);
  expect(heard.health.at(-1)).toEqual(['lost', expect.stringContaining('open Camera')]);
  return source.stop();
});

test('one window at a time; once it is silent another may', () => {
  const { source, told: heard, pass } = watched();
  expect(source.take(told('window-a', 0, [[-0.1, 3.85, 0.1]]))).toBe(true);
  expect(source.take(told('window-b', 50, [[49.9, 3.85, 0.2]]))).toBe(false);
  pass(2);
  expect(source.take(told('window-b', 52, [[51.9, 3.85, 0.2]]))).toBe(true);
  expect(heard.samples.map((s) => s.i)).toEqual([0.1, 0.2]);
});

test('on a bench that runs faster than time, readings do too', () => {
  const { source, told: heard, pass } = watched(3);
  source.take(told('window-a', 1, [[0.9, 3.85, 0.1]]));
  pass(1);
  source.take(told('window-a', 2, [[1.9, 3.85, 0.2]]));
  expect(heard.samples[1].t - heard.samples[0].t).toBeCloseTo(3, 6);
});
