import { screen, waitFor, within } from '@testing-library/react';
import { kept, refused, show } from '@/testing/show';
import { keepNewPerson, keepNewToken, keepPerson, signIn, signInByCode, switchPerson, takeTokenBack } from './actions';
import { PeopleSettings, type KnownPerson } from './people-settings';
import { SignInForm, SwitchForm } from './sign-in-form';
import { TokensSettings } from './tokens-settings';

jest.mock('./actions', () => ({
  keepNewPerson: jest.fn(),
  keepNewToken: jest.fn(),
  keepPerson: jest.fn(),
  signIn: jest.fn(),
  signInByCode: jest.fn(),
  switchPerson: jest.fn(),
  takeTokenBack: jest.fn(),
}));
const wrong = refused('Wrong name or password.');

beforeEach(() => jest.resetAllMocks());

describe('signing in', () => {
  test('what is wrong is said, and what was typed stays', async () => {
    jest.mocked(signIn).mockResolvedValue(wrong);
    const { person } = show(<SignInForm isFirst={false} isAway={false} />);
    await person.type(screen.getByLabelText('Name'), 'Lead of the shop');
    await person.type(screen.getByLabelText('Password'), 'not that');
    await person.click(screen.getByRole('button', { name: 'Sign in' }));
    expect((await screen.findByRole('alert')).textContent).toBe(wrong.message);
    expect(screen.getByLabelText('Name')).toHaveProperty('value', 'Lead of the shop');
    expect(screen.getByRole('button', { name: 'Sign in' })).toHaveProperty('disabled', false);
  });

  test('whoever lost the password comes in by a code; the first one always does', async () => {
    jest.mocked(signInByCode).mockRejectedValue(new Error('fetch failed'));
    const { person, rerender } = show(<SignInForm isFirst={false} isAway={false} />);
    expect(screen.queryByLabelText(/^Code/)).toBeNull();
    await person.click(screen.getByRole('button', { name: 'I have a code from the console' }));
    await person.type(screen.getByLabelText(/^Code/), 'abcd-efgh');
    await person.type(screen.getByLabelText('Name'), 'Someone');
    await person.type(screen.getByLabelText(/^New password/), 'ten or more');
    await person.click(screen.getByRole('button', { name: 'Set password' }));
    expect((await screen.findByRole('alert')).textContent).toBe('The server could not be reached. Try again.');
    expect(signInByCode).toHaveBeenCalledWith({ code: 'abcd-efgh', name: 'Someone', password: 'ten or more' });
    rerender(<SignInForm key="first" isFirst isAway={false} />);
    expect(screen.getByRole('button', { name: 'Create account' })).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'I have a password' })).toBeNull();
  });

  test('while the database is not available nothing is asked', () => {
    show(<SignInForm isFirst={false} isAway />);
    expect(screen.queryByRole('textbox')).toBeNull();
    expect(screen.getByText(/The database is not available/)).toBeTruthy();
  });
});

describe('stepping up to a screen', () => {
  const people = [
    { id: 1, name: 'One', isDemo: false },
    { id: 2, name: 'Two', isDemo: true },
  ];
  test('a name and a PIN; somebody of the demo needs none', async () => {
    const then = jest.fn();
    jest.mocked(switchPerson).mockResolvedValueOnce(refused('This PIN is not right.'));
    jest.mocked(switchPerson).mockResolvedValueOnce(kept(undefined));
    const { person } = show(<SwitchForm people={people} then={then} />);
    await person.type(screen.getByLabelText('PIN'), '0000');
    await person.click(screen.getByRole('button', { name: 'Continue as One' }));
    expect((await screen.findByRole('alert')).textContent).toBe('This PIN is not right.');
    expect(then).not.toHaveBeenCalled();
    await person.click(screen.getByRole('button', { name: 'Two' }));
    expect(screen.queryByLabelText('PIN')).toBeNull();
    await person.click(screen.getByRole('button', { name: 'Continue as Two' }));
    await waitFor(() => expect(then).toHaveBeenCalled());
    expect(switchPerson).toHaveBeenLastCalledWith(expect.objectContaining({ personId: 2 }));
  });
  test('without anybody who has a PIN it says how one is chosen', () => {
    show(<SwitchForm people={[]} then={jest.fn()} />);
    expect(screen.getByText(/No PINs yet/)).toBeTruthy();
  });
});

describe('who works here', () => {
  const known = (more: Partial<KnownPerson>): KnownPerson => ({
    id: 3,
    name: 'Technician of the shop',
    role: 'technician',
    version: 5,
    hasPin: false,
    isDemo: false,
    ...more,
  });

  test('a role is changed on the version that was shown; a refusal is said', async () => {
    jest.mocked(keepPerson).mockResolvedValueOnce(kept(undefined));
    jest.mocked(keepPerson).mockResolvedValueOnce(refused('Somebody has to be the lead.'));
    const lead = known({ id: 4, name: 'The lead', role: 'lead', hasPin: true, version: 1 });
    const { person } = show(<PeopleSettings people={[known({}), lead]} isDemo={false} />);
    expect(screen.getByText('technician, no PIN yet')).toBeTruthy();
    await person.click(screen.getByRole('button', { name: 'Change role to lead' }));
    await waitFor(() => expect(keepPerson).toHaveBeenCalledWith({ id: 3, version: 5, role: 'lead' }));
    await person.click(screen.getByRole('button', { name: 'Change role to technician' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Somebody has to be the lead.');
  });

  test('somebody is removed only after the question', async () => {
    jest.mocked(keepPerson).mockResolvedValue(kept(undefined));
    const confirm = jest.spyOn(window, 'confirm').mockReturnValueOnce(false).mockReturnValueOnce(true);
    const { person } = show(<PeopleSettings people={[known({})]} isDemo={false} />);
    await person.click(screen.getByRole('button', { name: 'Remove' }));
    expect(keepPerson).not.toHaveBeenCalled();
    await person.click(screen.getByRole('button', { name: 'Remove' }));
    await waitFor(() => expect(keepPerson).toHaveBeenCalledWith({ id: 3, version: 5, isDisabled: true }));
    expect(confirm.mock.calls[0][0]).toMatch(/Their entries keep their name\./);
    confirm.mockRestore();
  });

  test('somebody new: a refusal keeps what was typed, an account empties the form', async () => {
    jest.mocked(keepNewPerson).mockResolvedValueOnce(refused('Password: at least 10 characters'));
    jest.mocked(keepNewPerson).mockResolvedValueOnce(kept(undefined) as never);
    const { person } = show(<PeopleSettings people={[]} isDemo={false} />);
    const form = within(screen.getByRole('form', { name: 'Add a person' }));
    await person.type(form.getByLabelText('Name'), 'New one');
    await person.type(form.getByLabelText(/^First password/), 'short');
    await person.click(form.getByRole('button', { name: 'Add' }));
    expect((await form.findByRole('alert')).textContent).toMatch(/at least 10/);
    expect(form.getByLabelText('Name')).toHaveProperty('value', 'New one');
    await person.type(form.getByLabelText(/^First password/), ' but longer');
    await person.click(form.getByRole('button', { name: 'Add' }));
    await waitFor(() => expect(form.getByLabelText('Name')).toHaveProperty('value', ''));
    expect(form.queryByRole('alert')).toBeNull();
  });

  test('the demo has people of its own', () => {
    show(<PeopleSettings people={[known({ isDemo: true })]} isDemo />);
    expect(screen.queryByRole('button')).toBeNull();
    expect(screen.getByText('technician, demo')).toBeTruthy();
  });
});

describe('tokens', () => {
  const scopes = [
    { id: 'read', words: 'read jobs' },
    { id: 'bench', words: 'be a bench' },
  ];
  test('one is made for what it may do, shown once, and taken back', async () => {
    jest
      .mocked(keepNewToken)
      .mockResolvedValueOnce(refused('Allowed: choose what'))
      .mockResolvedValueOnce(kept('secret-1'));
    jest.mocked(takeTokenBack).mockResolvedValue(kept(undefined));
    const tokens = [{ id: 9, name: 'Cellar', may: 'be a bench', person: 'The lead', used: 'not used yet' }];
    const { person } = show(<TokensSettings tokens={tokens} scopes={scopes} />);
    await person.type(screen.getByLabelText(/^Name/), 'Script');
    await person.click(screen.getByRole('button', { name: 'Create a token' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Allowed: choose what');
    await person.click(screen.getByLabelText('be a bench'));
    await person.click(screen.getByLabelText('read jobs'));
    await person.click(screen.getByLabelText('be a bench'));
    await person.click(screen.getByRole('button', { name: 'Create a token' }));
    expect(await screen.findByText('secret-1')).toBeTruthy();
    expect(keepNewToken).toHaveBeenLastCalledWith({ name: 'Script', scopes: ['read'] });
    expect(screen.getByLabelText(/^Name/)).toHaveProperty('value', '');
    await person.click(screen.getByRole('button', { name: 'Revoke' }));
    await waitFor(() => expect(takeTokenBack).toHaveBeenCalledWith(9));
  });
});
