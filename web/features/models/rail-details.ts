import {
  circuitNames,
  faultTypes,
  formatCurrent,
  formatFault,
  formatVoltage,
  kindsAt,
  parseFault,
  type CircuitId,
  type Profile,
} from '@umbral/core';

/** One element at a rail: what it is in a few words, and the faults that it can be started virtually with. */
interface ElementLine {
  id: string;
  name: string;
  says: string;
  faults: { value: string; words: string }[];
}

/** Everything a profile says about a rail and what touches it. */
export interface RailDetails {
  id: string;
  name: string;
  facts: string[];
  groups: { title: string; lines: ElementLine[] }[];
}

const circuit = (id: string): string => circuitNames[id as CircuitId] ?? id;
const reach = [
  'outside',
  'with the cover off',
  'with parts unplugged',
  'with the board out',
  'under a shield',
  'with the stack split',
];

const early = ['always', 'G3'];

/** What can be said about every rail of a profile, by the rail's id. */
export function railDetails(profile: Profile): Record<string, RailDetails> {
  return Object.fromEntries(
    profile.rails.map((rail): [string, RailDetails] => [
      rail.id,
      {
        id: rail.id,
        name: rail.name,
        facts: factsOf(profile, rail),
        groups: groupsOf(profile, rail).filter((g) => g.lines.length > 0),
      },
    ]),
  );
}

type Rail = Profile['rails'][number];

function factsOf(profile: Profile, rail: Rail): string[] {
  const stages = profile.stages.filter((s) => s.needs.some((n) => n.of === rail.id)).map((s) => s.name);
  const references = profile.references.filter((r) => r.where === rail.id);
  return [
    `${formatVoltage(rail.nominalV)}, ${early.includes(rail.state) ? 'always on' : `up from ${rail.state}`}`,
    `part of: ${circuit(rail.circuit)}`,
    rail.capacitors > 1 ? `${rail.capacitors} capacitors in parallel` : 'a single capacitor',
    `reached ${reach[rail.depth] ?? `at depth ${rail.depth}`}`,
    ...(rail.half === null ? [] : [`on the ${rail.half} board`]),
    ...(stages.length > 0 ? [`needed by: ${stages.join(', ')}`] : []),
    ...references.map((r) => `known-good board: ${r.value} ${r.mode === 'resistance' ? 'ohm' : 'V'} (${r.mode})`),
  ];
}

function groupsOf(profile: Profile, rail: Rail): RailDetails['groups'] {
  const railName = (id: string): string => profile.rails.find((r) => r.id === id)?.name ?? id;
  const line = ({ id, name }: { id: string; name: string }, says: (string | null)[]): ElementLine => ({
    id,
    name,
    says: says.filter((s) => s !== null).join(', '),
    faults: faultsAt(profile, id),
  });
  const converter = (c: Profile['converters'][number], way: string): ElementLine =>
    line(c, [c.kind, way, `up to ${formatCurrent(c.limitA)}`, circuit(c.circuit)]);
  const onRail = <T extends { rail: string | null }>(list: readonly T[]): T[] => list.filter((x) => x.rail === rail.id);
  const from = profile.converters.filter((c) => c.from === rail.id);
  const into = profile.converters.filter((c) => c.to.includes(rail.id));
  return [
    { title: 'The rail itself', lines: [line(rail, [])] },
    { title: 'Fed by', lines: into.map((c) => converter(c, `from ${railName(c.from)}`)) },
    { title: 'Feeds', lines: from.map((c) => converter(c, `to ${c.to.map(railName).join(', ')}`)) },
    {
      title: 'Powered by it',
      lines: [
        ...onRail(profile.loads).map((l) => line(l, [`at most ${formatCurrent(maxOf(l))}`, circuit(l.circuit)])),
        ...onRail(profile.parts).map((p) => line(p, [p.role.replace('-', ' '), circuit(p.circuit)])),
        ...onRail(profile.peripherals).map((p) => line(p, ['can be unplugged', circuit(p.circuit)])),
      ],
    },
  ];
}

function faultsAt(profile: Profile, id: string): ElementLine['faults'] {
  return kindsAt(profile, id).map((kind) => ({
    value: formatFault(parseFault(profile, `${kind}:${id}`)),
    words: faultTypes[kind].name,
  }));
}

/** The most that a load ever draws, bursts included, A. */
function maxOf(load: Profile['loads'][number]): number {
  return Math.max(0, ...Object.entries(load.amps).map(([level, a]) => a + (load.bursts[level] ?? 0)));
}
