import { readInput } from '@umbral/core';
import type { RecorderHealth, StationState } from '@umbral/instruments';
import * as yup from 'yup';
import { rememberState, type BenchRow } from './benches.ts';
import { tellAll } from './wire.ts';

/** What happens at a bench, as every process hears it. */
export type LiveEvent =
  | { bench: number; event: 'state'; value: StationState[] }
  | { bench: number; event: 'health'; value: RecorderHealth }
  | { bench: number; event: 'samples'; value: LiveSamples };

export interface LiveSamples {
  instrument: string;
  recording: number;
  from: number;
  t: number[];
  i: (number | null)[];
  v: (number | null)[];
}

export const liveChannel = 'umbral_live';

const liveInput = yup.object({
  events: yup
    .array()
    .of(
      yup.object({
        event: yup.string().oneOf(['state', 'health', 'samples', 'outline']).required(),
        value: yup.mixed().required(),
      }),
    )
    .max(200)
    .required(),
});

/** Samples that fit into one notice. */
const maxSamples = 200;

function rounded(x: number | null, digits: number): number | null {
  return x === null || !Number.isFinite(x) ? null : Number(x.toFixed(digits));
}

/** Cuts samples into pieces that fit into a notice, with as many digits as a screen shows. */
export function eventPieces(samples: LiveSamples): LiveSamples[] {
  const { t, i, v, from, instrument, recording } = samples;
  const out: LiveSamples[] = [];
  for (let at = 0; at < t.length; at += maxSamples)
    out.push({
      instrument,
      recording,
      from: from + at,
      t: t.slice(at, at + maxSamples).map((x) => rounded(x, 4) ?? 0),
      i: i.slice(at, at + maxSamples).map((x) => rounded(x, 5)),
      v: v.slice(at, at + maxSamples).map((x) => rounded(x, 3)),
    });
  return out;
}

/** When the state of a bench was written down last, by bench; milliseconds of this process. */
const writtenAt = new Map<number, number>();
const writeEveryMs = 1000;

/** When the state of a bench was told last; samples are told as they come. */
const toldAt = new Map<number, number>();
const tellEveryMs = 250;

/** Takes what a bench tells, and tells every process. */
export async function takeLive(bench: BenchRow, body: unknown): Promise<void> {
  const { events } = readInput(liveInput, body);
  const of = <T>(event: string): T | undefined => events.find((e) => e.event === event)?.value as T | undefined;
  const state = of<StationState[]>('state');
  const now = performance.now();
  if (now - (writtenAt.get(bench.id) ?? -Infinity) > writeEveryMs) {
    writtenAt.set(bench.id, now);
    await rememberState(bench.id, state, of<RecorderHealth>('health'));
  }
  if (state && now - (toldAt.get(bench.id) ?? -Infinity) > tellEveryMs) {
    toldAt.set(bench.id, now);
    await tellAll(liveChannel, { bench: bench.id, event: 'state', value: state });
  }
  for (const { event, value } of events)
    if (event === 'samples')
      for (const piece of eventPieces(value as LiveSamples))
        await tellAll(liveChannel, { bench: bench.id, event, value: piece });
}
