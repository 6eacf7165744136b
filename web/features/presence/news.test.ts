import type { JobNews } from '@/server/work/people/presence';
import { isForMe, wordsOf } from './news';

const by = (person: number | null, name = ''): NonNullable<JobNews['last']> => ({
  person,
  name,
  what: 'reading at coil 1',
  at: '2026-03-02T10:00:00.000Z',
});
const present = (...tabs: [string, number][]) => tabs.map(([tab, person]) => ({ tab, person, name: 'x', field: '' }));

describe('news of a job', () => {
  test('of somebody else are for this screen, and say who did what', () => {
    expect(isForMe({ last: by(2, 'Bram Sorley'), present: [] }, 1, 'a')).toBe(true);
    expect(wordsOf({ last: by(2, 'Bram Sorley') }, 1)).toBe('Bram Sorley: reading at coil 1');
  });
  test('of oneself are only where another tab of one’s own is open, and say nothing', () => {
    expect(isForMe({ last: by(1), present: present(['a', 1]) }, 1, 'a')).toBe(false);
    expect(isForMe({ last: by(1), present: present(['a', 1], ['b', 1]) }, 1, 'a')).toBe(true);
    expect(wordsOf({ last: by(1, 'Ottilie Fenn') }, 1)).toBe('');
  });
  test('of the application itself are shown without a name', () => {
    expect(isForMe({ last: by(null), present: [] }, 1, 'a')).toBe(true);
    expect(wordsOf({ last: by(null) }, 1)).toBe('');
    expect(isForMe({ last: null, present: [] }, 1, 'a')).toBe(false);
  });
});
