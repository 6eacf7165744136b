import {
  bareCase,
  describe as describeRun,
  plainAction,
  readTypedRun,
  seenRun,
  type Action,
  type SeenRun,
} from '@umbral/core';
import { pairToCompare } from './pair';

const action = (id: string): Action => ({
  ...plainAction,
  id,
  kind: 'replace',
  circuit: 'rail.run',
});
const dead = 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold';
const well = 'battery 4V limit 3A: 0 | prompt 0.1 0.5 1.2 0.6 1.1 0.4 0.9 hold';
const port = 'usb-c port 1 with-battery: 5V 0.1 0.35 hold';

function runs(lines: [line: string, after?: string, unplugged?: string][]): SeenRun[] {
  return lines.map(([line, after = null, unplugged], k) => {
    const { run, trace } = readTypedRun(line, `r${k + 1}`);
    const own = { ...run, after, setup: { ...run.setup, unplugged: unplugged ? [unplugged] : [] } };
    const value = bareCase({ class: 'phone' }, [own]);
    return seenRun(value, own, describeRun(value, own, trace, null));
  });
}

test('a run since the newest change stands beside the last of its setup before it, not beside the last of all', () => {
  const list = runs([[dead], [port], [well, 'a1']]);
  expect(pairToCompare({ actions: [action('a1')] }, list, null)).toEqual(['r1', 'r3']);
});

test('what was made with a part unplugged is not the state before', () => {
  const list = runs([[dead], [well, undefined, 'camera flex'], [well, 'a1']]);
  expect(pairToCompare({ actions: [action('a1')] }, list, null)).toEqual(['r1', 'r3']);
});

test('the newest of another setup gives way to one that has its like', () => {
  const list = runs([[dead], [well, 'a1'], [port, 'a1']]);
  expect(pairToCompare({ actions: [action('a1')] }, list, null)).toEqual(['r1', 'r2']);
  expect(pairToCompare({ actions: [action('a1')] }, list, 'r3')).toEqual(['r2', 'r3']);
});

test('without a change: like with like, else what came before; one run stands alone', () => {
  expect(pairToCompare({ actions: [] }, runs([[dead], [port], [dead]]), null)).toEqual(['r1', 'r3']);
  expect(pairToCompare({ actions: [] }, runs([[dead], [dead], [port]]), null)).toEqual(['r1', 'r2']);
  expect(pairToCompare({ actions: [] }, runs([[dead], [port]]), null)).toEqual(['r1', 'r2']);
  expect(pairToCompare({ actions: [] }, runs([[dead], [port]]), 'r1')).toEqual(['r1', 'r2']);
  expect(pairToCompare({ actions: [] }, runs([[dead]]), null)).toEqual(['r1']);
  expect(pairToCompare({ actions: [] }, [], null)).toEqual([]);
});
