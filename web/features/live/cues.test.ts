import { cueOf, type LiveCall } from './cues';

const heard = (mode: LiveCall['mode'], id?: NonNullable<LiveCall['pattern']>['id'], p = 0.9): LiveCall => ({
  mode,
  pattern: id ? { id, p } : null,
});

describe('what is sounded', () => {
  test.each<[string, LiveCall | null, LiveCall, ReturnType<typeof cueOf>]>([
    ['nothing while nothing is known', null, heard('cv'), null],
    ['the limit as it is reached', heard('cv'), heard('cc'), 'limit'],
    ['not again while it stays there', heard('cc'), heard('cc'), null],
    ['again after it was left', heard('cv'), heard('cc'), 'limit'],
    ['a limit that is there from the first moment', null, heard('cc'), 'limit'],
    ['a stall once it is likely', heard('cv', 'stall-mid', 0.5), heard('cv', 'stall-mid', 0.7), 'stalled'],
    ['no stall while it is not', null, heard('cv', 'stall-mid', 0.5), null],
    ['not again for another kind of stall', heard('cv', 'stall-low'), heard('cv', 'stall-mid'), null],
    ['a start after a stall', heard('cv', 'stall-mid'), heard('cv', 'normal-start'), 'started'],
    ['charging as it should counts as started', null, heard(null, 'charge-normal'), 'started'],
    ['nothing for a short', heard('cc'), heard('cc', 'limit-at-once'), null],
  ])('%s', (_, was, now, cue) => expect(cueOf(was, now)).toBe(cue));
});
