import {
  formatCurrent,
  formatSeconds,
  formatVoltage,
  goodShare,
  instrumentModels,
  kindsAt,
  parseFault,
  patternNames,
  sayFault,
  type InstrumentName,
  type Profile,
  type TwinSegment,
  type TwinSetup,
} from '@umbral/core';
import { segmentWords, spanWords } from '@/features/words';
import { startDevice, type UsedProfile } from '@/server/analysis/engine';
import type { DeviceStart, StartQuestion } from '@/server/analysis/start';
import { silhouettePath } from '@/ui/silhouette';

interface RailLane {
  id: string;
  name: string;
  state: string;
  /** Stretches in which it stands, as shares of the run. */
  spans: { from: number; to: number }[];
  standsAtEnd: boolean;
  volts: string;
}

export interface VirtualStart {
  says: string;
  silhouette: string;
  healthy: string;
  seconds: number;
  pattern: string;
  segments: { span: string; level: string; does: string }[];
  lanes: RailLane[];
  heat: { name: string; watts: number }[];
  facts: string[];
  standing: string[];
}

export function feedsOf(profile: Profile): TwinSetup['feed'][] {
  return [
    ...(profile.battery ? (['battery'] as const) : []),
    ...(profile.ports.length > 0 ? (['usb-c'] as const) : []),
    ...(profile.dcIn ? (['dc-in'] as const) : []),
  ];
}

/** Reads the address; anything that does not fit falls back to the healthy device on its first feed. */
export function readQuestion(profile: Profile, params: Record<string, string | string[] | undefined>): StartQuestion {
  const one = (key: string): string => {
    const value = params[key];
    return (Array.isArray(value) ? value[0] : value) ?? '';
  };
  const feeds = feedsOf(profile);
  const feed = feeds.find((f) => f === one('feed')) ?? feeds[0];
  const names = Object.keys(instrumentModels) as InstrumentName[];
  const port = Number(one('port'));
  const seed = Number(one('seed'));
  return {
    fault: one('fault') || 'none',
    feed,
    port: Number.isInteger(port) && port >= 1 && port <= profile.ports.length ? port : 1,
    flipped: one('flipped') === 'yes',
    battery: one('battery') !== 'no',
    instrument: names.find((n) => n === one('instrument')) ?? (feed === 'usb-c' ? 'usb-meter' : 'bench-logger'),
    seed: Number.isInteger(seed) && seed > 0 ? seed : 1,
  };
}

/**
 * Starts the device virtually and says what would be seen. Throws as {@link startDevice}.
 */
export async function startVirtually(used: UsedProfile, question: StartQuestion): Promise<VirtualStart> {
  const { profile } = used;
  const { fault, setup, start, levels, healthy, shape, pattern, heat } = await startDevice(used, question);
  const full = Math.max(...levels, ...healthy, 0.01);
  return {
    says: sayFault(profile, fault),
    silhouette: silhouettePath(levels, full),
    healthy: silhouettePath(healthy, full),
    seconds: setup.seconds,
    pattern: patternNames[pattern],
    segments: shape.segments
      .slice(0, 12)
      .map((s) => ({ span: spanWords(s.t0, s.t1), ...segmentWords(s, shape.features.resolutionA) })),
    lanes: lanesOf(profile, start, setup.seconds),
    heat,
    facts: factsOf(profile, start, setup),
    standing: profile.rails.filter((_, r) => railStands(profile, r, start.segments.at(-1))).map((r) => r.id),
  };
}

type StartUp = DeviceStart['start'];

const railStands = (profile: Profile, r: number, at: TwinSegment | undefined): boolean =>
  at !== undefined && at.railV[r] >= goodShare * profile.rails[r].nominalV;

/** When each rail stood. */
function lanesOf(profile: Profile, start: StartUp, seconds: number): VirtualStart['lanes'] {
  const last = start.segments.at(-1);
  return profile.rails.map((rail, r) => ({
    id: rail.id,
    name: rail.name,
    state: rail.state,
    spans: joined(
      start.segments
        .filter((s) => railStands(profile, r, s))
        .map((s) => ({ from: s.t0 / seconds, to: s.t1 / seconds })),
    ),
    standsAtEnd: railStands(profile, r, last),
    volts: last ? formatVoltage(last.railV[r]) : '',
  }));
}

function factsOf(profile: Profile, start: StartUp, setup: TwinSetup): string[] {
  const out: string[] = [];
  const stage = profile.stages[start.stage];
  out.push(stage ? `reaches: ${stage.name}` : 'does not start');
  if (start.running && start.restarts === 0) out.push('runs');
  if (start.restarts > 0) out.push(`starts over ${start.restarts} times`);
  const all: { id: string; name: string }[] = [...profile.parts, ...profile.rails];
  const names = (ids: string[]): string => ids.map((id) => all.find((x) => x.id === id)?.name ?? id).join(', ');
  if (start.waitsFor.length > 0) out.push(`waits without end for: ${names(start.waitsFor)}`);
  if (start.lost.length > 0) out.push(`drops again: ${names(start.lost)}`);
  if (setup.feed === 'usb-c')
    out.push(start.contractV > 0 ? `contract ${formatVoltage(start.contractV)}` : 'the contract stays at 5 V');
  const cuts = start.events.filter((e) => e.what === 'source-cuts').length;
  if (cuts > 0) out.push(`the source cuts off ${cuts} times`);
  if (stage)
    out.push(
      `screen: ${stage.screen.replace('-', ' ')}`,
      `a computer detects: ${stage.host}`,
      stage.fan ? 'the fan runs' : 'no fan',
    );
  const charge = start.segments.at(-1)?.solution.chargeA ?? 0;
  if (charge > 0.005) out.push(`charges with ${formatCurrent(charge)}`);
  if (start.cutOff) out.push(`cut off after ${formatSeconds(start.segments.at(-1)?.t1 ?? 0)}: too many events`);
  return out;
}

function joined(spans: { from: number; to: number }[]): { from: number; to: number }[] {
  const out: { from: number; to: number }[] = [];
  for (const span of spans) {
    const before = out.at(-1);
    if (before && span.from - before.to < 0.002) before.to = span.to;
    else out.push({ ...span });
  }
  return out;
}

interface FaultChoice {
  group: string;
  choices: { value: string; words: string }[];
}

/** Every fault that the profile can have, at a usual severity and a light one for shorts, by kind of element. */
export function faultChoices(profile: Profile): FaultChoice[] {
  const groups: [string, { id: string }[]][] = [
    ['Rails', profile.rails],
    ['Converters and switches', profile.converters],
    ['Chips and links', profile.parts],
    [
      'Ports and battery',
      [...profile.ports, ...(profile.dcIn ? [profile.dcIn] : []), ...(profile.battery ? [{ id: 'battery' }] : [])],
    ],
    ['What can be unplugged', profile.peripherals],
  ];
  const say = (spec: string) => ({ value: spec, words: sayFault(profile, parseFault(profile, spec)) });
  return groups.map(([group, list]) => ({
    group,
    choices: list.flatMap(({ id }) =>
      kindsAt(profile, id).flatMap((kind) =>
        kind === 'short'
          ? [say(`short:${id}=0.1`), say(`short:${id}=1`), say(`short:${id}=30`)]
          : [say(`${kind}:${id}`)],
      ),
    ),
  }));
}
