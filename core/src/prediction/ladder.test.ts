import { compileProfile, makeWorkspace, parseFault, shippedProfiles, type Profile } from '../twin/index.ts';
import { firstOnLadder } from './ladder.ts';
import { Trial } from './trial.ts';

const full = shippedProfiles.filter((p) => !p.generic);
const laptop = full.find((p) => p.class === 'laptop') as Profile;

function trialOf(profile: Profile, spec: string): Trial {
  const board = compileProfile(profile);
  return new Trial(board, [parseFault(profile, spec)], makeWorkspace(board));
}

describe('what walking the rails finds first', () => {
  const converterOf = (profile: Profile, rail: string) =>
    profile.converters.find((c) => c.to.includes(rail) && c.kind !== 'charger');

  test.each(full.map((p) => [p.id, p] as const))('%s: nothing on a healthy board', (_, profile) => {
    expect(firstOnLadder(trialOf(profile, 'none'), 'rail-voltages', 'own')).toBe('all rails are up');
    expect(firstOnLadder(trialOf(profile, 'none'), 'diode-readings', 'own')).toBe('no rail is low to ground');
  });
  test('a hard short is found to ground on its own rail', () => {
    for (const profile of full)
      for (const rail of profile.rails.filter((r) => r.state === 'run' || r.state === 'S0'))
        expect(firstOnLadder(trialOf(profile, `short:${rail.id}=0.05`), 'diode-readings', 'own')).toBe(
          `low to ground: ${rail.name}`,
        );
  });
  test('a dead converter leaves its rail, or one below that hangs on it, missing', () => {
    let told = 0;
    for (const rail of laptop.rails.filter((r) => r.state === 'S5' || r.state === 'S3' || r.state === 'S0')) {
      const converter = converterOf(laptop, rail.id);
      if (!converter || converter.to.length > 1) continue;
      const found = firstOnLadder(trialOf(laptop, `dead:${converter.id}`), 'rail-voltages', 'own');
      expect(found).toMatch(/^first missing: /);
      told += Number(found === `first missing: ${rail.name}`);
    }
    expect(told).toBeGreaterThan(3);
  });
  test('under a generic profile the circuit stands for the rail', () => {
    const rail = laptop.rails.find((r) => r.circuit === 'rail.run') as Profile['rails'][number];
    expect(firstOnLadder(trialOf(laptop, `short:${rail.id}=0.05`), 'diode-readings', 'generic')).toBe(
      'low to ground: Run-state rail',
    );
  });
});
