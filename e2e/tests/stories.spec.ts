import { expect, test } from '../fixtures.ts';
import { StoryPlayer } from '../story-player.ts';
import { loadStory } from '../story.ts';

/**
 * Whole repairs, entered as a technician enters them: from the intake to the proof. After every step the call, the state of
 * the device and what comes next have to be what somebody who knows the trade would insist on.
 */
const stories = [
  'a-burnt-part-by-the-socket',
  'a-speck-without-a-name',
  'all-swapped-but-one-chip',
  'draws-unasked-boost-rail',
  'five-volts-and-a-lit-lamp',
  'one-converter-three-outputs',
  'quiet-then-too-much',
  'short-at-the-contract-chip',
  'stop-at-the-companion-chip',
  'swollen-pack-is-not-the-fault',
  'the-lower-half-alone',
  'two-setups-one-clock-supply',
  'zero-and-then-a-junction',
];

for (const name of stories)
  test(`a whole repair: ${name.replaceAll('-', ' ')}`, async ({ page }) => {
    test.setTimeout(240_000);
    const story = loadStory(name);
    const player = new StoryPlayer(page);
    await player.begin(story);
    const missed: string[] = [];
    for (const [k, step] of story.steps.entries()) {
      await player.enter(step);
      for (const says of await player.missed(step)) missed.push(`step ${k + 1} (${step.say.slice(0, 60)}): ${says}`);
    }
    expect(missed).toEqual([]);
    // What the screen says is what was judged.
    const { now } = await player.verdict();
    const works = now.find((n) => n.id === 'works')?.p ?? 0;
    if (works >= 0.5) await expect(page.getByRole('region', { name: 'Proofs' })).toContainText('It works now');
    else await expect(page.getByRole('list', { name: 'Suspects' })).toBeVisible();
  });
