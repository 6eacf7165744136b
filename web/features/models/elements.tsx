import { circuitNames, formatCurrent, formatSeconds, formatVoltage, type CircuitId, type Profile } from '@umbral/core';

const circuit = (id: string): string => circuitNames[id as CircuitId] ?? id;

/** The start-up sequence in words: what each stage waits for, and what happens if it does not come. */
export function Stages({ profile }: { profile: Profile }) {
  const all: { id: string; name: string }[] = [...profile.parts, ...profile.rails];
  const name = (id: string): string => all.find((x) => x.id === id)?.name ?? id;
  const otherwise = {
    hold: 'waits forever',
    off: 'switches off',
    restart: 'starts over',
    skip: 'continues without it',
  };
  return (
    <ol className="mt-2 grid gap-2 sm:grid-cols-2 xl:grid-cols-4">
      {profile.stages.map((s) => (
        <li key={s.id} className="rounded-b-lg border-t-[3px] border-edge bg-raised px-2.5 py-2 text-sm">
          <strong className="block text-base leading-snug">{s.name}</strong>
          <span className="text-muted">
            {s.state}, about {formatSeconds(s.seconds)}
          </span>
          <ul className="mt-1">
            {s.needs.map((n) => (
              <li key={n.of}>
                needs {name(n.of)}, else {otherwise[n.then]}
              </li>
            ))}
          </ul>
        </li>
      ))}
    </ol>
  );
}

/** Converters and switches with their figures. */
export function Converters({ profile }: { profile: Profile }) {
  const rail = (id: string): string => profile.rails.find((r) => r.id === id)?.name ?? id;
  const overload = { limit: 'stays in current limit', hiccup: 'retries', latch: 'stays off' };
  return (
    <div className="overflow-x-auto" tabIndex={0} role="group" aria-label="Converters and switches, scrolls sideways">
      <table className="w-full min-w-[760px] text-sm">
        <thead>
          <tr className="text-left text-muted">
            {['Element', 'Circuit', 'From', 'To', 'Limit', 'In overload', 'On with'].map((h) => (
              <th key={h} className="py-1 pr-3 font-medium">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {profile.converters.map((c) => (
            <tr key={c.id} className="border-t border-line">
              <td className="py-1 pr-3 font-semibold">
                {c.name} <span className="font-normal text-muted">{c.kind}</span>
              </td>
              <td className="py-1 pr-3">{circuit(c.circuit)}</td>
              <td className="py-1 pr-3">{rail(c.from)}</td>
              <td className="py-1 pr-3">{c.to.map(rail).join(', ')}</td>
              <td className="py-1 pr-3 whitespace-nowrap">{formatCurrent(c.limitA)}</td>
              <td className="py-1 pr-3">{overload[c.onOverload]}</td>
              <td className="py-1 pr-3">{c.enabledBy.join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** How the model is fed, in a few chips. */
export function feedChips(profile: Profile): string[] {
  return [
    ...(profile.battery ? [`battery ${formatVoltage(profile.battery.nominalV)}`] : []),
    ...profile.ports.map((p, k) => `port ${k + 1}: up to ${formatVoltage(p.contracts.at(-1) ?? 5)}`),
    ...(profile.dcIn ? [`DC input ${formatVoltage(profile.dcIn.volts)}`] : []),
    `${profile.rails.length} rails`,
    `${profile.converters.length} converters and switches`,
    ...(profile.rails.some((r) => r.half !== null) ? ['stacked boards'] : []),
  ];
}
