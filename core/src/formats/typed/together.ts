import type { Run } from '../../case/index.ts';
import type { Trace } from '../../trace/index.ts';
import { readTypedRun } from './build.ts';

/** Two feeds at once, as in `battery 4V: 0.3 hold + usb-c port 1: 5V 0.5 hold`: a plus before the next feed. */
const between = /\s\+\s+(?=(?:battery|usb-c|dc-in)\b)/i;

/**
 * Reads what several displays showed at the same time, typed on one line. Each feed is a run of its own; a supply in the
 * battery's place is the battery that the port sees.
 *
 * @param keyOf the id of the run at a place in the line, from 0
 * @returns one run where the line has one feed
 * @throws {FormatError} as {@link readTypedRun} does, its column counted in the whole line
 * @example readTypedTogether('battery 4V: 0.3 hold + usb-c port 1: 5V 0.5 hold', (k) => `r${k + 1}`)
 */
export function readTypedTogether(line: string, keyOf: (place: number) => string): { run: Run; trace: Trace }[] {
  const parts = line.split(between);
  if (parts.length === 1) return [readTypedRun(line, keyOf(0))];
  let at = 0;
  const read = parts.map((part, k) => {
    const from = line.indexOf(part, at);
    at = from + part.length;
    // Blanks in front keep the columns of what is wrong those of the whole line.
    return readTypedRun(' '.repeat(from) + part, keyOf(k));
  });
  const battery = read.find(({ run }) => run.feed === 'battery')?.run.setup.setV ?? null;
  const feedsBattery = read.some(({ run }) => run.feed === 'battery');
  return read.map(({ run, trace }, k) => ({
    trace,
    run: {
      ...run,
      typed: parts[k].trim(),
      setup:
        run.feed === 'battery' || !feedsBattery
          ? run.setup
          : { ...run.setup, battery: 'connected', batteryV: run.setup.batteryV ?? battery },
      extra: { ...run.extra, together: read.filter((_, j) => j !== k).map((r) => r.run.id) },
    },
  }));
}
