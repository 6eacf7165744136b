import { actionKinds, circuitIds, type ActionKind } from '../catalogue/index.ts';
import { type Action } from '../case/index.ts';
import { historyOf } from '../diagnosis/index.ts';
import { actionOf } from '../testing/cases.ts';
import { deadUnits, ownProfileUnit } from '../testing/scenes.ts';
import { faultStates, reachOf, spontaneousOf, stateIndex, transitionOf, type History } from './index.ts';

const historyWith = (actions: Action[] = [], scene = deadUnits[4]): History =>
  historyOf({ ...scene.value, actions }, scene.shapes).history;
const hypothesisOf = ({ space }: History, circuit: string): number =>
  space.hypotheses.findIndex((h) => h.circuit === circuit);

const histories = [historyWith(), historyWith([], ownProfileUnit())];

test.each(actionKinds)('%s: from every state of every hypothesis the ways sum to one', (kind) => {
  for (const history of histories) {
    for (const circuit of [null, 'rail.run', 'display'] as const) {
      const transition = transitionOf(history, actionOf('a1', kind, { circuit }));
      history.space.hypotheses.forEach((_, h) => {
        for (const row of transition(h, 0)) {
          expect(row.every((p) => p >= 0)).toBe(true);
          expect(row.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
        }
      });
    }
  }
});

test('what changes by itself sums to one, and contacts change more than others', () => {
  const history = historyWith();
  for (const afterBurn of [false, true])
    circuitIds.forEach((_, h) => {
      for (const row of spontaneousOf(history, afterBurn)(h)) expect(row.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
    });
  const stays = (circuit: string): number =>
    spontaneousOf(history, false)(hypothesisOf(history, circuit))[stateIndex.same][stateIndex.same];
  expect(stays('input.port')).toBeLessThan(stays('core.storage'));
});

describe('how surely a change reaches the fault', () => {
  const worksAfter = (kind: ActionKind, changed: string, at: string, over: Partial<Action> = {}): number => {
    const history = historyWith();
    const action = actionOf('a1', kind, { circuit: changed as Action['circuit'], ...over });
    return transitionOf(history, action)(hypothesisOf(history, at), 0)[stateIndex.same][stateIndex.works];
  };
  test('a replaced part works where it was the fault, and hardly elsewhere', () => {
    expect(worksAfter('replace', 'radio', 'radio')).toBeGreaterThan(0.5);
    expect(worksAfter('replace', 'radio', 'pmic')).toBeLessThan(0.02);
  });
  test('a donor part, a reworked joint, another suffix are weaker tests', () => {
    expect(worksAfter('replace', 'radio', 'radio', { confounders: ['donor'] })).toBeLessThan(
      worksAfter('replace', 'radio', 'radio'),
    );
  });
  test('what is taken off takes what it feeds with it', () => {
    const { direct, fed } = reachOf(historyWith(), actionOf('a1', 'remove', { circuit: 'charge.charger' }));
    const history = historyWith();
    expect(direct[hypothesisOf(history, 'charge.charger')]).toBeGreaterThan(0.5);
    expect(fed[hypothesisOf(history, 'rail.main')]).toBeGreaterThan(0);
    expect(fed[hypothesisOf(history, 'display')]).toBe(0);
  });
  test('nothing reaches a healthy device or a cause that is not known', () => {
    const history = historyWith();
    const { direct } = reachOf(history, actionOf('a1', 'clean', { circuit: null }));
    expect(direct[history.space.none]).toBe(0);
    expect(direct[history.space.unmodelled]).toBe(0);
  });
});

test('the part that carried the fault brings it back, another one does not', () => {
  const off = actionOf('a1', 'remove', { circuit: 'rail.boost', target: 'filter beside the amplifier' });
  const on = actionOf('a2', 'refit', { circuit: 'rail.boost', target: 'filter beside the amplifier', undoes: 'a1' });
  const history = historyWith([off, on]);
  const again = (circuit: string): number =>
    transitionOf(history, on)(hypothesisOf(history, circuit), 0)[stateIndex.works][stateIndex.same];
  expect(again('rail.boost')).toBeGreaterThan(0.05);
  expect(again('rail.run')).toBe(0);
});

test('a thing that is unplugged or put back takes its fault with it: the fault itself stays as it is', () => {
  const off = actionOf('a1', 'disconnect', { circuit: 'display' });
  const on = actionOf('a2', 'refit', { circuit: 'display', undoes: 'a1' });
  const history = historyWith([off, on]);
  const place = history.assemblies.things.findIndex((t) => t.id === 'display');
  const stays = (action: Action): number =>
    transitionOf(history, action)(hypothesisOf(history, 'display'), place)[stateIndex.same][stateIndex.same];
  expect(stays(off)).toBe(1);
  expect(stays(on)).toBeGreaterThan(0.9);
  expect(faultStates).toHaveLength(5);
});
