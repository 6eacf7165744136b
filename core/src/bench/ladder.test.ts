import fc from 'fast-check';
import type { Reading } from '../case/index.ts';
import { railsOf, Trial } from '../prediction/index.ts';
import { randomTree } from '@umbral/tools';
import { compileProfile, healthy, makeWorkspace, parseFault, shippedProfiles } from '../twin/index.ts';
import { contradictionsOf, findingOf, needsOf, rungsOf, type RailFinding } from './ladder.ts';

const anyTree = fc.tuple(fc.integer({ min: 3, max: 40 }), fc.nat(1000)).map(([n, seed]) => randomTree(n, seed));
const full = shippedProfiles.filter((p) => !p.generic);

test('what a rail needs is closed, without itself, and never goes round in a circle', () => {
  fc.assert(
    fc.property(anyTree, (profile) => {
      const needs = needsOf(compileProfile(profile));
      needs.forEach((set, rail) => {
        expect(set.has(rail)).toBe(false);
        for (const below of set) {
          expect(needs[below].has(rail)).toBe(false);
          for (const deeper of needs[below]) expect(set.has(deeper)).toBe(true);
        }
      });
    }),
    { numRuns: 60 },
  );
});

test('no start-up of the twin, with whatever fault, breaks what a rail needs', () => {
  fc.assert(
    fc.property(fc.constantFrom(...full), fc.nat(10_000), (profile, pick) => {
      const board = compileProfile(profile);
      const faults = [
        ...profile.converters.map((c) => `dead:${c.id}`),
        ...profile.parts.map((p) => `mute:${p.id}`),
        ...profile.rails.map((r) => `short:${r.id}=0.05`),
      ];
      const fault = parseFault(profile, faults[pick % faults.length]);
      const start = new Trial(board, [fault], makeWorkspace(board)).bench();
      const held = start?.segments.at(-1);
      const share = profile.rails.map((r, k) => (held?.railV[k] ?? 0) / r.nominalV);
      needsOf(board).forEach((needs, rail) => {
        if (share[rail] < 0.9) return;
        // What feeds it may sag, and a regulator makes up for that; it is never gone.
        for (const below of needs) expect(share[below]).toBeGreaterThan(0.25);
      });
    }),
    { numRuns: 150 },
  );
});

const anyFindings = fc
  .tuple(
    anyTree,
    fc.array(fc.constantFrom<RailFinding | null>('present', 'missing', null), { minLength: 41, maxLength: 41 }),
  )
  .map(([profile, words]) => ({ board: compileProfile(profile), found: words.slice(0, profile.rails.length) }));

test('implied states are consistent on any tree: nothing measured is overruled, nothing is implied both ways', () => {
  fc.assert(
    fc.property(anyFindings, ({ board, found }) => {
      const needs = needsOf(board);
      for (const rung of rungsOf(needs, found)) {
        if (found[rung.rail] !== null) expect(rung.implied).toBeNull();
        if (rung.implied === 'present') expect(needs[rung.from ?? -1].has(rung.rail)).toBe(true);
        if (rung.implied === 'explained') {
          expect(needs[rung.rail].has(rung.from ?? -1)).toBe(true);
          expect(found[rung.from ?? -1]).toBe('missing');
        }
      }
    }),
    { numRuns: 100 },
  );
});

test('findings of a real unit never contradict', () => {
  fc.assert(
    fc.property(fc.constantFrom(...full), fc.nat(1000), (profile, pick) => {
      const board = compileProfile(profile);
      const converter = profile.converters[pick % profile.converters.length];
      const told = railsOf(new Trial(board, [parseFault(profile, `dead:${converter.id}`)], makeWorkspace(board)));
      const found = (told?.after ?? []).map((w): RailFinding =>
        w === 'up' ? 'present' : w === 'down' ? 'missing' : 'swinging',
      );
      const needs = needsOf(board);
      const none = found.map(() => null);
      expect(contradictionsOf(board, needs, found, none, none, false)).toEqual([]);
    }),
    { numRuns: 60 },
  );
});

describe('what a voltage says', () => {
  const volts = (value: number | null, swing: Reading['swing'] = null) => ({ mode: 'voltage' as const, value, swing });
  test.each<[number, RailFinding]>([
    [1.8, 'present'],
    [1.6, 'present'],
    [1.2, 'low'],
    [0.1, 'missing'],
  ])('%f V on 1.8 V', (value, finding) => {
    expect(findingOf(volts(value), 1.8)).toBe(finding);
  });
  test('swinging is a finding of its own', () => {
    expect(findingOf(volts(1, { low: 0, high: 1.8 }), 1.8)).toBe('swinging');
    expect(findingOf(volts(1.79, { low: 1.78, high: 1.8 }), 1.8)).toBe('present');
  });
  test('other modes say nothing here', () => {
    expect(findingOf({ mode: 'diode', value: 0.4, swing: null }, 1.8)).toBeNull();
    expect(findingOf(volts(null), 1.8)).toBeNull();
  });
});

describe('two findings that cannot both be so', () => {
  const [profile] = full;
  const board = compileProfile(profile);
  const needs = needsOf(board);
  const top = needs.reduce((most, set, k) => (set.size > needs[most].size ? k : most), 0);
  const [below] = needs[top];
  const found = profile.rails.map((_, k): RailFinding | null =>
    k === top ? 'present' : k === below ? 'missing' : null,
  );
  const volts = profile.rails.map((r, k) => (k === top ? r.nominalV : 0));
  const asked = (before: boolean | null, after: boolean | null) =>
    profile.rails.map((_, k) => (k === top ? after : k === below ? before : null));

  test('measured before and after power-on', () => {
    const [one] = contradictionsOf(board, needs, found, asked(false, true), volts, false);
    expect(one).toMatchObject({ present: top, missing: below, likeliest: 'other-phase' });
    expect(one.says).toContain(profile.rails[below].name);
  });
  test('a device that starts over and over', () => {
    expect(contradictionsOf(board, needs, found, asked(true, true), volts, true)[0].likeliest).toBe('restarts');
  });
  test('fed backwards: it stands, but low', () => {
    const low = found.map((f, k) => (k === top ? 'low' : f));
    const half = volts.map((v) => v / 2);
    expect(contradictionsOf(board, needs, low, asked(true, true), half, false)[0].likeliest).toBe('backfed');
  });
  test('else the probe slipped', () => {
    expect(contradictionsOf(board, needs, found, asked(null, true), volts, false)[0].likeliest).toBe('slipped');
  });
  test('one that stands over several missing ones is one question', () => {
    const many = profile.rails.map((_, k): RailFinding | null =>
      k === top ? 'present' : needs[top].has(k) ? 'missing' : null,
    );
    const told = contradictionsOf(board, needs, many, asked(true, true), volts, false);
    expect(told.filter((c) => c.present === top)).toHaveLength(1);
  });
});

test('a made-up tree of two hundred rails starts', () => {
  const board = compileProfile(randomTree(200, 3));
  const told = railsOf(new Trial(board, [healthy], makeWorkspace(board)));
  expect(told?.after.filter((w) => w === 'up').length).toBeGreaterThan(150);
});
