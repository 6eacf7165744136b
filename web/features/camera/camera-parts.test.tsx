import type { DisplayState, FramedNumber, Quad } from '@umbral/core/display';
import { fireEvent, screen } from '@testing-library/react';
import { useState } from 'react';
import { show } from '@/testing/show';
import { Corners } from './corners';
import type { WatchSnapshot } from './display-watch';
import { FramingButtons } from './framing-buttons';
import { NumbersForm } from './numbers-form';
import { ReadState } from './read-state';
import { framingOf } from './use-framing';
import { cameraProblem, whyUnread } from './words';

jest.mock('./actions', () => ({}));

const corners: Quad = [
  [0.2, 0.2],
  [0.6, 0.2],
  [0.6, 0.4],
  [0.2, 0.4],
];
const number = (quantity: FramedNumber['quantity']): FramedNumber => ({ quantity, corners, unit: 1, decimals: 2 });

test('a corner is moved with the arrow keys, further with Shift, and not out of the picture', () => {
  function Framed() {
    const [at, move] = useState(corners);
    return (
      <>
        <Corners name="Current" corners={at} isChosen onChange={move} onChoose={() => undefined} />
        <output>{JSON.stringify(at[0].map((x) => Number(x.toFixed(4))))}</output>
      </>
    );
  }
  show(<Framed />);
  const corner = screen.getByRole('button', { name: 'Current, top left' });
  fireEvent.keyDown(corner, { key: 'ArrowRight' });
  fireEvent.keyDown(corner, { key: 'ArrowDown', shiftKey: true });
  expect(screen.getByRole('status').textContent).toBe('[0.202,0.22]');
  for (let k = 0; k < 20; k++) fireEvent.keyDown(corner, { key: 'ArrowLeft', shiftKey: true });
  expect(screen.getByRole('status').textContent).toBe('[0,0.22]');
  fireEvent.keyDown(screen.getByRole('button', { name: 'Current, all corners' }), { key: 'ArrowUp' });
  expect(screen.getByRole('status').textContent).toBe('[0,0.218]');
});

test('a quantity stands on a display once: who had it becomes something else', async () => {
  const changed = jest.fn();
  const { person } = show(
    <NumbersForm
      numbers={[number('volts'), number('amps')]}
      texts={['3.85', '']}
      chosen={0}
      choose={() => undefined}
      onChange={changed}
    />,
  );
  expect(screen.getByLabelText('Number 1 reads').textContent).toBe('3.85');
  expect(screen.getByLabelText('Number 2 reads').textContent).toBe('–');
  await person.selectOptions(screen.getByLabelText('Number 2 is'), 'volts');
  expect(changed.mock.lastCall?.[0].map((n: FramedNumber) => n.quantity)).toEqual(['ignored', 'volts']);
  await person.selectOptions(screen.getByLabelText('Unit of number 2'), 'mA');
  expect(changed.mock.lastCall?.[0][1].unit).toBe(0.001);
  await person.selectOptions(screen.getByLabelText('Decimal point of number 1'), 'point moves');
  expect(changed.mock.lastCall?.[0][0].decimals).toBeNull();
  await person.click(screen.getByRole('button', { name: 'Remove number 1' }));
  expect(changed.mock.lastCall?.[0]).toHaveLength(1);
});

const state: DisplayState = {
  note: null,
  doubtShare: 0.04,
  refreshS: 0.25,
  stepV: 0.01,
  stepA: 0.001,
  corners: [corners, corners],
  texts: ['3.85', '0.120'],
};
const snapshot: WatchSnapshot = {
  state,
  reading: { t: 1, volts: 3.85, amps: null, watts: null, doubts: [null, 'unsure'], isSample: false },
  picturesPerSecond: 12,
  delayS: 0.08,
  isSilent: false,
  isElsewhere: false,
  refused: '',
};
const framing = { numbers: [number('volts'), number('amps')], isMirrored: false };

test('what is doubtful is absent on the screen too, with how much is left out and how late it is', () => {
  show(<ReadState snapshot={snapshot} framing={framing} onStandsThere={() => undefined} />);
  expect(screen.getByText('3.85', { exact: false }).textContent).toContain('V');
  expect(screen.getByText(/not clear/).parentElement?.textContent).toContain('–');
  expect(screen.getByText(/pictures per second/).textContent).toBe(
    '12 pictures per second · 4 % left out as unclear · the display updates 4.0 times per second · 80 ms from picture to number',
  );
});

test.each([
  ['dark', 'Switch it on,'],
  ['covered', 'frame the display'],
  ['nothing', 'Find the numbers again'],
  ['cut-off', 'out.'],
  ['mirrored', 'mirrored picture'],
  ['power', 'something else'],
  ['range', 'moves” for'],
  ['unsure', 'Move closer'],
  ['blinking', 'While it is dark'],
] as const)('%s is said with what helps', (note, helps) => {
  show(
    <ReadState
      snapshot={{ ...snapshot, state: { ...state, note } }}
      framing={framing}
      onStandsThere={() => undefined}
    />,
  );
  expect(screen.getByRole('status').textContent).toContain(helps);
  expect(whyUnread({ ...state, note }) === '').toBe(note === 'blinking');
});

test('a display that was not found again is read only once somebody says that it stands there', async () => {
  const said = jest.fn();
  const { person } = show(
    <ReadState snapshot={{ ...snapshot, isElsewhere: true }} framing={framing} onStandsThere={said} />,
  );
  expect(screen.getByRole('status').textContent).toContain('not where it was framed');
  await person.click(screen.getByRole('button', { name: 'It is there' }));
  expect(said).toHaveBeenCalledTimes(1);
});

test('a refusal of the recorder stands before everything else', () => {
  show(
    <ReadState
      snapshot={{ ...snapshot, refused: 'Another window reads this display.' }}
      framing={framing}
      onStandsThere={() => undefined}
    />,
  );
  expect(screen.getByRole('status').textContent).toBe('Another window reads this display.');
});

test('numbers that are found are taken from top to bottom for volts, amperes and watts', () => {
  const at = (top: number) => ({
    corners: corners.map(([x, y]) => [x, y + top]) as unknown as Quad,
    text: '1.00',
    decimals: 2,
  });
  const { numbers } = framingOf([at(0.3), at(0), at(0.5), at(0.4)], false);
  expect(numbers.map((n) => n.quantity)).toEqual(['volts', 'amps', 'watts', 'ignored']);
  expect(numbers[0].corners[0][1]).toBeCloseTo(0.2, 9);
});

test('while numbers are looked for it says how far it is, and can be cancelled', async () => {
  const cancel = jest.fn();
  const frame = { isFinding: true, finding: 'picture 2 of 4', cancel, timesFound: 0, saving: false, framing: null };
  const { person } = show(<FramingButtons frame={frame as never} />);
  expect(screen.getByRole('status').textContent).toContain('picture 2 of 4');
  await person.click(screen.getByRole('button', { name: 'Cancel' }));
  expect(cancel).toHaveBeenCalled();
});

test('what is saved is reached by the keyboard: the name, then starting, then saving what was found', async () => {
  const frame = (timesFound: number) =>
    ({
      timesFound,
      isFinding: false,
      saving: false,
      framing,
      find: jest.fn(),
      addByHand: jest.fn(),
      change: jest.fn(),
      keep: jest.fn(),
    }) as unknown as Parameters<typeof FramingButtons>[0]['frame'];
  const none = frame(0);
  const { person, rerender } = show(<FramingButtons frame={none} />);
  expect(document.activeElement).toBe(document.body);
  const found = frame(1);
  rerender(<FramingButtons frame={found} />);
  expect(document.activeElement?.textContent).toBe('Save and read');
  await person.keyboard('{Enter}');
  expect(found.keep).toHaveBeenCalledTimes(1);
  await person.click(screen.getByLabelText('mirrored picture'));
  expect(found.change).toHaveBeenCalledWith({ ...framing, isMirrored: true });
  rerender(<FramingButtons frame={{ ...found, framing: { numbers: [number('volts')], isMirrored: false } }} />);
  expect(screen.getByRole('button', { name: 'Save and read' }).getAttribute('aria-disabled')).toBe('true');
});

test('why a browser gives no camera is said in words', () => {
  const named = (name: string): Error => Object.assign(new Error('x'), { name });
  expect(cameraProblem(named('NotAllowedError'))).toContain('Allow it');
  expect(cameraProblem(named('NotFoundError'))).toContain('Plug one in');
  expect(cameraProblem(named('NotReadableError'))).toContain('Another program');
  expect(cameraProblem(new TypeError('undefined'))).toContain('https');
});
