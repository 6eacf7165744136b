import {
  circuitsTaughtBy,
  circuitsTaughtIn,
  courseLessons,
  drawUnit,
  judgeAnswer,
  optionsOf,
  questionAgain,
  practicableCircuits,
  drawLessonRun,
  feedsOf,
  instrumentsOf,
  powerOn,
  unitSlip,
  withFigures,
  type LessonRun,
} from '../index.ts';
import { circuitAtFault } from './judge.ts';
import { compareReading, type Comparable } from '../../bench/index.ts';
import { circuitTypes, type CircuitId, type PatternId } from '../../catalogue/index.ts';
import { seededRandom } from '../../trace/index.ts';
import { shippedProfile, type Profile } from '../../twin/index.ts';
import { plainReading } from '../../case/index.ts';
import { senseOf } from '../../observation/index.ts';

/** Every question as it is asked first, and as it is asked again. */
const everyQuestion = courseLessons.flatMap((l) =>
  l.questions.flatMap((q, k) =>
    [0, 1, 2, 3].map((times) => ({ at: `${l.id} ${k + 1}, time ${times + 1}`, q: questionAgain(q, times) })),
  ),
);

test('twelve lessons, each with one idea, a picture, questions and units', () => {
  expect(courseLessons).toHaveLength(12);
  expect(new Set(courseLessons.map((l) => l.id)).size).toBe(12);
  for (const l of courseLessons) {
    expect(l.questions.length).toBeGreaterThanOrEqual(2);
    expect(l.units.length).toBeGreaterThanOrEqual(1);
    expect(l.points.length).toBeGreaterThanOrEqual(1);
  }
});

test.each(courseLessons.map((l) => [l.id, l] as const))(
  'the pictures of %s can be drawn, and say figures',
  (_, lesson) => {
    const drawn = drawLessonRun(lesson.example);
    for (const p of lesson.points) expect(withFigures(p.says, drawn)).not.toMatch(/[{}]|NaN/);
  },
);

test.each(everyQuestion.map(({ at, q }) => [at, q] as const))(
  '%s has one right answer, among those that can be given',
  (_, q) => {
    const options = optionsOf(q);
    if (options.length === 0) {
      const right = judgeAnswer(q, '1')?.right ?? '';
      expect(judgeAnswer(q, right)).toMatchObject({ isRight: true });
      expect(judgeAnswer(q, '9')).toMatchObject({ isRight: false });
      expect(judgeAnswer(q, 'many')).toBeNull();
      return;
    }
    expect(new Set(options).size).toBe(options.length);
    expect(options.filter((_o, k) => judgeAnswer(q, String(k))?.isRight)).toHaveLength(1);
    for (const bad of [String(options.length), '-1', '', 'yes']) expect(judgeAnswer(q, bad)).toBeNull();
  },
);

test('options stand by the alphabet, and no place is never the right one', () => {
  const places = new Set<number>();
  for (const { q } of everyQuestion) {
    const options = optionsOf(q);
    expect(options).toEqual([...options].sort((a, b) => a.localeCompare(b, 'en', { numeric: true })));
    if (options.length === 3) places.add(options.findIndex((_, k) => judgeAnswer(q, String(k))?.isRight));
  }
  expect(places).toEqual(new Set([0, 1, 2]));
});

test('a question with a number comes again with another one, and the same answer is no longer right', () => {
  const typed = courseLessons.flatMap((l) => l.questions).filter((q) => optionsOf(q).length === 0);
  expect(typed.length).toBeGreaterThan(5);
  for (const q of typed.filter((t) => !(t.kind === 'read' && t.quantity === 'volts'))) {
    const [first, again] = [questionAgain(q, 0), questionAgain(q, 1)];
    const right = judgeAnswer(first, '1')?.right ?? '';
    // A few milliamperes at rest are the same few in every unit.
    if (!/^\d mA$/.test(right)) expect(judgeAnswer(again, '1')?.right).not.toBe(right);
    expect(again.asks).not.toMatch(/[{}]/);
  }
});

test('what explains an answer says its figures', () => {
  for (const { q } of everyQuestion)
    expect(judgeAnswer(q, optionsOf(q).length > 0 ? '0' : '1')?.why).not.toMatch(/[{}]|NaN/);
});

test.each(courseLessons.flatMap((l) => l.units.map((u) => [l.id, u, l.example] as const)))(
  'the units of %s need it: %j',
  (_, unit, { feed, battery = true }) => {
    const profile = shippedProfile(unit.profile) as Profile;
    const possible = practicableCircuits(profile);
    for (const circuit of unit.circuits) {
      expect(possible).toContain(circuit);
      const { kinds, severity } = unit;
      const made = drawUnit({ profile, circuit, kinds, severity, seenOn: { feed, battery } }, seededRandom(2));
      expect(made.circuit).toBe(circuit);
      if (kinds) expect(made.faults.map((f) => kinds.includes(f.kind))).toEqual([true]);
    }
  },
);

test('every circuit is explained in the lesson that first needs it, and no unit asks for another', () => {
  const explained = courseLessons.flatMap(circuitsTaughtIn);
  expect(new Set(explained).size).toBe(explained.length);
  for (const lesson of courseLessons) {
    const taught = circuitsTaughtBy(lesson);
    for (const unit of lesson.units) for (const circuit of unit.circuits) expect(taught).toContain(circuit);
    // More than one to choose from, or the unit gives itself away.
    expect(taught.length).toBeGreaterThan(1);
    for (const circuit of taught) expect(circuitTypes[circuit].explains).not.toBe('');
  }
});

test.each(everyQuestion.map(({ at, q }) => [at, q] as const))(
  '%s says short where the rules say short, and leak where they say leak',
  (_, q) => {
    // To ground on a main, input or standby rail: up to 30 ohm is a short, above it a leak.
    const ohm =
      q.kind === 'reckon' ? q.of.ohm : 'run' in q ? Number(/^short:main=([\d.]+)$/.exec(q.run.fault)?.[1] ?? NaN) : NaN;
    if (Number.isNaN(ohm)) return;
    const said = `${q.asks} ${q.why}`;
    expect(said).not.toMatch(ohm <= 30 ? /\bleak/ : /\bshort\b/);
  },
);

/** Figures of a run beside those of the same device without a fault. Amperes, volts, watts. */
function figuresOf(run: LessonRun) {
  const { pattern, levels } = drawLessonRun(run);
  const healthy = drawLessonRun({ ...run, fault: 'none' }).levels.peak;
  const { before, peak, end } = levels;
  return { pattern, before, peak, end, endW: end.amps * end.volts, share: end.amps / healthy.amps };
}

type Figures = ReturnType<typeof figuresOf>;

/** The windows in which each pattern lies, as the rules of the bench give them; neighbours overlap softly. */
const windows: Partial<Record<PatternId, (f: Figures) => boolean>> = {
  'no-draw': ({ before, peak }) => before.amps < 0.005 && peak.amps < 0.005,
  'no-attach': ({ end }) => end.volts < 1 && end.amps < 0.005,
  'unraised-dark': ({ end }) => end.volts < 6 && end.amps < 0.04,
  'unraised-low': ({ end }) => end.volts < 6 && end.amps > 0.02 && end.amps < 0.3,
  'dark-hold': ({ endW }) => endW < 0.25,
  'standby-hold': ({ endW }) => endW > 0.2 && endW < 2.5,
  'partial-hold': ({ endW }) => endW > 2 && endW < 7,
  // A leak leaves the volts up; a short at the limit does not.
  'idle-drain': ({ before }) => before.amps > 0.005 && before.volts > 3.6,
  'draw-before-prompt': ({ before }) => before.amps > 0.02 && before.volts > 3.6,
  'limit-at-once': ({ before, end }) => before.volts < 2 && before.amps > 0.9 * end.amps,
  'surge-on-prompt': ({ before, peak }) => before.amps < 0.005 && peak.amps > 1,
  'stall-low': ({ share }) => share < 0.17,
  'stall-mid': ({ share }) => share > 0.13 && share < 0.65,
  'start-then-off': ({ peak, end }) => end.amps < 0.1 * peak.amps,
  'normal-start': ({ before, share }) => before.amps < 0.005 && share > 0.05,
};

const seenRuns = [
  ...courseLessons.map((l) => [`${l.id}, its picture`, l.example] as const),
  ...everyQuestion.flatMap(({ at, q }) => ('run' in q ? [[at, q.run] as const] : [])),
];

test.each(seenRuns)('%s lies in the window of its pattern', (_, run) => {
  const figures = figuresOf(run);
  expect({ ...figures, fits: windows[figures.pattern]?.(figures) ?? true }).toMatchObject({ fits: true });
});

test('most of the patterns that lessons show have a window', () => {
  const seen = new Set(seenRuns.map(([, run]) => drawLessonRun(run).pattern));
  expect([...seen].filter((id) => !windows[id]).length).toBeLessThanOrEqual(3);
});

/** The first suspects of the patterns that lessons ask circuits for, as technicians list them. */
const suspects: Partial<Record<PatternId, readonly CircuitId[]>> = {
  'surge-on-prompt': ['rail.run', 'core.supply', 'core.soc', 'rail.standby'],
  'stall-mid': ['core.storage', 'core.memory', 'firmware', 'charge.port-ic', 'core.soc'],
  'unraised-dark': ['usbc.controller', 'input.protection', 'rail.always-on', 'periph.board', 'charge.port-ic'],
  'unraised-low': ['mgmt', 'firmware', 'pmic', 'usbc.controller'],
};

test('a circuit that a lesson asks for by its run is a first suspect of that pattern', () => {
  for (const { at, q } of everyQuestion) {
    if (q.kind !== 'circuit') continue;
    const { pattern } = drawLessonRun(q.run);
    expect({ at, pattern, is: suspects[pattern]?.includes(circuitAtFault(q.run)) }).toMatchObject({ is: true });
  }
});

describe('readings in lessons mean what a reading at the bench means', () => {
  const reading = (text: string, mode: Comparable['mode']): Comparable => ({
    mode,
    value: text === 'OL' ? null : Number(text),
    ol: text === 'OL',
    redProbe: 'ground',
  });
  const asked = courseLessons.flatMap((l) => l.questions).filter((q) => / on a known-good board\b/.test(q.asks));

  test('there are some', () => expect(asked).toHaveLength(3));

  test.each(asked.map((q) => [q.asks, q] as const))('%s', (asks, q) => {
    const mode = /diode/.test(asks) ? 'diode' : 'resistance';
    const numbers = asks.match(/\d[\d.]*|OL/g) ?? [];
    const isGoodFirst = asks.indexOf('known-good') < asks.lastIndexOf(numbers[1]);
    const [first, second] = numbers.map((n) => reading(n, mode));
    const { word } = isGoodFirst ? compareReading(second, first) : compareReading(first, second);
    const said = q.kind === 'choose' ? q.options[q.right] : '';
    const meant = { alike: /Normal/, below: /Normal/, 'much lower': /short/i, short: /short/i, open: /Open/ };
    expect(said).toMatch(meant[word as keyof typeof meant]);
  });

  test('what may be fed into a rail is at most what it is made for', () => {
    const fed = courseLessons.flatMap((l) => l.questions).find((q) => /core rail is shorted/.test(q.asks));
    const made = Number(/A ([\d.]+) V core rail/.exec(fed?.asks ?? '')?.[1]);
    const [right, ...others] =
      fed?.kind === 'choose' ? [fed.options[fed.right], ...fed.options.filter((_o, k) => k !== fed.right)] : [];
    expect(Number.parseFloat(right ?? '')).toBeLessThanOrEqual(made);
    for (const o of others) expect(Number.parseFloat(o)).toBeGreaterThan(made);
  });
});

test('a number alone is in the unit that was asked for, and a unit of its own counts', () => {
  const read = everyQuestion.find(({ q }) => q.kind === 'read' && q.at === 'end' && q.quantity === 'amps')?.q;
  if (!read) throw new Error('no such question');
  expect(judgeAnswer(read, '377')).toMatchObject({ isRight: true });
  expect(judgeAnswer(read, '0.377 A')).toMatchObject({ isRight: true });
  expect(judgeAnswer(read, '377 A')).toMatchObject({ isRight: false });
});

const allText = ({ idea, text, caution, points, questions }: (typeof courseLessons)[number]): string =>
  [idea, ...text, caution ?? '', ...points.map((p) => p.says), ...questions.flatMap((q) => [q.asks, q.why])].join(' ');

test('a wrong answer is told why that one is wrong, whatever is chosen', () => {
  for (const { at, q } of everyQuestion)
    for (const [k] of optionsOf(q).entries()) {
      const judged = judgeAnswer(q, String(k))!;
      expect([at, judged.isRight, judged.whyNot !== '']).toEqual([at, judged.isRight, !judged.isRight]);
    }
});

test('a level that was read at another place of the run is told so, and amperes for milliamperes are asked about', () => {
  const [before, end] = courseLessons[0].questions;
  const right = judgeAnswer(end, '1')?.right ?? '';
  const milli = Number(/^[\d.]+/.exec(right)?.[0]);
  expect(unitSlip(end, String(milli / 1000))).toMatch(/mA or .* A\?/);
  expect(unitSlip(end, String(milli))).toBeNull();
  expect(unitSlip(before, 'many')).toBeNull();
  expect(judgeAnswer(before, String(milli))?.whyNot).toMatch(
    /^What you typed is the level (at the end|at its highest)\.$/,
  );
});

test('what the lessons teach is what the rest of Umbral does', () => {
  const text = Object.fromEntries(courseLessons.map((l) => [l.id, allText(l)]));
  // A healthy device stays at 5 V at a charger that offers no more: the device is not the only reason.
  expect(text.ports).toMatch(/charger[^.]* offer only 5 V/);
  // Rails are proposed from the middle, so that each reading halves what is left.
  expect(text.ladder).toMatch(/middle/);
  expect(text.ladder).toMatch(/halves/);
  for (const l of courseLessons) expect(allText(l)).not.toMatch(/one by one|in order, with the device powered/);
  // A pattern that rests at some milliamperes is not explained by "nothing".
  const resting = judgeAnswer(courseLessons[0].questions[3], '0')!;
  expect(resting.why).toContain('count as nothing');
  // What is called a short to ground on the main rail is one for the readings as well.
  expect(text.shorts).toContain('up to 30 ohm is still a short');
  const main = {
    ...plainReading,
    where: 'main',
    mode: 'resistance' as const,
    value: 29,
    unit: 'ohm' as const,
    circuit: 'rail.main' as const,
  };
  expect(senseOf(main, { batteryV: 3.85 })).toMatchObject({ of: 'ground', word: 'short' });
});

test('a draw near the limit whose voltage is held is no current limit, wherever nobody set a voltage', () => {
  const laptop = shippedProfile('oxbarrow-hearthfold-13') as Profile;
  for (const feed of feedsOf(laptop).filter((f) => f !== 'usb-c')) {
    const on = { feed, instrument: instrumentsOf[feed][0], setV: null, limitA: null, port: 1, flipped: false };
    const { run } = powerOn(
      laptop,
      [],
      [],
      { ...on, battery: false, presses: true, unplugged: [] },
      'r1',
      seededRandom(1),
    );
    expect(run.setup.setV).toBeGreaterThan(3);
  }
});
