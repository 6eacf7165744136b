import { screen } from '@testing-library/react';
import { show } from '@/testing/show';
import { ArmDialog } from './arm-dialog';
import type { ArmCheck } from './arm-checks';

const fine: ArmCheck = { tone: 'fine', says: 'Limit 3 A is within what the device is made for.' };
const look: ArmCheck = { tone: 'look', says: 'Polarity: red on plus.' };
const stop: ArmCheck = { tone: 'stop', says: 'The battery is still connected.' };
const does = { onBatteryOut: jest.fn(), onArm: jest.fn(), onClose: jest.fn() };
const dialog = (checks: ArmCheck[], canSayBatteryOut = false) =>
  show(<ArmDialog checks={checks} what="3.8 V, 3 A" canSayBatteryOut={canSayBatteryOut} {...does} />);

beforeEach(() => jest.clearAllMocks());

test('everything to look at stands there, and Enter arms what the setup says', async () => {
  const { person } = dialog([fine, look]);
  for (const { says } of [fine, look]) expect(screen.getByText(says)).toBeTruthy();
  expect(screen.getByText(/Keep hands and tools off the board/)).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Checked. Arm: 3.8 V, 3 A' })).toBe(document.activeElement);
  await person.keyboard('{Enter}');
  expect(does.onArm).toHaveBeenCalledTimes(1);
});

test('nothing is armed over what has to be done first, not by Enter either', async () => {
  const { person } = dialog([fine, stop]);
  expect(screen.getByRole('button', { name: /Arm/ }).getAttribute('aria-disabled')).toBe('true');
  await person.keyboard('{Enter}');
  expect(does.onArm).not.toHaveBeenCalled();
  expect(does.onBatteryOut).not.toHaveBeenCalled();
});

test('a battery that is out is noted first, and that alone arms nothing', async () => {
  const { person } = dialog([stop], true);
  await person.click(screen.getByRole('button', { name: 'Note that the battery is out' }));
  expect(does.onBatteryOut).toHaveBeenCalledTimes(1);
  expect(does.onArm).not.toHaveBeenCalled();
});

test.each(['{Escape}', 'button'])('%s leaves it as it is', async (way) => {
  const { person } = dialog([fine]);
  if (way === 'button') await person.click(screen.getByRole('button', { name: 'Not now' }));
  else await person.keyboard(way);
  expect(does.onClose).toHaveBeenCalled();
  expect(does.onArm).not.toHaveBeenCalled();
});
