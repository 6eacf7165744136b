import { unknownSetup, type Run } from '../case/index.ts';
import type { Instrument, Marker } from '../trace/index.ts';
import type { TwinSetup } from '../twin/index.ts';

/** The run of a case that was recorded in a setup of the twin. */
export function recordedRun(id: string, setup: TwinSetup, instrument: Instrument, markers: Marker[]): Run {
  return {
    id,
    file: `${id}.csv`,
    typed: null,
    feed: setup.feed,
    quantity: 'current',
    instrument,
    setup: {
      ...unknownSetup,
      unplugged: [],
      setV: setup.feed === 'usb-c' ? null : setup.setV,
      limitA: setup.feed === 'usb-c' ? null : setup.limitA,
      port: setup.feed === 'usb-c' ? setup.port : null,
      flipped: setup.flipped,
      battery: setup.battery ? 'connected' : setup.feed === 'battery' ? 'disconnected' : 'absent',
    },
    markers,
    contract: null,
    after: null,
  };
}
