import { lookup } from 'node:dns/promises';
import { BlockList, isIP } from 'node:net';
import { ConnectionProblem } from './transport.ts';

/** Networks that are reached without anybody having allowed them: this computer. */
export const loopback: readonly string[] = ['127.0.0.0/8', '::1/128'];

/** Never an instrument, whoever allows it: link-local (with the addresses of metadata services), unspecified, multicast. */
const never = [
  '0.0.0.0/8',
  '169.254.0.0/16',
  '224.0.0.0/3',
  '::/128',
  'fe80::/10',
  'ff00::/8',
  'fd00:ec2::/32',
] as const;

/**
 * Reads a network as address/length.
 *
 * @throws {RangeError} for what is none, or one that can never hold an instrument
 */
export function readNetwork(text: string): { address: string; length: number; family: 'ipv4' | 'ipv6' } {
  const [address, lengthText = '', ...more] = text.trim().split('/');
  const version = isIP(address);
  const widest = version === 4 ? 8 : 16;
  const length = /^\d{1,3}$/.test(lengthText) ? Number(lengthText) : NaN;
  if (version === 0 || more.length > 0 || !(length >= widest && length <= (version === 4 ? 32 : 128)))
    throw new RangeError(`"${text.slice(0, 60)}": expected a network such as 10.20.30.0/24, at least /${widest || 8}`);
  const family = version === 4 ? 'ipv4' : 'ipv6';
  if (blocked.check(address, family))
    throw new RangeError(`"${text}": instruments are not allowed there (link-local and similar)`);
  return { address, length, family };
}

function listOf(networks: readonly string[]): BlockList {
  const list = new BlockList();
  for (const text of networks) {
    const [address, length] = text.split('/');
    list.addSubnet(address, Number(length), isIP(address) === 4 ? 'ipv4' : 'ipv6');
  }
  return list;
}

const blocked = listOf(never);

/** The plain form of an address: IPv4 inside of IPv6 is IPv4. */
function plainOf(address: string): string {
  return /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1] ?? address;
}

/** Whether an instrument may be at an address. */
export function isAllowed(address: string, networks: readonly string[]): boolean {
  const plain = plainOf(address);
  const version = isIP(plain);
  if (version === 0) return false;
  const family = version === 4 ? 'ipv4' : 'ipv6';
  return !blocked.check(plain, family) && listOf([...loopback, ...networks]).check(plain, family);
}

/**
 * The address to connect to for a host, looked up now, so that a name that points elsewhere meanwhile leads nowhere.
 *
 * @param networks what a lead has allowed beside this computer, as address/length
 * @throws {ConnectionProblem} for a name that is not known, or an address outside of the networks
 */
export async function addressOf(host: string, networks: readonly string[]): Promise<string> {
  let found: string[];
  try {
    found = isIP(host) ? [host] : (await lookup(host, { all: true })).map((a) => a.address);
  } catch {
    throw new ConnectionProblem(`${host}: unknown host name`);
  }
  const allowed = found.find((a) => isAllowed(a, networks));
  if (allowed === undefined)
    throw new ConnectionProblem(
      `${host} (${found.slice(0, 3).join(', ')}) is outside the networks allowed for instruments. A lead can add networks in Settings`,
    );
  return allowed;
}
