import { screen } from '@testing-library/react';
import { kept, refused, show } from '@/testing/show';
import { confirmJobOtherwise, withdrawConfirmation } from './confirmation-actions';
import { Confirmations } from './confirmations';
import { NearCases } from './near-cases';
import type { ConfirmationView, JobView, NearView } from './view';

jest.mock('./confirmation-actions', () => ({ confirmJobOtherwise: jest.fn(), withdrawConfirmation: jest.fn() }));
const near = (over: Partial<NearView> = {}): NearView => ({
  job: 12,
  says: 'job 12 (second coil)',
  circuit: 'Run-state rail',
  element: 'second coil',
  likeness: 0.8,
  p: 0.4,
  isOtherModel: false,
  alike: ['the typical draw (0.72 W)'],
  differs: ['the period: 2 s here, 4 s there'],
  here: 'M0 28V3H150V28Z',
  there: 'M0 28V9H150V28Z',
  runHere: 'r1',
  ...over,
});

describe('cases that were met before', () => {
  test('with what is alike, what is not, and a way to each', () => {
    show(
      <NearCases
        near={[near(), near({ job: null, says: 'one of Hill bench', p: 0.1, isOtherModel: true })]}
        jobId={3}
      />,
    );
    expect(screen.getByText(/40 % likely to be the same/)).toBeTruthy();
    expect(screen.getByRole('link', { name: 'job 12 (second coil)' }).getAttribute('href')).toBe('/jobs/12');
    expect(screen.getAllByText(/Similar: the typical draw \(0\.72 W\)\. Different: the period/)).toHaveLength(2);
    expect(screen.getByText(/one of Hill bench, another model/)).toBeTruthy();
    expect(screen.getByRole('link', { name: /closest first/ }).getAttribute('href')).toBe('/atlas?job=3');
    expect(screen.getAllByRole('img', { name: /Run r1 over the run of/ })).toHaveLength(2);
  });
  test('where nothing is like it that is said, and the list stays closed', () => {
    const { container } = show(<NearCases near={[near({ p: 0.02 })]} jobId={3} />);
    expect(screen.getByText(/nothing very similar; closest Run-state rail/)).toBeTruthy();
    expect(container.querySelector('details')?.open).toBe(false);
  });
  test('nothing where there are none', () => {
    show(<NearCases near={[]} jobId={3} />);
    expect(screen.queryByText(/Similar past cases/)).toBeNull();
  });
});

describe('confirmations of a closed job', () => {
  const confirmed = (over: Partial<ConfirmationView>): ConfirmationView => ({
    id: 1,
    circuit: 'Display',
    circuitId: 'display',
    target: 'panel',
    grade: 'cause measured and repaired',
    why: '',
    who: 'Ottilie',
    on: '2026-03-01',
    ...over,
  });
  const view = (confirmations: ConfirmationView[]): JobView =>
    ({ job: { id: 5 }, confirmations }) as unknown as JobView;
  const two = [confirmed({}), confirmed({ id: 2, circuit: 'Radio', circuitId: 'radio' })];

  test('two that disagree are said to teach nothing; two that agree are not', () => {
    const { unmount } = show(<Confirmations view={view(two)} />);
    expect(screen.getByText(/Confirmed as 2 different causes/)).toBeTruthy();
    unmount();
    show(<Confirmations view={view([confirmed({}), confirmed({ id: 2 })])} />);
    expect(screen.queryByText(/Confirmed as/)).toBeNull();
  });
  test('the one that is pressed is withdrawn', async () => {
    (withdrawConfirmation as jest.Mock).mockResolvedValue(kept(undefined));
    const { person } = show(<Confirmations view={view(two)} />);
    await person.click(screen.getAllByRole('button', { name: 'Withdraw' })[1]);
    expect(withdrawConfirmation).toHaveBeenCalledWith({ jobId: 5, id: 2 });
  });
  test('what is refused stays to be corrected', async () => {
    (confirmJobOtherwise as jest.Mock).mockResolvedValue(refused('Circuit: choose the cause'));
    const { person } = show(<Confirmations view={view([])} />);
    expect(screen.getByText(/Nothing is learned from this job/)).toBeTruthy();
    await person.click(screen.getByRole('button', { name: 'Confirm this or another cause' }));
    await person.type(screen.getByLabelText('Evidence'), 'seen{Enter}');
    expect(await screen.findByText('Circuit: choose the cause')).toBeTruthy();
    expect(screen.getByLabelText<HTMLInputElement>('Evidence').value).toBe('seen');
  });
});
