import type { LineDialect, ScpiDialect } from '../dialect/index.ts';
import {
  MeterSource,
  ScpiSupply,
  SeenSource,
  SupplySource,
  type Source,
  type SourceEvents,
} from '../instrument/index.ts';
import { transportOf } from '../transport/of-spec.ts';
import type { InstrumentSpec } from './spec.ts';
import type { StationContext, StationState } from './station-state.ts';

/** Smallest steps that an instrument shows, V and A. */
export type Steps = Pick<StationState, 'resolutionV' | 'resolutionA'>;

/** Where the samples of an instrument come from. */
export interface MadeSource {
  source: Source;
  /** What switches its output; null for a meter. */
  supply: ScpiSupply | null;
  /** What takes readings off a display; null for an instrument that is spoken to. */
  seen: SeenSource | null;
  resolution: Steps;
}

/** @throws {RangeError} for commands or lines that nobody described */
export function sourceOf(
  spec: InstrumentSpec,
  events: SourceEvents,
  { dialects, networks, now, factor }: Pick<StationContext, 'dialects' | 'networks' | 'now' | 'factor'>,
): MadeSource {
  if (spec.transport.kind === 'camera') {
    const seen = new SeenSource(events, { now, factor });
    return { source: seen, supply: null, seen, resolution: { ...usualSteps } };
  }
  const transport = transportOf(spec, networks);
  if (spec.kind === 'supply') {
    const dialect = dialects.scpi.get(spec.dialect);
    if (!dialect) throw new RangeError(`${spec.name}: there are no SCPI commands called "${spec.dialect}"`);
    const supply = new ScpiSupply(transport, dialect);
    const plausible: ConstructorParameters<typeof SupplySource>[2]['plausible'] = ({ volts, amps }) =>
      volts > -1 && volts < 80 && amps > -1 && amps < 40;
    return {
      source: new SupplySource(supply, events, { now, plausible }),
      supply,
      seen: null,
      resolution: stepsOf(dialect),
    };
  }
  const dialect = dialects.lines.get(spec.dialect);
  if (!dialect) throw new RangeError(`${spec.name}: there are no meter lines called "${spec.dialect}"`);
  const source = new MeterSource(transport, dialect, events, { now });
  return { source, supply: null, seen: null, resolution: stepsOf(dialect) };
}

/** Until its display has been read. */
const usualSteps: Steps = { resolutionV: 0.01, resolutionA: 0.01 };

const stepsOf = ({ resolutionV, resolutionA }: ScpiDialect | LineDialect) => ({ resolutionV, resolutionA });
