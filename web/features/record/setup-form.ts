import type { RunView } from '@/features/job/view';
import type { Feed } from '@umbral/core/words';

/** What the form says of a run's setup: quantities as typed. */
export interface SetupForm {
  feed: Feed;
  setV: string;
  limitA: string;
  port: number | null;
  flipped: boolean;
  battery: string | null;
  display: string | null;
  board: string | null;
  assembly: string | null;
  half: string;
  unplugged: string[];
  deviceState: string | null;
  batteryV: string;
  charger: string | null;
  instrument: string | null;
  resolutionA: string;
  contract: string | null;
  contractV: string;
  contractA: string;
  /** The change that it follows: undefined for the newest when it is saved. */
  after?: string | null;
}

/** The setup of the last run is the likeliest of the next one. */
export function setupFormOf(chosen: Pick<RunView, 'run'> | null): SetupForm {
  const s = chosen?.run.setup;
  const { kind = null, resolutionA = null } = chosen?.run.instrument ?? {};
  return {
    feed: chosen?.run.feed ?? 'battery',
    setV: s?.setV == null ? '' : `${s.setV} V`,
    limitA: s?.limitA == null ? '' : `${s.limitA} A`,
    port: s?.port ?? null,
    flipped: s?.flipped ?? false,
    battery: s?.battery ?? null,
    display: s?.display ?? null,
    board: s?.board ?? null,
    assembly: s?.assembly ?? null,
    half: s?.half ?? '',
    unplugged: s?.unplugged ?? [],
    deviceState: s?.deviceState ?? null,
    batteryV: s?.batteryV == null ? '' : `${s.batteryV} V`,
    charger: s?.charger ?? null,
    instrument: kind === 'eye' ? null : kind,
    // Read off a display by eye, the resolution is that of the digits typed; it says nothing of the next instrument.
    resolutionA: resolutionA === null || kind === 'eye' ? '' : `${resolutionA * 1000} mA`,
    // What was agreed once says nothing of the next time.
    contract: null,
    contractV: '',
    contractA: '',
  };
}
