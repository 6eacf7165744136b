import type { Run } from '../case/index.ts';
import { formatCurrent, formatVoltage } from '../quantity/index.ts';
import { topPattern, type PatternId } from '../shape/index.ts';
import comparisons from './data/comparisons.json';
import policy from './data/policy.json';
import { evidence, type ComparisonKind, type EvidenceItem, type LikelihoodModel } from './model.ts';
import type { Moved } from './predict-checks.ts';
import { isHealthy, sayRunSetup, type SeenRun } from './runs.ts';

const beforePatterns: PatternId[] = ['draw-before-prompt', 'idle-drain', 'limit-at-once', 'quiet'];

/** Whether what a run shows lies before the press. */
function isBefore(seen: SeenRun): boolean {
  return beforePatterns.includes(topPattern(seen.patterns));
}

/** The level that stands for a run when it is compared: before the press, or the hold at the end. Watts, amperes, volts. */
function standing(seen: SeenRun, before = isBefore(seen)) {
  const f = seen.shape.features;
  const { resolutionA, voltage } = f;
  if (before) {
    const phase = f.before ?? f.whole;
    return { watts: phase.levelW, amps: phase.levelA, volts: voltage.tail, resolutionA };
  }
  const phase = f.after ?? f.whole;
  return {
    watts: phase.tailW ?? f.whole.levelW,
    amps: phase.tailA ?? f.whole.levelA,
    volts: voltage.tail,
    resolutionA,
  };
}

/** Whether two runs read the same: pattern, contract and level within what the bench repeats. */
export function readsTheSame(a: SeenRun, b: SeenRun): boolean {
  const [x, y] = [standing(a), standing(b)];
  const volts =
    x.volts === null || y.volts === null || Math.abs(x.volts - y.volts) < 0.12 * Math.max(x.volts, y.volts, 1);
  if (!volts) return false;
  if (x.watts === null || y.watts === null) return topPattern(a.patterns) === topPattern(b.patterns);
  const blur = 1.5 * Math.max(x.resolutionA, y.resolutionA) * Math.max(x.volts ?? 4, y.volts ?? 4);
  const close = Math.abs(x.watts - y.watts) <= Math.max(blur, 0.02);
  const ratio = Math.max(x.watts, y.watts) / Math.max(Math.min(x.watts, y.watts), 1e-6);
  const samePattern = topPattern(a.patterns) === topPattern(b.patterns);
  return close || (ratio < comparisons.sameLevelRatio && samePattern) || (samePattern && ratio < 1.5);
}

/** What a change between two runs did to the reading. */
export function movedFrom(before: SeenRun, after: SeenRun): Moved {
  if (isHealthy(after)) return 'recovers';
  if (readsTheSame(before, after)) return 'same';
  return (standing(after, isBefore(before)).watts ?? 0) < (standing(before).watts ?? 0) ? 'falls' : 'rises';
}

/** The level of a run in words; `like` names the run it is compared with, whose phase is taken. */
export function sayLevel(seen: SeenRun, like = seen): string {
  const { amps, volts, resolutionA } = standing(seen, isBefore(like));
  return volts === null
    ? formatCurrent(amps, resolutionA)
    : `${formatCurrent(amps, resolutionA)} at ${formatVoltage(volts)}`;
}

/** Pairs of runs that differ in exactly one thing, and what the difference says. */
export function comparisonEvidence(seen: SeenRun[], model: LikelihoodModel): EvidenceItem[] {
  const usable = seen.filter((s) => topPattern(s.patterns) !== 'unrecognised');
  const items: EvidenceItem[] = [];
  const add: Add = (kind, source, sentence, weight = policy.comparisonWeight, unplugged) => {
    const item = evidence(source, sentence, model.comparison(kind), weight);
    items.push(unplugged ? { ...item, unplugged } : item);
  };
  comparePorts(usable, add);
  for (const [earlier, later] of pairsThatDiffer(usable, 'flipped')) {
    const same = readsTheSame(earlier, later);
    add(
      same ? 'flip-same' : 'flip-differs',
      'flip',
      `${sayPair(earlier, later)}: ${same ? 'the plug reads the same both ways up' : 'the plug reads differently turned over'}`,
    );
  }
  compareOne(
    usable,
    'battery',
    (run) => run.setup.battery === 'connected',
    'battery-out',
    'the battery disconnected',
    add,
  );
  compareOne(
    usable,
    'display',
    (run) => run.setup.display === 'connected' || run.setup.display === null,
    'display',
    'another display or none',
    add,
  );
  compareOne(usable, 'unplugged', (run) => run.setup.unplugged.length === 0, 'unplug', 'parts unplugged', add);
  compareCharger(usable, add);
  compareHalves(usable, add);
  steps(seen, add);
  return items;
}

type Add = (kind: ComparisonKind, source: string, sentence: string, weight?: number, unplugged?: string[]) => void;

function sayPair(a: SeenRun, b: SeenRun): string {
  return `runs ${a.run.id} and ${b.run.id}`;
}

/** All ports of one setup together: identical readings clear them, one odd one is accused. */
function comparePorts(seen: SeenRun[], add: Add): void {
  const groups = new Map<string, SeenRun[]>();
  for (const one of seen.filter((s) => s.run.feed === 'usb-c' && s.run.after === null)) {
    const key = keyWithout(one.run, ['port', 'flipped']);
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  for (const group of groups.values()) {
    const byPort = new Map<number, SeenRun>();
    for (const one of group) byPort.set(one.run.setup.port ?? 1, one);
    if (byPort.size < 2) continue;
    const runs = [...byPort.values()];
    if (runs.every(isHealthy)) continue;
    const same = runs.every((r) => readsTheSame(r, runs[0]));
    const levels = runs.map((r) => `${sayRunSetup(r.run)} ${sayLevel(r)}`).join('; ');
    add(
      same ? 'ports-same' : 'ports-differ',
      'ports',
      `${same ? 'the ports read the same' : 'the ports read differently'} (${levels})`,
    );
  }
}

/** Everything of a setup but the named parts, as a key. */
function keyWithout(run: Run, parts: (keyof Run['setup'])[]): string {
  const { setV: _v, limitA: _l, temperatureC: _t, batteryV: _b, extra: _x, ...rest } = run.setup;
  const kept = Object.entries({ ...rest, port: rest.port ?? 1 }).filter(
    ([key]) => !parts.includes(key as keyof Run['setup']),
  );
  return JSON.stringify([run.feed, run.quantity, kept]);
}

function pairsThatDiffer(seen: SeenRun[], part: keyof Run['setup']): [SeenRun, SeenRun][] {
  const pairs: [SeenRun, SeenRun][] = [];
  const used = new Set<string>();
  seen.forEach((later, k) => {
    for (const earlier of seen.slice(0, k).reverse()) {
      if (keyWithout(earlier.run, [part]) !== keyWithout(later.run, [part])) continue;
      if (JSON.stringify(earlier.run.setup[part]) === JSON.stringify(later.run.setup[part])) continue;
      const pair = [earlier.run.id, later.run.id].sort().join('|');
      if (used.has(pair)) continue;
      used.add(pair);
      pairs.push([earlier, later]);
      break;
    }
  });
  return pairs;
}

/** A healthy run where the other is not is a recovery; the same is the same; anything else is a change. */
function resultOf(failing: SeenRun, tried: SeenRun): 'recovers' | 'changes' | 'same' {
  if (!isHealthy(failing) && isHealthy(tried)) return 'recovers';
  return readsTheSame(failing, tried) ? 'same' : 'changes';
}

function compareOne(
  seen: SeenRun[],
  part: 'battery' | 'display' | 'unplugged',
  isPlain: (run: Run) => boolean,
  kind: 'battery-out' | 'display' | 'unplug',
  words: string,
  add: Add,
): void {
  const results: { result: 'recovers' | 'changes' | 'same'; sentence: string; unplugged?: string[] }[] = [];
  for (const [earlier, later] of pairsThatDiffer(seen, part)) {
    const [plain, tried] = isPlain(earlier.run) ? [earlier, later] : [later, earlier];
    if (!isPlain(plain.run) || isPlain(tried.run)) continue;
    if (earlier.run.after !== later.run.after && part !== 'unplugged') continue;
    if (isHealthy(plain) && isHealthy(tried)) continue;
    const result = resultOf(plain, tried);
    const said = { recovers: 'it recovers', changes: 'the reading changes', same: 'nothing changes' }[result];
    results.push({
      result,
      sentence: `run ${tried.run.id} against ${plain.run.id}: with ${words} ${said} (${sayLevel(plain)}, then ${sayLevel(tried, plain)})`,
      ...(part === 'unplugged' ? { unplugged: tried.run.setup.unplugged } : {}),
    });
  }
  for (const { result, sentence, unplugged } of results) {
    const weight = (result === 'recovers' ? policy.recoveryWeight : policy.comparisonWeight) / results.length;
    add(`${kind}-${result}` as ComparisonKind, kind, sentence, weight, unplugged);
  }
}

function compareCharger(seen: SeenRun[], add: Add): void {
  for (const [earlier, later] of pairsThatDiffer(seen, 'charger')) {
    const [own, good] = earlier.run.setup.charger === 'known-good' ? [later, earlier] : [earlier, later];
    if (good.run.setup.charger !== 'known-good' || (isHealthy(own) && isHealthy(good))) continue;
    const recovers = resultOf(own, good) === 'recovers';
    add(
      recovers ? 'charger-recovers' : 'charger-same',
      'charger',
      `run ${good.run.id} against ${own.run.id}: a known-good charger ${recovers ? 'cures it' : 'reads no better'}`,
    );
  }
}

function compareHalves(seen: SeenRun[], add: Add): void {
  const whole = seen.find((s) => s.run.setup.assembly !== 'half' && !isHealthy(s));
  for (const half of seen.filter((s) => s.run.setup.assembly === 'half' && s.run.feed === whole?.run.feed)) {
    const starts = topPattern(half.patterns) === 'normal-start';
    const name = half.run.setup.half ? `the half "${half.run.setup.half}"` : 'one half';
    add(
      starts ? 'half-starts' : 'half-same',
      `half:${half.run.id}`,
      `run ${half.run.id}: ${name} alone ${starts ? 'starts' : 'does not start'}`,
    );
  }
}

/** A step in the trace at the instant a part comes off. */
function steps(seen: SeenRun[], add: Add): void {
  for (const one of seen) {
    for (const marker of one.shape.markers.filter((m) => m.event === 'part-off')) {
      const before = levelNear(one, marker.t - 1.5, marker.t - 0.05);
      const after = levelNear(one, marker.t + 0.2, marker.t + 2);
      if (before === null || after === null) continue;
      const noise = Math.max(3 * one.shape.features.noiseA, 0.05 * before, one.shape.features.resolutionA);
      const kind =
        before - after > Math.max(0.6 * before, noise)
          ? 'unplug-recovers'
          : before - after > 2 * noise
            ? 'unplug-changes'
            : 'unplug-same';
      const said = `${formatCurrent(before, one.shape.features.resolutionA)} before, ${formatCurrent(after, one.shape.features.resolutionA)} after`;
      add(
        kind,
        `part:${one.run.id}`,
        `run ${one.run.id}: ${marker.note ?? 'a part'} comes off at ${Number(marker.t.toFixed(1))} s: ${said}`,
      );
    }
  }
}

function levelNear(seen: SeenRun, t0: number, t1: number): number | null {
  let sum = 0;
  let seconds = 0;
  for (const s of seen.shape.segments) {
    const overlap = Math.min(s.t1, t1) - Math.max(s.t0, t0);
    if (overlap <= 0 || s.meanA === null) continue;
    sum += s.meanA * overlap;
    seconds += overlap;
  }
  return seconds === 0 ? null : sum / seconds;
}
