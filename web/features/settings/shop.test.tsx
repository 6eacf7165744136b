import { screen, waitFor, within } from '@testing-library/react';
import { reassessJob, setTrashed } from '@/features/job/actions';
import type { KeptPolicy } from '@/server/work/shop/policy';
import { kept, refused, show } from '@/testing/show';
import { eraseForGood, keepPolicy } from './actions';
import { OldVerdicts } from './old-verdicts';
import { ShopPolicyForm } from './shop-policy';
import { Trash } from './trash';

jest.mock('./actions', () => ({ eraseForGood: jest.fn(), keepPolicy: jest.fn() }));
jest.mock('@/features/job/actions', () => ({ reassessJob: jest.fn(), setTrashed: jest.fn() }));
const refresh = jest.fn();
jest.mock('next/navigation', () => ({ useRouter: () => ({ refresh }) }));

beforeEach(() => jest.resetAllMocks());

describe('shop policy', () => {
  const policy = {
    version: 3,
    fee: 80,
    dataFee: 60,
    hourlyCost: 45,
    success: 0.74,
    notDoneHere: ['core.cpu'],
    injection: 'step',
    networks: ['192.0.2.0/24'],
    trashDays: null,
    functions: null,
  } as unknown as KeptPolicy;
  const save = (): Promise<void> => person.click(screen.getByRole('button', { name: 'Save' }));
  let person: ReturnType<typeof show>['person'];
  beforeEach(() => {
    jest.mocked(keepPolicy).mockResolvedValue(kept(4));
    ({ person } = show(<ShopPolicyForm policy={policy} />));
  });

  test('what is shown is what is kept', async () => {
    expect(screen.getByLabelText(/^Repairs that succeed/)).toHaveProperty('value', '74');
    await person.click(screen.getByRole('checkbox', { name: 'Memory' }));
    await person.selectOptions(screen.getByLabelText('Injection voltage'), 'rated voltage, current limited');
    await save();
    expect(await screen.findByText(/It applies to new verdicts/)).toBeTruthy();
    expect(jest.mocked(keepPolicy).mock.calls[0][0]).toMatchObject({
      version: 3,
      fee: '80',
      success: '74',
      injection: 'rated',
      notDoneHere: expect.arrayContaining(['core.cpu', 'core.memory']),
      networks: ['192.0.2.0/24'],
      trashDays: null,
    });
  });

  test('what is tried after a repair is a list of each kind of device', async () => {
    await person.selectOptions(screen.getByLabelText('Kind of device'), 'laptop');
    const functions = screen.getByLabelText(/^Functions/);
    expect(functions).toHaveProperty('value', '');
    await person.click(screen.getByRole('button', { name: 'Start from the usual ones' }));
    const usual = (functions as HTMLTextAreaElement).value.split('\n');
    expect(usual.length).toBeGreaterThan(3);
    await person.type(functions, '\nReads a library card');
    await person.selectOptions(screen.getByLabelText('Kind of device'), 'phone');
    expect(functions).toHaveProperty('value', '');
    await save();
    await waitFor(() => expect(keepPolicy).toHaveBeenCalled());
    const { functions: sent } = jest.mocked(keepPolicy).mock.calls[0][0] as { functions: Record<string, string[]> };
    expect(sent.laptop).toEqual([...usual, 'Reads a library card']);
  });

  test('a refusal names its field and keeps what was typed', async () => {
    jest.mocked(keepPolicy).mockResolvedValue(refused('Repair fee: expected a number'));
    await person.clear(screen.getByLabelText('Repair fee'));
    await person.type(screen.getByLabelText('Repair fee'), 'much');
    await save();
    expect((await screen.findByRole('alert')).textContent).toMatch(/Repair fee/);
    expect(screen.getByLabelText('Repair fee')).toHaveProperty('value', 'much');
  });
});

describe('verdicts of an older engine', () => {
  test('are made anew one after the other; what fails is named, and the others go on', async () => {
    jest.mocked(reassessJob).mockImplementation((raw) => {
      const { jobId } = raw as { jobId: number };
      if (jobId === 2) return Promise.resolve(refused('its log is damaged') as never);
      if (jobId === 3) return Promise.reject(new Error('fetch failed'));
      return Promise.resolve(kept(undefined) as never);
    });
    const { person } = show(<OldVerdicts jobs={[1, 2, 3, 4]} />);
    await person.click(screen.getByRole('button', { name: 'Reassess all' }));
    await waitFor(() => expect(refresh).toHaveBeenCalled());
    expect(reassessJob).toHaveBeenCalledTimes(4);
    expect(screen.getAllByRole('alert').map((a) => a.textContent)).toEqual([
      'Job 2: its log is damaged',
      'Job 3: the server could not be reached; nothing changed.',
    ]);
    expect(screen.getByRole('button', { name: 'Reassess all' })).toHaveProperty('disabled', false);
  });
  test('are none where the engine is the one that made them', () => {
    show(<OldVerdicts jobs={[]} />);
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('the trash', () => {
  const jobs = [{ id: 5, label: 'field phone', since: '2026-01-02' }];
  test('gives back without a question, and deletes for good only after one', async () => {
    jest.mocked(setTrashed).mockResolvedValue(kept(undefined) as never);
    jest.mocked(eraseForGood).mockResolvedValue(kept(undefined));
    const confirm = jest.spyOn(window, 'confirm').mockReturnValueOnce(false).mockReturnValueOnce(true);
    const { person } = show(<Trash jobs={jobs} />);
    const row = within(screen.getByRole('listitem'));
    await person.click(row.getByRole('button', { name: 'Restore' }));
    await waitFor(() => expect(setTrashed).toHaveBeenCalledWith({ jobId: 5, trashed: false }));
    await person.click(row.getByRole('button', { name: 'Delete permanently' }));
    expect(eraseForGood).not.toHaveBeenCalled();
    await person.click(row.getByRole('button', { name: 'Delete permanently' }));
    await waitFor(() => expect(eraseForGood).toHaveBeenCalledWith(5));
    confirm.mockRestore();
  });
});
