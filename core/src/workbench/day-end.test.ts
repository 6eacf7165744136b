import { minutesByKind, type HandTime } from './day-end.ts';

const at = (time: string): Date => new Date(`2026-11-27T${time}:00Z`);
const hand = (over: Partial<HandTime>): HandTime => ({
  kind: 'test',
  who: 'Ada',
  from: at('09:00'),
  to: at('09:30'),
  ...over,
});

test('minutes by kind and person, within the day alone', () => {
  const times = [
    hand({}),
    hand({ who: 'Ben', to: at('09:10') }),
    hand({ kind: 'repair', from: at('16:50'), to: at('17:40') }),
    hand({ kind: 'proof', from: new Date('2026-11-26T10:00:00Z'), to: new Date('2026-11-26T11:00:00Z') }),
  ];
  expect(minutesByKind(times, at('00:00'), at('17:00'), at('18:00'))).toEqual([
    {
      kind: 'test',
      minutes: 40,
      by: [
        { who: 'Ada', minutes: 30 },
        { who: 'Ben', minutes: 10 },
      ],
    },
    { kind: 'repair', minutes: 10, by: [{ who: 'Ada', minutes: 10 }] },
  ]);
});

test('what is still in hand counts until now; a clock that was put back counts nothing', () => {
  expect(minutesByKind([hand({ to: null })], at('00:00'), at('23:00'), at('09:20'))).toMatchObject([{ minutes: 20 }]);
  expect(minutesByKind([hand({ to: null })], at('00:00'), at('23:00'), at('08:00'))).toEqual([]);
});
