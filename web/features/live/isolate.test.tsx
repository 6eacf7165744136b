import type { UnplugStep } from '@umbral/core';
import { fireEvent, screen } from '@testing-library/react';
import { KeyProvider } from '@/ui/keys';
import { show } from '@/testing/show';
import { Isolate } from './isolate';

const parts = [
  { id: 'speaker', name: 'speaker board' },
  { id: 'cam', name: 'rear camera' },
];
const pulled: UnplugStep[] = [
  { t: 4, part: 'speaker board', event: 'part-off', beforeA: 0.19, afterA: 0.191, moved: 'same' },
  { t: 8, part: 'rear camera', event: 'part-off', beforeA: 0.191, afterA: 0.06, moved: 'falls' },
  { t: 12, part: 'fan', event: 'part-on', beforeA: 0.06, afterA: 0.11, moved: 'rises' },
];

const isolate = (of: { pulled?: UnplugStep[]; off?: string[]; isRecording?: boolean } = {}) => {
  const take = jest.fn();
  const { pulled: steps = [], off = [], isRecording = true } = of;
  show(
    <KeyProvider personId={undefined}>
      <Isolate parts={parts} off={new Set(off)} isRecording={isRecording} pulled={steps} take={take} />
    </KeyProvider>,
  );
  return take;
};

test('each line has the part with what the draw was before and after it, and says where nothing changed', () => {
  isolate({ pulled, off: ['speaker', 'cam'] });
  const lines = screen.getAllByRole('listitem').map((li) => li.textContent);
  expect(lines[0]).toContain('speaker board');
  expect(lines[0]).toContain('190 mA before, 191 mA after, no change');
  expect(lines[1]).toContain('191 mA before, 60.0 mA after, falls');
  expect(lines[2]).toBe('fanback on: 60.0 mA before, 110 mA after, rises');
});

test('a number unplugs its part while it records, and does nothing otherwise', () => {
  const take = isolate({ off: ['cam'] });
  fireEvent.keyDown(window, { key: '2' });
  expect(take).toHaveBeenCalledWith(parts[1], 'part-on');
  expect(screen.getAllByText('measuring …')).toHaveLength(1);
});

test('before it records the numbers are left to the setups', () => {
  const take = isolate({ isRecording: false });
  fireEvent.keyDown(window, { key: '1' });
  expect(take).not.toHaveBeenCalled();
});
