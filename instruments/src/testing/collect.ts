import type { LiveSample } from '../instrument/index.ts';

/** What a source tells, kept. */
export function collect() {
  const samples: LiveSample[] = [];
  const gaps: { from: number; to: number; why: string }[] = [];
  const health: string[] = [];
  const whys: string[] = [];
  return {
    samples,
    gaps,
    health,
    whys,
    events: {
      sample: (s: LiveSample) => void samples.push(s),
      gap: (from: number, to: number, why: string) => void gaps.push({ from, to, why }),
      health: (h: string, why: string) => void (health.push(h), whys.push(why)),
    },
  };
}

export const inOrder = (samples: LiveSample[]): boolean => samples.every((s, k) => k === 0 || s.t > samples[k - 1].t);
