'use client';

import Link from '@/ui/link';
import { useState } from 'react';
import { planInjection } from '@umbral/core/injection';
import { formatPercent, formatResistance, parseQuantity } from '@umbral/core/words';
import { Hazard } from '@/ui/parts';
import { usePreference } from '@/ui/preference';
import { SuspectList } from '@/features/suspects/suspect-list';
import { HeatNote } from './heat-note';
import { HeatTree } from './heat-tree';
import { PlanSteps, type SeenHeat } from './plan-steps';
import type { LocateView } from './view';
import { SelectField, TextField } from '@/ui/kit/fields';

/** Locating a short: what voltage may stand on the rail, what should flow and warm, and what was seen to warm. */
export function LocateBoard({ view }: { view: LocateView }) {
  const [railId, setRailId] = useState(view.rails[0]?.id ?? '');
  const rail = view.rails.find((r) => r.id === railId) ?? view.rails[0];
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [leads, setLeads] = usePreference('supply-leads-ohm', '0.2');
  const [school, setSchool] = useState<string>(view.school);
  const [seen, setSeen] = useState<SeenHeat | null>(null);
  const shown = typed[rail?.id ?? ''] ?? (rail?.ohm === null || rail === undefined ? '' : formatResistance(rail.ohm));
  const ohm = parseQuantity(shown, 'resistance');
  const leadsRead = parseQuantity(leads, 'resistance');
  const problem = problemOf(shown, ohm, leadsRead);
  const plan =
    rail && ohm.ok && leadsRead.ok && problem === null
      ? planInjection({
          ...rail.facts,
          ohm: ohm.value,
          leadsOhm: leadsRead.value,
          school: school === 'rated' ? 'rated' : 'step',
        })
      : null;
  if (!rail) return <p className="card mt-3">This model has no rails.</p>;
  return (
    <div className="mt-2 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_360px]">
      <div className="grid min-w-0 content-start gap-2">
        {view.hazards.map((h) => (
          <Hazard key={h}>{h}</Hazard>
        ))}
        <section aria-label="Rail and supply" className="card grid gap-2 p-3">
          <div className="grid gap-3 sm:grid-cols-[minmax(0,2fr)_minmax(0,1fr)_minmax(0,1fr)_minmax(0,1.2fr)]">
            <SelectField label="Rail" value={rail.id} onValue={setRailId}>
              {view.rails.map((r) => (
                <option key={r.id} value={r.id}>
                  {r.name}
                  {r.shorted >= 0.01 ? `, ${formatPercent(r.shorted)}` : ''}
                </option>
              ))}
            </SelectField>
            <TextField
              label="To ground"
              placeholder="0.4 ohm"
              value={shown}
              onValue={(value) => setTyped({ ...typed, [rail.id]: value })}
            />
            <TextField label="Supply leads" value={leads} onValue={setLeads} />
            <SelectField label="Method" value={school} onValue={setSchool}>
              <option value="step">low, then in steps</option>
              <option value="rated">rated voltage, limited</option>
            </SelectField>
          </div>
          {problem && <p className="text-sm text-decide">{problem}</p>}
          {!view.isOwn && (
            <p className="text-sm text-muted">
              This model has no profile. A rail&apos;s voltage comes from measurements, its name or the intake. If it is
              unknown, the limit is 1 V.
            </p>
          )}
        </section>
        {plan && ohm.ok && leadsRead.ok && (
          <PlanSteps
            key={`${rail.id} ${school}`}
            jobId={view.jobId}
            rail={rail}
            plan={plan}
            ohm={ohm.value}
            leadsOhm={leadsRead.value}
            school={school}
            onHeat={setSeen}
          />
        )}
        <HeatNote key={`${rail.id} ${seen?.hot ?? ''} ${seen?.setV ?? ''}`} view={view} rail={rail} seen={seen} />
      </div>
      <div className="grid min-w-0 content-start gap-3">
        <section aria-label="Suspects" className="card p-3">
          <h2 className="font-bold">Suspects</h2>
          <SuspectList suspects={view.suspects} />
          <p className="mt-2 flex flex-wrap gap-2">
            <Link className="button min-h-9" href={`/jobs/${view.jobId}/measure`}>
              Measure
            </Link>
            <Link className="button min-h-9" href={`/jobs/${view.jobId}`}>
              Go to the job
            </Link>
          </p>
        </section>
        {view.heat && <HeatTree heat={view.heat} />}
      </div>
    </div>
  );
}

type Read = ReturnType<typeof parseQuantity>;

function problemOf(shown: string, ohm: Read, leads: Read): string | null {
  if (shown.trim() === '')
    return 'Measure this rail to ground first, unpowered, with the lead resistance subtracted. The plan uses this value.';
  if (!ohm.ok) return ohm.error;
  if (ohm.value < 0) return 'A resistance cannot be below zero. Is there still a voltage on the rail?';
  if (!leads.ok) return `Supply leads: ${leads.error}`;
  return leads.value < 0 || leads.value > 5
    ? 'Supply leads: expected up to 5 ohm. Touch them together and measure.'
    : null;
}
