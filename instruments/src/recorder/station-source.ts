import { isAsked, kindOf, type Dialect } from '../dialect/index.ts';
import {
  MeterSource,
  SeenSource,
  SupplySource,
  supplyFor,
  type Source,
  type SourceEvents,
  type Supply,
  type SupplyMeasurement,
} from '../instrument/index.ts';
import { PagePort, type Transport } from '../transport/index.ts';
import { transportOf } from '../instrument/transport-of.ts';
import { unitOf, type InstrumentSpec } from '../instrument/spec.ts';
import type { StationContext, StationState } from './station-state.ts';

/** Smallest steps that an instrument shows, V and A. */
export type Steps = Pick<StationState, 'resolutionV' | 'resolutionA'>;

/** Where the samples of an instrument come from. */
export interface MadeSource {
  source: Source;
  /** What switches its output; null for a meter. */
  supply: Supply | null;
  /** What takes readings off a display; null for an instrument that is spoken to. */
  seen: SeenSource | null;
  /** What a page that it is plugged into passes on; null where it is reached from here. */
  page: PagePort | null;
  resolution: Steps;
}

/** @throws {RangeError} for a dialect that nobody described, or of another kind of instrument */
export function sourceOf(
  spec: InstrumentSpec,
  events: SourceEvents,
  {
    dialects,
    networks,
    now,
    factor,
    during,
  }: Pick<StationContext, 'dialects' | 'networks' | 'now' | 'factor' | 'during'>,
): MadeSource {
  if (spec.transport.kind === 'camera') {
    const seen = new SeenSource(events, { now, factor });
    return { source: seen, supply: null, seen, page: null, resolution: { ...usualSteps } };
  }
  const page = spec.transport.kind === 'browser' ? new PagePort() : null;
  const reached = page ?? transportOf(spec, networks);
  const transport = during ? named(reached, (work) => during(spec.key, work)) : reached;
  const dialect = dialects.get(spec.dialect);
  if (!dialect) throw new RangeError(`${spec.name}: there is no dialect called "${spec.dialect}"`);
  if (kindOf(dialect) !== spec.kind)
    throw new RangeError(`${spec.name}: "${spec.dialect}" is spoken by a ${kindOf(dialect)}, not by a ${spec.kind}`);
  const resolution = stepsOf(dialect);
  if (!isAsked(dialect))
    return withPage(page, { source: new MeterSource(transport, dialect, events, { now }), supply: null, resolution });
  const asked = supplyFor(transport, dialect, { unit: unitOf(spec) });
  const plausible = ({ volts, amps }: SupplyMeasurement): boolean => volts > -1 && volts < 80 && amps > -1 && amps < 40;
  const source = new SupplySource(asked, events, { now, plausible });
  const supply = spec.kind === 'supply' ? asked : null;
  if (page && supply) page.lastWords = supply.offBytes();
  return withPage(page, { source, supply, resolution });
}

/** What an instrument sends is read under its name. */
const named = (transport: Transport, during: (work: () => void) => void): Transport => ({
  where: transport.where,
  isSerial: transport.isSerial,
  line: transport.line,
  connect: (events) => transport.connect({ ...events, data: (piece, ageS) => during(() => events.data(piece, ageS)) }),
});

/** A page that comes is connected to at once. */
function withPage(page: PagePort | null, made: Omit<MadeSource, 'page' | 'seen'>): MadeSource {
  if (page) page.attached = () => made.source.hurry?.();
  return { ...made, seen: null, page };
}

/** Until its display has been read. */
const usualSteps: Steps = { resolutionV: 0.01, resolutionA: 0.01 };

const stepsOf = (dialect: Dialect): Steps =>
  dialect.format === 'umbral-readings/1'
    ? { ...usualSteps }
    : { resolutionV: dialect.resolutionV, resolutionA: dialect.resolutionA };
