import { seededRandom } from '../trace/index.ts';
import { shippedProfile } from '../twin/index.ts';
import { recogniseFaults, recognitionInstruments, type Recognised, type RunCourse } from './recognition.ts';

const courses: RunCourse[] = ['as recorded', 'no markers', 'off at the end'];
const share = (list: Recognised[], test: (r: Recognised) => boolean): number => list.filter(test).length / list.length;

describe.each(['generic-phone', 'oxbarrow-hearthfold-13'])('faults of %s through every instrument', (id) => {
  const profile = shippedProfile(id)!;
  const seen = new Map(
    courses.map((course) => [
      course,
      Object.keys(recognitionInstruments).flatMap((instrument) =>
        recogniseFaults(profile, instrument, course, seededRandom(11), (k) => k % 31 === 5),
      ),
    ]),
  );

  test.each(courses)('%s: hardly any is without a name', (course) => {
    const list = seen.get(course)!;
    expect(list.length).toBeGreaterThan(25);
    expect(share(list, (r) => r.seen === 'unrecognised' && r.expected !== 'unrecognised')).toBeLessThan(0.06);
  });

  test.each(courses)('%s: named as the start-up itself is, where that is clear', (course) => {
    const clear = seen.get(course)!.filter((r) => r.expectedP > 0.7);
    expect(clear.length).toBeGreaterThan(10);
    expect(share(clear, (r) => r.seen === r.expected)).toBeGreaterThan(0.8);
  });

  test('switching off at the end changes little', () => {
    const [as, off] = [seen.get('as recorded')!, seen.get('off at the end')!];
    const right = (r: Recognised): boolean => r.seen === r.expected;
    expect(share(off, right)).toBeGreaterThan(share(as, right) - 0.1);
  });
});

test('the same seed gives the same table', () => {
  const make = () =>
    recogniseFaults(
      shippedProfile('generic-laptop')!,
      'logger, 20 a second, 1 mA',
      'no markers',
      seededRandom(3),
      (k) => k % 40 === 0,
    );
  expect(make()).toEqual(make());
});
