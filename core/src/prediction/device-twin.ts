import { feedVolts } from '../catalogue/index.ts';
import { LRUCache } from 'lru-cache';
import type { Device, Run } from '../case/index.ts';
import type { RunContext, Shape } from '../shape/index.ts';
import { recognisePatterns } from '../shape/index.ts';
import {
  compileProfile,
  genericProfile,
  makeWorkspace,
  shippedProfile,
  startUp,
  usualSetup,
  type Board,
  type Profile,
  type TwinSetup,
  type Workspace,
} from '../twin/index.ts';
import { hypothesesOf, type Hypothesis } from '../hypotheses/index.ts';

import { classFigures, figuresOf } from './expectation.ts';
import type { Closeness, Seen } from './fit.ts';
import fit from './fit.json';
import { hasSymptom } from './symptom.ts';
import { Trial } from './trial.ts';
import { featuresOf, type InstrumentLimits } from './predict.ts';

/** The device as it can be started virtually: its own profile, or the generic one of its class fitted to what is stated. */
export interface DeviceTwin {
  board: Board;
  closeness: Closeness;
  readonly hypotheses: Hypothesis[];
  workspace: Workspace;
  /** Id of the profile that stands for its class; its own id where it has one of its own. */
  classProfile: string;
}

const twins = new WeakMap<Profile, DeviceTwin>();
const fitted = new LRUCache<string, Profile>({ max: 60 });

/**
 * @param profiles the shop's own profiles by id; those that ship with the application are known without
 */
export function deviceTwinOf(
  device: Device,
  runs: readonly Run[],
  profiles?: ReadonlyMap<string, Profile>,
): DeviceTwin {
  const own = device.profile === null ? null : (profiles?.get(device.profile) ?? shippedProfile(device.profile));
  if (own && !own.generic) return twinOf(own, 'own');
  const hasDcInput =
    runs.some((r) => r.feed === 'dc-in') || (device.expect.dcV !== undefined && !runs.some((r) => r.feed === 'usb-c'));
  return twinOf(fitGeneric(own ?? genericProfile(device.class, hasDcInput), device), 'generic');
}

function twinOf(profile: Profile, closeness: Closeness): DeviceTwin {
  let twin = twins.get(profile);
  if (!twin) {
    const board = compileProfile(profile);
    const workspace = makeWorkspace(board);
    let hypotheses: Hypothesis[] | null = null;
    twin = {
      board,
      closeness,
      workspace,
      classProfile: profile.id,
      // Hundreds of start-ups: only for whoever asks.
      get hypotheses() {
        return (hypotheses ??= withSymptoms(board, workspace));
      },
    };
    twins.set(profile, twin);
  }
  return twin;
}

/** A fault that nobody would notice is seldom on a bench: its share goes to the others of its circuit. */
function withSymptoms(board: Board, workspace: Workspace): Hypothesis[] {
  const list = hypothesesOf(board.profile).map((h) => {
    const noticed = h.fault === null || h.fault.kind === 'none' || hasSymptom(new Trial(board, [h.fault], workspace));
    return noticed ? h : { ...h, share: h.share * fit.unnoticed };
  });
  const totals = new Map<string, number>();
  for (const h of list) totals.set(h.circuit, (totals.get(h.circuit) ?? 0) + h.share);
  return list.map((h) => ({ ...h, share: h.share / (totals.get(h.circuit) ?? 1) }));
}

/** Stretches a generic profile to the levels that are stated for this model. */
function fitGeneric(profile: Profile, device: Device): Profile {
  const figures = figuresOf(device);
  const usual = classFigures(device.class);
  const key = JSON.stringify([profile.id, figures]);
  const known = fitted.get(key);
  if (known) return known;
  const ratio = (figures.startPeakA * figures.batteryV) / (usual.startPeakA * usual.batteryV);
  const charge = (figures.chargeA * figures.contractV) / (usual.chargeA * usual.contractV);
  const batteryV = profile.battery ? figures.batteryV : null;
  const isPack = (id: string): boolean => batteryV !== null && ['main', 'batt', 'batt-line'].includes(id);
  const scaled = (table: Record<string, number>): Record<string, number> =>
    Object.fromEntries(
      Object.entries(table).map(([level, a]) => [level, level === 'power' || level === 'attached' ? a : a * ratio]),
    );
  const made: Profile = {
    ...profile,
    battery:
      profile.battery && batteryV !== null
        ? {
            ...profile.battery,
            nominalV: batteryV,
            fullV: fit.battery.fullShare * batteryV,
            emptyV: fit.battery.emptyShare * batteryV,
          }
        : null,
    ports: profile.ports.map((p) => ({
      ...p,
      contracts:
        figures.contractV > feedVolts.raisedFrom ? [feedVolts.plainUsb, figures.contractV] : [feedVolts.plainUsb],
      limitA: Math.max(p.limitA, fit.chargeHeadroom * figures.chargeA),
    })),
    dcIn: profile.dcIn ? { ...profile.dcIn, volts: figures.dcV } : null,
    rails: profile.rails.map((r) => (isPack(r.id) ? { ...r, nominalV: batteryV ?? r.nominalV } : r)),
    converters: profile.converters.map((c) => ({
      ...c,
      limitA: c.limitA * Math.max(1, ratio),
      chargeA: c.chargeA * charge,
    })),
    loads: profile.loads.map((l) => ({ ...l, amps: scaled(l.amps), bursts: scaled(l.bursts) })),
  };
  fitted.set(key, made);
  return made;
}

/** The setup of a run as the twin takes it; null where the twin cannot stand in that setup. */
export function twinSetupOf(twin: DeviceTwin, run: Run, shape: Shape): TwinSetup | null {
  const { profile } = twin.board;
  const { setup } = run;
  if (run.quantity !== 'current') return null;
  if (run.feed === 'battery' && !profile.battery) return null;
  if (run.feed === 'dc-in' && !profile.dcIn) return null;
  const port = setup.port ?? 1;
  if (run.feed === 'usb-c' && profile.ports.length === 0) return null;
  const on = shape.markers.find((m) => m.event === 'output-on' || m.event === 'plug');
  const first = shape.segments[0]?.t0 ?? 0;
  const last = shape.segments.at(-1)?.t1 ?? 0;
  if (last - first < 0.5) return null;
  const onS = Math.max(0, on?.t ?? first);
  const off = shape.markers.find((m) => (m.event === 'output-off' || m.event === 'unplug') && m.t > onS);
  const prompt = shape.markers.find((m) => m.event === 'prompt' && m.t >= onS - fit.promptSlackS);
  return {
    ...usualSetup,
    feed: run.feed,
    setV: run.feed === 'usb-c' ? null : setup.setV,
    limitA: run.feed === 'usb-c' ? null : setup.limitA,
    port: Math.min(port, Math.max(1, profile.ports.length)),
    flipped: setup.flipped,
    battery:
      run.feed !== 'battery' &&
      setup.assembly !== 'board-alone' &&
      (setup.battery === null || setup.battery === 'connected' || setup.battery === 'known-good'),
    batteryV: setup.batteryV,
    display: setup.display !== 'disconnected',
    boardAlone: setup.assembly === 'board-alone',
    half: setup.assembly === 'half' ? (setup.half ?? 'upper') : null,
    unplugged: unpluggedIds(profile, setup.unplugged),
    state: setup.deviceState === 'running' || setup.deviceState === 'asleep' ? setup.deviceState : 'off',
    onS,
    promptS: prompt && prompt.t < (off?.t ?? last) ? Math.max(onS + fit.promptSlackS, prompt.t) : null,
    seconds: Math.min(off?.t ?? last, fit.longestRunS),
  };
}

/** What a person calls a part against the ids and names of a profile; what matches none is any peripheral. */
export function unpluggedIds(profile: Profile, names: string[]): string[] {
  const plain = (text: string): string =>
    text
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, ' ')
      .trim();
  return names.flatMap((name) => {
    const hits = profile.peripherals.filter(
      (p) => plain(p.name).includes(plain(name)) || plain(name).includes(plain(p.name)) || p.id === name,
    );
    return (hits.length > 0 ? hits : profile.peripherals).map((p) => p.id);
  });
}

/** Predictions by board and setup, the latest used last. */
const predictions: { board: Board; key: string; made: (Seen | null)[] }[] = [];

/**
 * What every hypothesis would show in a setup, through an instrument; null for one that cannot be simulated. The
 * latest are kept, since a job is assessed again and again.
 */
export function predictAll(
  twin: DeviceTwin,
  setup: TwinSetup,
  instrument: InstrumentLimits,
  context: RunContext,
): (Seen | null)[] {
  const key = JSON.stringify([setup, instrument, context]);
  const at = predictions.findIndex((p) => p.board === twin.board && p.key === key);
  if (at >= 0) {
    const [found] = predictions.splice(at, 1);
    predictions.push(found);
    return found.made;
  }
  const made = twin.hypotheses.map((h): Seen | null => {
    if (h.fault === null) return null;
    const features = featuresOf(startUp(twin.board, [h.fault], setup, twin.workspace), setup, instrument);
    const shape = { features } as Shape;
    return { features, patterns: recognisePatterns(shape, context) };
  });
  predictions.push({ board: twin.board, key, made });
  if (predictions.length > fit.warmSetups) predictions.shift();
  return made;
}
