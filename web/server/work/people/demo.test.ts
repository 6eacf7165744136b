import { signsInAutomatically } from './demo.ts';

describe('the demo signs in by itself', () => {
  const was = process.env.UMBRAL_DEMO;
  beforeEach(() => {
    process.env.UMBRAL_DEMO = 'yes';
  });
  afterAll(() => {
    process.env.UMBRAL_DEMO = was;
  });

  test('for this computer, by one of its own names', () => {
    for (const host of ['127.0.0.1:4300', 'localhost', '[::1]:4300'])
      expect(signsInAutomatically('127.0.0.1', host)).toBe(true);
    expect(signsInAutomatically('::1', 'localhost:4300')).toBe(true);
  });

  test.each([
    ['10.0.0.7', '127.0.0.1:4300'],
    ['127.0.0.1', 'bench.example'],
    ['127.0.0.1', 'localhost.evil.example'],
    ['127.0.0.1.evil', 'localhost'],
    [null, 'localhost'],
    ['127.0.0.1', null],
  ])('not for %p that asks for %p, as behind a proxy', (address, host) =>
    expect(signsInAutomatically(address, host)).toBe(false),
  );

  test('and nowhere but in the demo', () => {
    process.env.UMBRAL_DEMO = '';
    expect(signsInAutomatically('127.0.0.1', 'localhost')).toBe(false);
  });
});
