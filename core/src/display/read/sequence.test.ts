import { FieldSequence, type Candidate } from '../index.ts';

const seen = (text: string, p = 1): Candidate => ({
  text,
  value: Number(text),
  decimals: text.split('.')[1]?.length ?? 0,
  p,
  isLightOnDark: true,
});
/** What is decided on each picture, in order: the value, or why there is none. */
function decided(pictures: (Candidate | 'dark')[]): (number | string | null)[] {
  const sequence = new FieldSequence();
  const out = pictures.flatMap((c, n) => sequence.next(n, c) ?? []);
  return [...out, ...[sequence.end() ?? []].flat()].map((d) => d.doubt ?? d.value);
}
const calm = ['1.20', '1.20', '1.20', '1.21', '1.22'].map((x) => seen(x));

test('a format is believed once it came three times, and each picture is decided on once', () => {
  expect(decided(calm)).toEqual(['other-format', 'other-format', 1.2, 1.21, 1.22]);
});

test('a format that somebody has said holds from the first picture on', () => {
  const sequence = new FieldSequence(2);
  sequence.next(0, seen('1.20'));
  expect(sequence.next(1, seen('1.21'))).toEqual({ t: 0, value: 1.2, doubt: null });
});

test('a value that jumps and comes back within one picture is absent; one that stays is a step', () => {
  const rest = [seen('1.22'), seen('1.22')];
  expect(decided([...calm, seen('7.22'), ...rest]).slice(5)).toEqual(['alone', 1.22, 1.22]);
  expect(decided([...calm, seen('7.22'), seen('7.22'), seen('7.25')]).slice(5)).toEqual([7.22, 7.22, 7.25]);
});

test('a point that moves for one picture is no new range; one that stays there is', () => {
  expect(decided([...calm, seen('12.2'), seen('1.22')]).slice(5)).toEqual(['other-format', 1.22]);
  expect(decided([...calm, ...['12.2', '12.2', '12.2', '12.3'].map((x) => seen(x))]).slice(5)).toEqual([
    'other-format',
    'other-format',
    12.2,
    12.3,
  ]);
});

test('what is not sure, or not there, is absent and says why', () => {
  expect(decided([...calm, seen('1.23', 0.5), 'dark', seen('1.23')]).slice(5)).toEqual(['unsure', 'dark', 1.23]);
});

test('a restart loop on the display is no misreading: what repeats with its period stays', () => {
  const loop = ['0.20', '0.20', '1.40', '1.40', '0.20', '0.20', '1.40', '1.40'].map((x) => seen(x));
  expect(decided([...['0.20', '0.20'].map((x) => seen(x)), ...loop]).slice(2)).toEqual([
    0.2, 0.2, 1.4, 1.4, 0.2, 0.2, 1.4, 1.4,
  ]);
});
