import { suspectHeat, type HotPlace, type Profile, type RailFacts } from '@umbral/core';
import { circuitNames } from '@umbral/core/words';
import { hazardsOf, type MeasureView } from '@/features/measure/view';
import { suspectsOf } from '@/features/suspects/suspects';
import { latestAssessment } from '@/server/work/jobs/jobs';
import { jobNumber } from '@/features/words';
import { db } from '@/server/record/db';
import { profileOf } from '@/server/work/opened/locate';
import { loadBoardPlan } from '@/server/work/opened/measure';
import { loadPolicy } from '@/server/work/shop/policy';

export interface RailChoice {
  id: string;
  name: string;
  shorted: number;
  /** As last measured with the leads taken off; null where nobody measured. */
  ohm: number | null;
  facts: RailFacts;
  /** What can warm on it: the rail's own capacitors, what hangs on it, what makes it. */
  places: { id: string; name: string }[];
}

export interface LocateView {
  jobId: number;
  title: string;
  isOwn: boolean;
  hazards: string[];
  suspects: MeasureView['suspects'];
  rails: RailChoice[];
  /** How this shop puts a voltage on a short. */
  school: 'step' | 'rated';
  /** Where the leading suspect puts the power while the device holds, warmest first. */
  heat: { suspect: string; places: HotPlace[] } | null;
  /** Everything on the power tree that can be named as warm. */
  tree: { id: string; name: string }[];
}

/** Everything that the page for locating a short shows. */
export async function loadLocateView(jobId: number): Promise<LocateView> {
  const q = db();
  const { content, plan } = await loadBoardPlan(q, jobId);
  const { job } = content;
  const { profile, isOwn } = await profileOf(q, job);
  const rails = plan.rungs.map((r): RailChoice => {
    const { id, name, shorted, facts } = r;
    const ohm = r.resistance && !r.resistance.ol ? r.resistance.value : null;
    const own = isOwn ? placesOn(profile, id) : [];
    return { id, name, shorted, ohm, facts, places: [{ id, name: `${name}: a part straight on it` }, ...own] };
  });
  const suspect = plan.elements.find((e) => e.fault !== null && e.fault.kind !== 'none') ?? null;
  return {
    jobId,
    title: `Job ${jobNumber(jobId)} · ${job.label}`,
    isOwn,
    hazards: [
      ...hazardsOf(job.intake.batterySwollen && !job.intake.batteryIsolated, job.intake.liquid),
      'Injected current can burst parts and burn boards. Eye protection on, limit set first, a hand on Escape.',
      'Solvent and freeze spray catch fire. Keep away from heat and sparks, ventilate, wear gloves.',
    ],
    suspects: suspectsOf((await latestAssessment(q, jobId))?.result.circuits ?? []),
    school: (await loadPolicy(q)).injection,
    rails: rails.sort((a, b) => b.shorted - a.shorted),
    heat:
      isOwn && suspect?.fault
        ? { suspect: suspect.name, places: suspectHeat(profile, suspect.fault).slice(0, 8) }
        : null,
    tree: !isOwn
      ? []
      : [
          ...profile.converters.map(({ id, name }) => ({ id, name })),
          ...profile.rails.map(({ id, name }) => ({ id, name })),
          ...profile.loads.map((l) => ({
            id: l.id,
            name: `${l.name} (${circuitNames[l.circuit as keyof typeof circuitNames] ?? l.circuit})`,
          })),
        ],
  };
}

/** What can warm on a rail of the model's own profile: what hangs on it, and what makes it. */
function placesOn(profile: Profile, rail: string): { id: string; name: string }[] {
  return [
    ...profile.loads.filter((l) => l.rail === rail),
    ...profile.peripherals.filter((p) => p.rail === rail),
    ...profile.converters.filter((c) => c.from === rail || c.to.includes(rail)),
  ].map(({ id, name }) => ({ id, name }));
}
