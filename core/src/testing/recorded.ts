import { describe } from '../diagnosis/index.ts';
import { readTypedRun } from '../formats/index.ts';
import { seededRandom } from '../trace/index.ts';
import {
  compileProfile,
  instrumentOf,
  markersOf,
  parseFault,
  recordStartUp,
  startUp,
  usualSetup,
  type Profile,
  type TwinSetup,
} from '../twin/index.ts';
import { caseOf } from './cases.ts';

/** A run of a virtual unit, recorded like a real one. */
export function recorded(profile: Profile, spec: string, change: Partial<TwinSetup> = {}, seed = 1, known = true) {
  const setup: TwinSetup = { ...usualSetup, setV: profile.battery?.nominalV ?? null, ...change };
  const board = compileProfile(profile);
  const start = startUp(board, [parseFault(profile, spec)], setup);
  const trace = recordStartUp(
    start,
    setup,
    instrumentOf(setup.feed === 'usb-c' ? 'usb-meter' : 'bench-logger'),
    seededRandom(seed),
  );
  const { run } = readTypedRun('battery 4V: 0 | prompt 0.1 hold', 'r1');
  const usb = setup.feed === 'usb-c';
  const real = {
    ...run,
    file: 'r1.csv',
    typed: null,
    feed: setup.feed,
    instrument: trace.instrument,
    markers: markersOf(setup),
    setup: {
      ...run.setup,
      setV: usb ? null : setup.setV,
      limitA: usb ? null : setup.limitA,
      port: usb ? setup.port : null,
      flipped: setup.flipped,
      battery: setup.battery ? ('connected' as const) : ('disconnected' as const),
      deviceState: setup.state === 'off' ? null : setup.state,
    },
  };
  const bare = caseOf(profile.class as 'phone', { runs: [real] });
  const value = { ...bare, device: { ...bare.device, profile: known ? profile.id : null } };
  const shape = describe(value, real, trace, null);
  return { value, run: real, trace, shape, setup, start };
}
