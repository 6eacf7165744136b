import { unknownSetup } from '@umbral/core';
import type { StationState } from '../recorder/index.ts';
import { until } from './until.ts';

export const token = 'a-token-for-tests';

export const batteryBounds = { maxV: 4.4, maxA: 3, why: 'this model’s battery is full at 4.4 V' };

/** Speaks to a recorder as the web application does. */
export function recorderClient(port: number, jobId: () => number) {
  const call = async (path: string, body?: unknown, withToken = token) => {
    const answer = await fetch(`http://127.0.0.1:${port}${path}`, {
      method: body === undefined ? 'GET' : 'POST',
      headers: { authorization: `Bearer ${withToken}` },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    return { status: answer.status, value: (await answer.json()) as Record<string, unknown> };
  };
  const states = async () => (await call('/state')).value as unknown as StationState[];
  const state = async (key: string) => {
    const found = (await states()).find((s) => s.key === key);
    if (!found) throw new Error(`no ${key}`);
    return found;
  };
  /** Arms the supply as a window does; what arming gave is in the answer. */
  const arm = (of: object = {}) =>
    call('/arm', { instrument: 'supply', volts: 3.85, limitA: 2, bounds: batteryBounds, ...of });
  const on = (key: unknown) => call('/output', { instrument: 'supply', on: true, key });
  return {
    arm,
    on,
    off: () => call('/output', { instrument: 'supply', on: false }),
    alive: (key: string) => call('/alive', { key }),
    /** Armed and on, as a person leaves it; the key that keeps it on. */
    switchOn: async (of: object = {}): Promise<string> => {
      const { key } = (await arm(of)).value;
      await on(key);
      return key as string;
    },
    call,
    states,
    state,
    /** Waits until so many more samples of a recording have come. */
    moreSamples: async (key: string, count: number) => {
      const { rows = 0 } = (await state(key)).recording ?? {};
      await until(async () => ((await state(key)).recording?.rows ?? 0) >= rows + count, `${count} samples more`);
    },
    measuring: () => until(async () => (await states()).every((s) => s.health === 'measuring'), 'all measure'),
    record: async (key: string): Promise<number> => {
      const body = {
        instrument: key,
        jobId: jobId(),
        feed: key === 'meter' ? 'usb-c' : 'battery',
        setup: unknownSetup,
      };
      const { status, value } = await call('/record', body);
      if (status !== 200) throw new Error(String(value.problem));
      return value.recording as number;
    },
  };
}
