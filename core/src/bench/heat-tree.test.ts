import { Trial } from '../prediction/index.ts';
import { compileProfile, makeWorkspace, parseFault, shippedProfiles } from '../twin/index.ts';
import { heatTree, levelsOf, readHeat } from './heat-tree.ts';

const phone = shippedProfiles.find((p) => p.id === 'tallgate-moorcall-2') ?? shippedProfiles[0];
const board = compileProfile(phone);

function heatWith(spec: string) {
  const trial = new Trial(board, [parseFault(phone, spec)], makeWorkspace(board));
  const [sick, healthy] = [trial.bench(), trial.healthyTwin().bench()];
  if (!sick || !healthy) throw new Error('the phone has a battery feed');
  return heatTree(board, sick, healthy, 3.5);
}

test('every rail lies deeper than what feeds it', () => {
  const level = levelsOf(board);
  board.to.forEach((outs, c) => {
    for (const rail of outs)
      if (board.feeding[rail].length === 1) expect(level[rail]).toBeGreaterThan(level[board.from[c]]);
  });
});

test('the watts of a short stand at its rail, far above a good unit', () => {
  const [first] = heatWith('short:main=1');
  expect(first.id).toBe('main');
  expect(first.watts).toBeGreaterThan(5 * Math.max(first.healthyW, 0.1));
});

test('a good unit at rest warms nowhere worth telling', () => {
  expect(heatWith('none')).toEqual([]);
});

describe('what was seen warm', () => {
  const converter = phone.converters.find((c) => c.from === 'main' && c.to.includes('io')) ?? phone.converters[0];

  test('the last down the tree is the place, what lies on the way only carries', () => {
    const read = readHeat(board, [converter.id, 'io'], 'one');
    expect(read.last?.id).toBe('io');
    expect(read.onTheWay.map((p) => p.id)).toEqual([converter.id]);
    expect(read.says).toMatch(/only carries/);
    expect(read.says).toMatch(/suggests damage/);
  });

  test('a board at the end of a flex lies behind its rail', () => {
    const [board1] = phone.peripherals;
    const read = readHeat(board, [board1.rail, board1.id], 'one');
    expect(read.last).toMatchObject({ id: board1.id, kind: 'peripheral' });
    expect(read.onTheWay.map((p) => p.id)).toEqual([board1.rail]);
  });

  test('a place on another branch is told apart', () => {
    const elsewhere = phone.converters.find((c) => c.from === 'main' && !c.to.includes('io') && c.id !== converter.id);
    const read = readHeat(board, [elsewhere?.id ?? '', 'io'], null);
    expect(read.onTheWay).toEqual([]);
    expect(read.says).toMatch(/not in that path/);
  });

  test('even warmth is work; nothing named is said', () => {
    const core = phone.loads.find((l) => l.rail === 'core')?.id ?? phone.loads[0].id;
    expect(readHeat(board, [core], 'uniform').says).toMatch(/Judge the processor by its rails/);
    expect(readHeat(board, ['not there'], null)).toMatchObject({ last: null, onTheWay: [] });
  });
});
