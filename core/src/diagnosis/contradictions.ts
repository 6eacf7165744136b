import { placeName, type Action } from '../case/index.ts';
import { isSplit, sameAssembly, senseOf, type History } from '../observation/index.ts';
import { clipText } from '../quantity/index.ts';

/** What in a case cannot be as it was entered, each in a sentence with its place. All the rest is weighed as usual. */
export function contradictionsIn(history: History): string[] {
  return [...movedTwice(history), ...netsApart(history), ...backInTime(history)];
}

const backIn = (action: Action): boolean =>
  action.with === 'own' || action.kind === 'plug' || action.kind === 'reconnect';

/** Boards that are taken apart again, and things that go back in without having come out. */
function movedTwice({ value, assemblies }: History): string[] {
  return value.actions.flatMap((action, k): string[] => {
    const name = clipText(action.target || action.unit || 'it');
    const wasOut = value.runs.some((r) => r.setup.unplugged.some((u) => placeName(u) === placeName(action.target)));
    if (action.byItself || wasOut || !sameAssembly(assemblies.after(k), assemblies.after(k + 1))) return [];
    if (isSplit(action)) return [`Change ${action.id} takes the boards apart, but they already are.`];
    return backIn(action) ? [`Change ${action.id} puts ${name} back, but no entry says that it was taken out.`] : [];
  });
}

/** Places that were said to be on one net, and that a meter tells apart in one state of the device. */
function netsApart({ value, epochOf }: History): string[] {
  const netOf = new Map(
    value.places.flatMap((p) => (p.net === undefined ? [] : [[placeName(p.where), p.net] as const])),
  );
  const found = value.readings.flatMap((reading) => {
    const net = netOf.get(placeName(reading.where));
    const sense = senseOf(reading, value.device.expect);
    return net !== undefined && sense.of === 'ground' && (sense.word === 'short' || sense.word === 'normal')
      ? [{ where: reading.where, net, isShort: sense.word === 'short', epoch: epochOf(reading.after) }]
      : [];
  });
  return found.flatMap((a) => {
    const b = a.isShort ? found.find((x) => !x.isShort && x.net === a.net && x.epoch === a.epoch) : undefined;
    return b
      ? [
          `Net ${a.net}: ${clipText(a.where)} reads short but ${clipText(b.where)} does not, so they are probably not on the same net.`,
        ]
      : [];
  });
}

/** Entries that are dated before the change that they follow. */
function backInTime({ value }: History): string[] {
  const dated = new Map(value.actions.map((a) => [a.id, a.at]));
  const isBefore = (at: string | undefined, than: string | undefined): boolean =>
    at !== undefined && than !== undefined && Date.parse(at) < Date.parse(than);
  const lists = [
    ...value.runs.map((r) => ({ name: `Run ${r.id}`, ...r })),
    ...value.checks.map((c, k) => ({ name: `Check ${k + 1}`, ...c })),
    ...value.readings.map((r, k) => ({ name: `Reading ${k + 1}`, ...r })),
    ...value.injections.map((i) => ({ name: `Injection ${i.id}`, ...i })),
  ];
  const entries = lists.flatMap(({ name, at, after }) =>
    after !== null && isBefore(at, dated.get(after))
      ? [`${name} is dated before change ${after}, but is listed after it.`]
      : [],
  );
  const changes = value.actions.flatMap((action, k) => {
    const before = value.actions.slice(0, k).findLast((a) => a.at !== undefined);
    return before && isBefore(action.at, before.at)
      ? [`Change ${action.id} is dated before change ${before.id}, but is listed after it.`]
      : [];
  });
  return [...changes, ...entries];
}
