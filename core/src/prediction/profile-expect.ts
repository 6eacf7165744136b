import type { Case, Expect } from '../case/index.ts';
import { startUp, usualSetup, type Board, type StartUp, type TwinSetup } from '../twin/index.ts';
import type { DeviceTwin } from './device-twin.ts';

const told = new WeakMap<Board, Expect>();

/** What a healthy unit of the model draws, by starting its profile: the figures that patterns are judged against. */
export function expectOf({ board, workspace }: Pick<DeviceTwin, 'board' | 'workspace'>): Expect {
  const known = told.get(board);
  if (known) return known;
  const { profile } = board;
  const { battery, ports, dcIn } = profile;
  const start = (change: Partial<TwinSetup>): StartUp =>
    startUp(board, [], { ...usualSetup, limitA: null, seconds: 30, ...change }, workspace);
  const out: Expect = { ports: ports.length, startsOnPower: profile.startsOnPower };
  const promptS = 4;
  if (battery) {
    const s = start({ feed: 'battery', setV: battery.nominalV, promptS });
    out.batteryV = battery.nominalV;
    out.startsWithoutBattery = !battery.needed;
    out.quiescentA = s.segments.find((x) => x.t0 <= promptS - 0.5 && promptS - 0.5 < x.t1)?.meanA ?? 0;
    out.startPeakA = Math.max(...s.segments.filter((x) => x.t1 > promptS).map((x) => x.highA));
    out.idleA = s.segments.at(-1)?.meanA;
  }
  if (ports.length > 0) {
    const batteryV = battery ? 0.5 * (battery.emptyV + battery.nominalV) : null;
    const last = start({ feed: 'usb-c', battery: battery !== null, batteryV, promptS: null }).segments.at(-1);
    out.contractV = Math.max(...ports.flatMap((p) => p.contracts));
    if (last && battery) out.chargeA = last.meanA;
  }
  if (dcIn) out.dcV = dcIn.volts;
  told.set(board, out);
  return out;
}

/** The case with the figures of its own profile where the device states none. */
export function informedBy(value: Case, twin: DeviceTwin): Case {
  if (twin.closeness !== 'own') return value;
  const { device } = value;
  return { ...value, device: { ...device, expect: { ...expectOf(twin), ...device.expect } } };
}
