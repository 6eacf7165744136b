import type { Marker, MarkerEvent, Trace } from '../trace/index.ts';
import settings from './settings.json';
import type { Segmentation } from './segments.ts';
import type { VoltageFeatures } from './types.ts';

interface MarkerReading {
  /** Given (those within the run) and inferred, in time order. */
  used: Marker[];
  /** All given ones in time order and the inferred ones, for showing. */
  shown: Marker[];
  warnings: string[];
}

/** What is known of the run that decides whether a press may be inferred. */
export interface MarkerContext {
  startsOnPower: boolean;
  /** The device was running or asleep already: a rise is not the answer to a press. */
  alreadyOn: boolean;
}

/**
 * Sorts the given markers, sets aside those outside the run, and infers the missing ones: the source coming on and
 * going off from the voltage, the press from the first clear rise after a quiet stretch (not on a USB-C feed, where the device starts
 * to draw by itself once it has attached).
 */
export function readMarkers(
  given: Marker[],
  trace: Trace,
  found: Segmentation,
  voltage: VoltageFeatures,
  context: MarkerContext,
): MarkerReading {
  const warnings: string[] = [];
  const told = [...given].sort((a, b) => a.t - b.t);
  if (told.some((m, k) => m !== given[k])) warnings.push('The markers were out of order and were sorted by time.');
  const first = trace.t.length === 0 ? 0 : trace.t[0];
  const last = trace.t.length === 0 ? 0 : trace.t[trace.t.length - 1];
  const sorted = told.map((m) => placeMarker(m, told, found)).sort((a, b) => a.t - b.t);
  const inside = sorted.filter((m) => m.t >= first - 1e-9 && m.t <= last + 1e-9);
  const outside = sorted.length - inside.length;
  if (outside > 0) {
    const subject = outside === 1 ? 'One marker is' : `${outside} markers are`;
    warnings.push(`${subject} outside the run (0 to ${Number(last.toFixed(2))} s): saved but not used.`);
  }
  const inferred: Marker[] = [];
  const on = inside.find((m) => m.event === 'output-on' || m.event === 'plug');
  if (!on) {
    const t = inferOn(trace);
    if (t !== null) inferred.push({ t, event: trace.feed === 'usb-c' ? 'plug' : 'output-on', inferred: true });
  }
  const off = inside.some((m) => (m.event === 'output-off' || m.event === 'unplug') && m.t > (on?.t ?? first));
  const offT = off ? null : inferOff(trace, voltage);
  if (offT !== null)
    inferred.push({ t: offT, event: trace.feed === 'usb-c' ? 'unplug' : 'output-off', inferred: true });
  const mayInferPrompt =
    trace.quantity === 'current' && trace.feed !== 'usb-c' && !context.startsOnPower && !context.alreadyOn;
  if (mayInferPrompt && !inside.some((m) => m.event === 'prompt')) {
    const from = on?.t ?? inferred.find((m) => m.event === 'plug' || m.event === 'output-on')?.t ?? first;
    const t = inferPrompt(found, from);
    if (t !== null) inferred.push({ t, event: 'prompt', inferred: true });
  }
  const byTime = (a: Marker, b: Marker): number => a.t - b.t;
  return { used: [...inside, ...inferred].sort(byTime), shown: [...sorted, ...inferred].sort(byTime), warnings };
}

/** Events that a step of the draw goes with: up, or down. */
const stepOf: Partial<Record<MarkerEvent, 'up' | 'down'>> = {
  prompt: 'up',
  'output-on': 'up',
  plug: 'up',
  'part-on': 'up',
  'output-off': 'down',
  unplug: 'down',
  'part-off': 'down',
};

/**
 * A marker that somebody gave by hand, at the step that goes with it: hands are late, and now and then a little early. The
 * nearest step of its window is taken, unless another marker of the same event is nearer to it: two parts that came
 * off one after the other share no step. For a press it is one that leaves the level at which the device rested. Where there is
 * none the device did not answer, and the marker stays where it was said.
 */
function placeMarker(marker: Marker, all: readonly Marker[], { pieces, channels: c }: Segmentation): Marker {
  const way = stepOf[marker.event];
  const { said } = marker;
  if (said === undefined || way === undefined) return marker;
  const [from, to] = [said - settings.handBackS, said + settings.handForwardS];
  const noise = Math.max(c.noise, settings.promptNoiseA);
  const steps = pieces.slice(1).flatMap((piece, k) => {
    const before = pieces[k];
    const level = piece.kind === 'bursts' || piece.kind === 'pulses' ? piece.high : piece.mean;
    const up = way === 'up' ? level - before.mean : before.mean - level;
    return up > Math.max(settings.promptRise * noise, settings.promptFloorA)
      ? [{ t: c.t[piece.from], rest: before.mean }]
      : [];
  });
  const on = all.filter((m) => m.event === 'output-on' || m.event === 'plug').map((m) => m.t);
  const isOfFeed = (t: number): boolean => on.some((at) => t >= at - settings.inrushS && t <= at + settings.inrushS);
  const others = all.filter((m) => m !== marker && m.event === marker.event).map((m) => m.said ?? m.t);
  const isOfAnother = (t: number): boolean => others.some((at) => Math.abs(t - at) < Math.abs(t - said));
  const near = steps.filter(
    ({ t }) => t >= from && t <= to && !isOfAnother(t) && (marker.event !== 'prompt' || !isOfFeed(t)),
  );
  const rest = Math.min(...near.map((s) => s.rest)) + settings.promptRise * noise;
  const fitting = marker.event === 'prompt' ? near.filter((s) => s.rest <= rest) : near;
  if (fitting.length === 0) return { ...marker, t: said };
  const { t } = fitting.reduce((best, s) => (Math.abs(s.t - said) < Math.abs(best.t - said) ? s : best));
  return { ...marker, t };
}

/** The source comes on within the run: from nothing to a voltage, or to a current that pulls the voltage down. */
function inferOn(trace: Trace): number | null {
  let absent = 0;
  for (let k = 0; k < trace.t.length; k++) {
    const v = trace.v[k];
    if (v !== v) continue;
    if (v < settings.voltagePresent && !(trace.i[k] > settings.flowsA)) absent++;
    else return absent > 0 ? trace.t[k] : null;
  }
  return null;
}

/** The source is away for seconds, comes back and goes again, without a rhythm: nothing on a board does that. */
export function isPluggedByHand(voltage: VoltageFeatures): boolean {
  return voltage.longestAwayS >= settings.pluggedAwayS && voltage.cycles === null;
}

/**
 * The voltage goes away, after it stood for a good part of the run, and the run ends without it: somebody was done
 * and switched off. A source that gives up after an instant of voltage is no such thing.
 */
function inferOff(trace: Trace, voltage: VoltageFeatures): number | null {
  const { t, v } = trace;
  const total = t.length === 0 ? 0 : t[t.length - 1] - t[0];
  if (!voltage.lostForGood || isPluggedByHand(voltage) || voltage.presentS < settings.switchedOffAfterShare * total)
    return null;
  for (let k = t.length - 1; k > 0; k--) if (v[k - 1] >= settings.voltagePresent) return t[k];
  return null;
}

/** The first clear rise after a quiet stretch. */
function inferPrompt(found: Segmentation, from: number): number | null {
  const { pieces, channels: c } = found;
  const noise = Math.max(c.noise, settings.promptNoiseA);
  let quietSince: number | null = null;
  let quietLevel = 0;
  let drawnBefore = 0;
  for (const [k, p] of pieces.entries()) {
    const t0 = c.t[p.from];
    const end = p.to < c.t.length ? c.t[p.to] : c.t[p.to - 1];
    if (end <= from) continue;
    const height = p.kind === 'bursts' || p.kind === 'pulses' ? p.high : p.mean;
    const risen =
      quietSince !== null &&
      height >
        Math.max(quietLevel * settings.promptRise, quietLevel + settings.promptRise * noise, settings.promptFloorA);
    const longEnough = Math.max(settings.promptQuietS, settings.promptIntervals * (c.interval || 0));
    // Something that drew as much before it was quiet did not wait for a press.
    if (risen && t0 - (quietSince ?? t0) >= longEnough) return drawnBefore > 0.5 * height ? null : t0;
    // A short step on the way up belongs to the rise.
    const next = pieces[k + 1];
    if (end - t0 < longEnough && next !== undefined && next.mean > p.mean && quietSince !== null) continue;
    if (t0 - from > settings.inrushS || end - t0 > settings.inrushS) drawnBefore = Math.max(drawnBefore, p.mean);
    if (quietSince === null || p.mean < quietLevel) {
      if (quietSince === null || p.mean < 0.5 * quietLevel - noise) quietSince = Math.max(t0, from);
      quietLevel = p.mean;
    }
  }
  return null;
}
