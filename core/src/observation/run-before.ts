import type { Action, Run } from '../case/index.ts';
import { sameAssembly } from './assembly.ts';
import type { History } from './kind.ts';
import { isAtRest, isHealthy, isUnasked, type SeenRun } from './observed-run.ts';

type Setup = Run['setup'];

/** Whether two parts of a setup can be the same: what nobody said fits anything. */
const fits = <T>(a: T | null, b: T | null): boolean => a === null || b === null || a === b;

/** Absent and disconnected are one thing to the current. */
const withoutBattery = (battery: Setup['battery']): Setup['battery'] =>
  battery === 'absent' ? 'disconnected' : battery;

/**
 * Whether two runs were made in one setup, as far as it was said: port, plug and set voltage may differ.
 *
 * @param isPackMoved whether the pack was swapped or unplugged between them: then it is what is compared
 */
export function sameSetup(a: Run, b: Run, isPackMoved = false): boolean {
  const [x, y] = [a.setup, b.setup];
  return (
    a.feed === b.feed &&
    a.quantity === b.quantity &&
    (isPackMoved || fits(withoutBattery(x.battery), withoutBattery(y.battery))) &&
    (x.assembly ?? 'assembled') === (y.assembly ?? 'assembled') &&
    fits(x.half, y.half) &&
    (x.deviceState === 'asleep') === (y.deviceState === 'asleep') &&
    (x.deviceState === 'running') === (y.deviceState === 'running')
  );
}

/**
 * The run that a later one is held against: the last before it in the same setup with nothing unplugged, of an earlier
 * state of the device where there is one. Null where none was made.
 */
export function earlierRun(
  { seen, epochOf, value }: Pick<History, 'seen' | 'epochOf' | 'value'>,
  after: SeenRun,
): SeenRun | null {
  const epoch = epochOf(after.run.after);
  const action = value.actions[epoch - 1];
  const named = action?.runBefore ? seen.find((s) => s.run.id === action.runBefore) : undefined;
  const movesPack = (a: Action): boolean => a.unit === 'pack' || a.circuit === 'battery.pack';
  const isAlike = ({ run }: SeenRun): boolean =>
    sameSetup(run, after.run, value.actions.slice(epochOf(run.after), epoch).some(movesPack));
  // What is back as it was is held against the device as it was.
  const undone = value.actions.findIndex((a) => a.id === action?.undoes);
  const until = undone < 0 ? epoch : undone + 1;
  const earlier = seen
    .slice(0, seen.indexOf(after))
    .filter((s) => isAlike(s) && epochOf(s.run.after) < epoch && s.run.setup.unplugged.length === 0);
  const asItWas = earlier.filter((s) => epochOf(s.run.after) < until);
  const candidates = asItWas.length > 0 ? asItWas : earlier;
  if (
    named &&
    isAlike(named) &&
    epochOf(named.run.after) < epoch &&
    !candidates.some((c) => epochOf(c.run.after) > epochOf(named.run.after))
  )
    return named;
  const asked = (s: SeenRun): boolean => s.shape.features.prompted === after.shape.features.prompted;
  const samePort = (s: SeenRun): boolean => (s.run.setup.port ?? 1) === (after.run.setup.port ?? 1);
  return (
    candidates.findLast((s) => asked(s) && samePort(s)) ??
    candidates.findLast(asked) ??
    // A press that was not made before says nothing of a press now, unless it is well now.
    (isHealthy(after) || !after.shape.features.prompted
      ? (candidates.at(-1) ?? null)
      : (candidates.findLast((s) => !isHealthy(s)) ?? null))
  );
}

/**
 * The last run before another in which the device failed the same way of use with the fault in it, in another state or put
 * together in another way. Null where there is none.
 *
 * @param isIn whether the thing in which the fault is thought to sit was in the device
 */
export function failedBefore(
  { seen, epochOf, assemblies, space }: Pick<History, 'seen' | 'epochOf' | 'assemblies' | 'space'>,
  after: SeenRun,
  isIn: (run: Run) => boolean,
): SeenRun | null {
  const now = assemblies.ofRun(after.run);
  const movesPack = assemblies.things.some((t) => t.id === 'pack');
  const candidates = seen
    .slice(0, seen.indexOf(after))
    // One that was entered late, of a state before the last change, follows nothing that came after it.
    .filter((s) => epochOf(s.run.after) <= epochOf(after.run.after))
    .filter((s) => sameSetup(s.run, after.run, movesPack) && !isHealthy(s) && isIn(s.run))
    .filter(
      (s) =>
        epochOf(s.run.after) !== epochOf(after.run.after) ||
        // A model's own twin is started with what was in and what was out.
        (space.closeness !== 'own' && !sameAssembly(assemblies.ofRun(s.run), now)),
    );
  const asked = (s: SeenRun): boolean => s.shape.features.prompted === after.shape.features.prompted;
  const samePort = (s: SeenRun): boolean => (s.run.setup.port ?? 1) === (after.run.setup.port ?? 1);
  const alike = candidates.findLast((s) => asked(s) && samePort(s)) ?? candidates.findLast(asked);
  // A device at rest says nothing of one that failed when it was asked to start; it does say that nothing is drawn unasked.
  return alike ?? (isAtRest(after) ? candidates.findLast(isUnasked) : candidates.at(-1)) ?? null;
}
