import { execFile, spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { createServer } from 'node:net';
import { promisify } from 'node:util';
import { shippedProfiles } from '@umbral/core';
import { usualRegisters } from '../dialect/index.ts';
import { SimulatedBench, SimulatedRegisterSupply } from '../simulated/index.ts';
import { now, until } from '../testing/until.ts';
import { tcpTransport } from '../transport/index.ts';
import { supplyFor } from './index.ts';

const closing: (() => Promise<unknown> | void)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

// From Debian's packages: `npm test` installs them where it may; an ordinary user's machine can be without.
const withClient = existsSync('/usr/bin/mbpoll') ? test : test.skip;
const withServer = ['pymodbus', 'serial_asyncio'].every((name) => existsSync(`/usr/lib/python3/dist-packages/${name}`))
  ? test
  : test.skip;

withClient('an ordinary Modbus client reads and sets the stand-in', async () => {
  const bench = new SimulatedBench(
    shippedProfiles.find((p) => p.battery && !p.generic)!,
    [],
    now,
  );
  const simulated = new SimulatedRegisterSupply(bench, { framing: 'tcp' });
  const port = await simulated.listen();
  closing.push(() => simulated.close());
  const mbpoll = async (...args: string[]): Promise<string> =>
    (await promisify(execFile)('/usr/bin/mbpoll', ['-1', '-0', '-p', String(port), ...args])).stdout;
  await mbpoll('-r', '1', '127.0.0.1', '1500');
  await mbpoll('-r', '0', '127.0.0.1', '385');
  await mbpoll('-r', '9', '127.0.0.1', '1');
  expect(simulated.panel).toMatchObject({ on: true, setV: 3.85, limitA: 1.5 });
  const read = await mbpoll('-r', '0', '-c', '4', '127.0.0.1');
  expect(/\[0\]:\s+385\b/.test(read) && /\[1\]:\s+1500\b/.test(read)).toBe(true);
  expect(Number(/\[2\]:\s+(\d+)/.exec(read)?.[1])).toBeCloseTo(385, -1);
  await expect(mbpoll('-r', '200', '127.0.0.1', '1')).rejects.toThrow(/[Ii]llegal data address/);
});

/** Fifty registers that anybody may write, at a foreign server. */
const foreign = `
import sys
from pymodbus.datastore import ModbusSequentialDataBlock, ModbusServerContext, ModbusSlaveContext
from pymodbus.server import StartTcpServer
block = ModbusSequentialDataBlock(0, [0] * 50)
block.setValues(11, [4242])
slave = ModbusSlaveContext(hr=block, zero_mode=True)
StartTcpServer(context=ModbusServerContext(slaves={1: slave}, single=False), address=("127.0.0.1", int(sys.argv[1])))
`;

withServer('our client sets and reads a foreign server', async () => {
  const port = await freePort();
  const child = spawn('/usr/bin/python3', ['-c', foreign, String(port)], { stdio: 'ignore' });
  closing.push(() => void child.kill('SIGKILL'));
  const supply = supplyFor(tcpTransport('127.0.0.1', port), usualRegisters, { timeoutMs: 500 });
  await until(() => supply.open().catch(() => null), 'the server');
  closing.push(() => supply.close());
  await supply.set(3.85, 1.5);
  await supply.watchItself({ volts: 4.2, amps: 2, silentS: 3 });
  await supply.switchOutput(true);
  expect(await supply.settings()).toEqual({ volts: 3.85, limitA: 1.5, on: true });
  expect(await supply.measure()).toEqual({ volts: 0, amps: 0 });
  await supply.switchOutput(false);
  expect(await supply.mode()).toBe('off');
  const far = { ...usualRegisters.volts, register: 200 };
  const other = supplyFor(tcpTransport('127.0.0.1', port), { ...usualRegisters, volts: far });
  await expect(other.open()).rejects.toThrow('the instrument refused: exception 2, illegal data address');
});

async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
  const address = server.address();
  await new Promise((resolve) => server.close(resolve));
  return typeof address === 'object' && address ? address.port : 0;
}
