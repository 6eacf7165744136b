import type { LineDialect, ScpiDialect } from '../dialect/index.ts';
import { MeterSource, ScpiSupply, SupplySource, type Source, type SourceEvents } from '../instrument/index.ts';
import { transportOf } from '../transport/of-spec.ts';
import type { InstrumentSpec } from './spec.ts';
import type { StationContext, StationState } from './station-state.ts';

/** Where the samples of an instrument come from. */
export interface MadeSource {
  source: Source;
  /** What switches its output; null for a meter. */
  supply: ScpiSupply | null;
  resolution: Pick<StationState, 'resolutionV' | 'resolutionA'>;
}

/** @throws {RangeError} for commands or lines that nobody described */
export function sourceOf(
  spec: InstrumentSpec,
  events: SourceEvents,
  { dialects, networks, now }: Pick<StationContext, 'dialects' | 'networks' | 'now'>,
): MadeSource {
  const transport = transportOf(spec, networks);
  if (spec.kind === 'supply') {
    const dialect = dialects.scpi.get(spec.dialect);
    if (!dialect) throw new RangeError(`${spec.name}: no SCPI commands called "${spec.dialect}" are known`);
    const supply = new ScpiSupply(transport, dialect);
    const plausible: ConstructorParameters<typeof SupplySource>[2]['plausible'] = ({ volts, amps }) =>
      volts > -1 && volts < 80 && amps > -1 && amps < 40;
    return { source: new SupplySource(supply, events, { now, plausible }), supply, resolution: stepsOf(dialect) };
  }
  const dialect = dialects.lines.get(spec.dialect);
  if (!dialect) throw new RangeError(`${spec.name}: no meter lines called "${spec.dialect}" are known`);
  return { source: new MeterSource(transport, dialect, events, { now }), supply: null, resolution: stepsOf(dialect) };
}

const stepsOf = ({ resolutionV, resolutionA }: ScpiDialect | LineDialect) => ({ resolutionV, resolutionA });
