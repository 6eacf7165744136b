import { createKeyRegistry, keptForMs } from './key-registry';

function setUp() {
  let time = 0;
  const acted: string[] = [];
  const registry = createKeyRegistry(
    () => undefined,
    () => time,
  );
  const bind = (key: string, as = key): (() => void) => registry.add({ key, what: as, act: () => acted.push(as) });
  return { registry, bind, acted, wait: (ms: number) => (time += ms) };
}

test('the binding added last wins, and the one before it is back when it goes', () => {
  const { registry, bind, acted } = setUp();
  bind('p', 'models');
  const takeAway = bind('p', 'power pressed');
  expect(registry.press('p')).toBe(true);
  takeAway();
  registry.press('p');
  expect(acted).toEqual(['power pressed', 'models']);
});

test('a key pressed before anything is bound to it acts when something is, once', () => {
  const { registry, bind, acted, wait } = setUp();
  expect(registry.press('l')).toBe(false);
  wait(keptForMs);
  bind('r');
  bind('l');
  bind('l');
  expect(acted).toEqual(['l']);
});

test.each([
  ['too long ago', ({ wait }: ReturnType<typeof setUp>) => void wait(keptForMs + 1)],
  ['another key followed', ({ registry }: ReturnType<typeof setUp>) => void registry.press('k')],
  ['something else was done', ({ registry }: ReturnType<typeof setUp>) => registry.forget()],
])('a kept key is forgotten: %s', (_, meanwhile) => {
  const set = setUp();
  set.registry.press('l');
  meanwhile(set);
  set.bind('l');
  expect(set.acted).toEqual([]);
});

test('a list of keys is told of every change', () => {
  const told: number[] = [];
  const registry = createKeyRegistry((bindings) => told.push(bindings.length));
  const takeAway = registry.add({ key: 'a', what: 'arm', act: () => undefined });
  registry.add({ key: 'o', what: 'output', act: () => undefined });
  takeAway();
  expect(told).toEqual([1, 2, 1]);
  expect(registry.list().map((b) => b.key)).toEqual(['o']);
});
