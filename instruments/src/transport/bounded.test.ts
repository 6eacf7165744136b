import fc from 'fast-check';
import settings from './bounded.json';
import { boundedEvents, ReadingTime } from './bounded.ts';

/** A connection whose every byte takes so many milliseconds to read, on a clock of its own. */
function connection(time: ReadingTime, clock: { ms: number }, msPerByte: number) {
  const seen = { read: 0, left: 0, order: [] as (number | 'left')[] };
  const events = boundedEvents(
    {
      data: (piece) => {
        clock.ms += piece.length * msPerByte;
        seen.read += piece.length;
        seen.order.push(...piece);
      },
      left: (bytes) => {
        seen.left += bytes;
        seen.order.push('left');
      },
      closed: () => undefined,
    },
    time,
  );
  return { seen, events };
}

test('nobody who floods takes more than the time that is there, and nobody who sends a little loses a byte', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(200_000), { minLength: 1, maxLength: 40 }), fc.nat(8), (floods, others) => {
      const clock = { ms: 0 };
      const time = new ReadingTime(() => clock.ms);
      const msPerByte = 0.01;
      const flooding = Array.from({ length: others + 1 }, () => connection(time, clock, msPerByte));
      const calm = connection(time, clock, msPerByte);
      let sent = 0;
      for (const bytes of floods) {
        const began = clock.ms;
        for (const { events } of flooding) events.data(new Uint8Array(bytes));
        calm.events.data(new Uint8Array(1000));
        sent += 1000;
        const pieceMs = settings.pieceBytes * msPerByte;
        const free = (flooding.length + 1) * settings.freeBytes * msPerByte;
        // A window, and the next where it begins meanwhile.
        expect(clock.ms - began).toBeLessThanOrEqual(2 * (settings.allMs + pieceMs + free));
        clock.ms += settings.windowMs;
      }
      expect(calm.seen).toMatchObject({ read: sent, left: 0 });
      for (const { seen } of flooding) expect(seen.read + seen.left).toBe(floods.reduce((a, b) => a + b, 0));
    }),
  );
});

test('what is left out is told where it was, once for each piece', () => {
  const clock = { ms: 0 };
  const { events, seen } = connection(new ReadingTime(() => clock.ms), clock, 1);
  events.data(Uint8Array.from({ length: 50_000 }, () => 7));
  expect(seen.order.filter((x) => x === 'left')).toHaveLength(1);
  expect(seen.order.at(-1)).toBe('left');
  clock.ms += settings.windowMs;
  events.data(Uint8Array.of(8));
  expect(seen.order.at(-1)).toBe(8);
});
