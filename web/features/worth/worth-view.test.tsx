import { screen, waitFor, within } from '@testing-library/react';
import type { JobWorth } from '@/server/work/day/worth';
import { kept, refused, show } from '@/testing/show';
import { answered, ask, keepTerms } from './actions';
import { WorthView } from './worth-view';

jest.mock('./actions', () => ({ answered: jest.fn(), ask: jest.fn(), keepTerms: jest.fn() }));
// A chart needs a size, which a page without a browser does not have; what stands on it is said in words beside it.
jest.mock('./worth-chart', () => ({ WorthChart: () => null }));
const worths = { 'go-on': 55, ask: 60, data: null, stop: -2 };
const worth = (over: Partial<JobWorth> = {}): JobWorth => ({
  jobId: 3,
  version: 4,
  label: 'convertible',
  fee: 180,
  isOwnFee: false,
  promisedAt: null,
  agreedAt: null,
  dataWanted: false,
  dataOnly: false,
  isClosed: false,
  worths,
  best: 'ask',
  knowing: { blind: 10, certain: 46, tests: 41, cost: 16 },
  curve: {
    circuit: 'mgmt',
    p: 0.69,
    points: [
      { p: 0, ...worths },
      { p: 1, ...worths },
    ],
    changes: [{ p: 0.4, from: 'stop', to: 'ask' }],
  },
  breakEven: 0.28,
  success: 0.8,
  ownCases: { begun: 0, succeeded: 0 },
  isRepairedHere: true,
  state: null,
  quote: 'The repair costs 180 €.',
  decline: 'We stop here.',
  ...over,
});

beforeEach(() => {
  for (const action of [answered, ask, keepTerms]) jest.mocked(action).mockResolvedValue(kept(undefined));
});

test('the best way stands first with its amount; what nobody wants is no row', () => {
  show(<WorthView worth={worth()} />);
  const pays = screen.getByRole('region', { name: 'Options' });
  within(pays).getByRole('heading', { name: 'Ask first: 60 € expected' });
  expect(
    within(pays)
      .getAllByRole('row')
      .map((r) => r.textContent),
  ).toEqual([
    expect.stringMatching(/^Continue.*55 €$/),
    expect.stringMatching(/^Ask first.*60 €$/),
    expect.stringMatching(/^Stop.*−2 €$/),
  ]);
  expect(screen.getByRole('region', { name: 'When the answer changes' }).textContent).toContain(
    'From 40 % for Management controller it pays more to ask first than to stop. It is 69 % now.',
  );
});

test('the text follows what pays, and the other one is a press away', async () => {
  const { person } = show(<WorthView worth={worth({ best: 'stop' })} />);
  expect(screen.getByTestId('letter').textContent).toBe('We stop here.');
  await person.click(screen.getByRole('button', { name: 'Quote' }));
  expect(screen.getByTestId('letter').textContent).toBe('The repair costs 180 €.');
});

test('what was asked and what was said goes to the job', async () => {
  const { person } = show(<WorthView worth={worth()} />);
  await person.click(screen.getByRole('button', { name: 'Asked the customer' }));
  await waitFor(() => expect(ask).toHaveBeenCalledWith(3));
  await person.click(screen.getByRole('button', { name: 'Accepted' }));
  await waitFor(() => expect(answered).toHaveBeenCalledWith(3, 'yes'));
  await person.click(screen.getByRole('button', { name: 'Declined' }));
  await waitFor(() => expect(answered).toHaveBeenLastCalledWith(3, 'no'));
});

test('a fee with a comma is taken; one that is refused stays to be corrected', async () => {
  const { person } = show(<WorthView worth={worth()} />);
  const terms = screen.getByRole('form', { name: 'Terms' });
  const fee = within(terms).getByRole('textbox', { name: /^Fee/ });
  await person.type(fee, '99,50');
  await person.click(within(terms).getByRole('button', { name: 'Save' }));
  await waitFor(() =>
    expect(keepTerms).toHaveBeenCalledWith(expect.objectContaining({ fee: '99.50', promisedAt: null, version: 4 })),
  );
  jest.mocked(keepTerms).mockResolvedValue(refused('Fee: cannot be negative'));
  await person.clear(fee);
  await person.type(fee, '-4');
  await person.click(within(terms).getByRole('button', { name: 'Save' }));
  await within(terms).findByText('Fee: cannot be negative');
  expect((fee as HTMLInputElement).value).toBe('-4');
});

test('a closed job has nothing to agree on any more', () => {
  show(<WorthView worth={worth({ isClosed: true })} />);
  expect(screen.queryByRole('form', { name: 'Terms' })).toBeNull();
  expect(screen.queryByRole('button', { name: 'Asked the customer' })).toBeNull();
});
