import type { InstrumentSpec } from './spec.ts';
import { bounded } from '../transport/bounded.ts';
import { serialTransport } from '../transport/serial.ts';
import { tcpTransport } from '../transport/tcp.ts';
import type { Transport } from '../transport/transport.ts';

/**
 * @param networks where it may be beside this computer, as address/length
 * @throws {RangeError} for an instrument of a simulated bench that is not there
 */
export function transportOf(
  { name, transport }: Pick<InstrumentSpec, 'name' | 'transport'>,
  networks: readonly string[],
): Transport {
  if (transport.kind === 'camera') throw new RangeError(`${name}: a camera has no address`);
  if (transport.kind === 'browser') throw new RangeError(`${name}: only a page can reach it`);
  if (transport.kind === 'simulated') throw new RangeError(`${name}: there is no simulated bench`);
  return bounded(
    transport.kind === 'tcp'
      ? tcpTransport(transport.host, transport.port, networks)
      : serialTransport(transport.path, transport.baudRate),
  );
}
