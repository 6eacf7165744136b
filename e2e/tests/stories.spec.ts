import { expect, test } from '../fixtures.ts';
import { StoryPlayer } from '../story-player.ts';
import { loadStory } from '../story.ts';

/**
 * Whole repairs, entered as a technician enters them: from the intake to the proof. All of them are entered below the pages in
 * web/server/work/entries/stories.test.ts; these go through the dialogs, a log file, a place that gets its name late, a change that is taken
 * back, units from the shelf and boards that come apart.
 */
const stories = [
  'one-converter-three-outputs',
  'quiet-then-too-much',
  'the-lower-half-alone',
  'a-donor-board-tells',
  'laid-together-it-runs',
];

for (const name of stories)
  test(`a whole repair: ${name.replaceAll('-', ' ')}`, async ({ page }) => {
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
    const { state } = await player.verdict();
    await expect(page.getByLabel('State of the device')).toContainText(state?.sentence ?? '');
    const proofs = page.getByRole('region', { name: 'Proofs' });
    if (/^works/.test(state?.id ?? '')) await expect(proofs).toBeVisible();
    else await expect(page.getByRole('list', { name: 'Suspects' })).toBeVisible();
  });
