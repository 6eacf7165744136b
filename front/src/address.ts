import { BlockList, isIP } from 'node:net';

/**
 * Reads networks such as `10.20.0.0/16, 10.3.0.1`.
 *
 * @throws {RangeError} naming what is no network
 */
export function readNetworks(text: string): BlockList {
  const list = new BlockList();
  for (const part of text
    .split(',')
    .map((p) => p.trim())
    .filter(Boolean)) {
    const [address, length = isIP(part) === 6 ? '128' : '32'] = part.split('/');
    const family = isIP(address) === 6 ? 'ipv6' : 'ipv4';
    if (isIP(address) === 0 || !/^\d{1,3}$/.test(length) || Number(length) > (family === 'ipv4' ? 32 : 128))
      throw new RangeError(`"${part}" is not a network; expected an address such as 10.20.0.0/16`);
    list.addSubnet(address, Number(length), family);
  }
  return list;
}

const plainOf = (address: string): string => /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1] ?? address;

/** Whether an address is that of a proxy that is trusted. */
export function isTrusted(address: string, trusted: BlockList): boolean {
  const plain = plainOf(address);
  const version = isIP(plain);
  return version !== 0 && trusted.check(plain, version === 4 ? 'ipv4' : 'ipv6');
}

/**
 * Who asks: the other end of the connection, or, where that is a proxy that is trusted, the last address that no trusted
 * proxy has added.
 *
 * @param forwarded the `X-Forwarded-For` header as it came
 */
export function addressOf(peer: string | undefined, forwarded: string | undefined, trusted: BlockList): string {
  let address = plainOf(peer ?? '');
  for (const step of (forwarded ?? '').split(',').reverse()) {
    if (!isTrusted(address, trusted)) return address;
    const next = plainOf(step.trim());
    if (isIP(next) === 0) return address;
    address = next;
  }
  return address;
}
