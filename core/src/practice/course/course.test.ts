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
  withFigures,
} from '../index.ts';
import { circuitTypes } from '../../catalogue/index.ts';
import { seededRandom } from '../../trace/index.ts';
import { shippedProfile, type Profile } from '../../twin/index.ts';

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

test('what lessons read before power-on and after it is what the rules of the patterns say', () => {
  // A surge comes with the press, a short on a rail that is always powered before it; a hang stays under its peak.
  for (const { q } of everyQuestion) {
    if (!('run' in q)) continue;
    const { pattern, levels } = drawLessonRun(q.run);
    if (pattern === 'surge-on-prompt') expect(levels.peak.amps).toBeGreaterThan(5 * levels.before.amps);
    if (pattern === 'limit-at-once') expect(levels.before.amps).toBeGreaterThan(0.5 * levels.end.amps);
    if (pattern === 'stall-mid') expect(levels.end.amps).toBeLessThanOrEqual(levels.peak.amps * 1.05);
  }
});

test('a number alone is in the unit that was asked for, and a unit of its own counts', () => {
  const read = everyQuestion.find(({ q }) => q.kind === 'read' && q.at === 'end' && q.quantity === 'amps')?.q;
  if (!read) throw new Error('no such question');
  expect(judgeAnswer(read, '377')).toMatchObject({ isRight: true });
  expect(judgeAnswer(read, '0.377 A')).toMatchObject({ isRight: true });
  expect(judgeAnswer(read, '377 A')).toMatchObject({ isRight: false });
});
