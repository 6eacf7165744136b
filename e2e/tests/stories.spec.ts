import { expect, test } from '../fixtures.ts';
import { StoryPlayer } from '../story-player.ts';
import { loadStory } from '../story.ts';

/**
 * Whole repairs, entered as a technician enters them: from the intake to the proof. All of them are entered below the pages in
 * web/server/jobs/stories.test.ts; these go through the dialogs, a log file, a place that gets its name late, and a change that is
 * taken back.
 */
const stories = ['one-converter-three-outputs', 'quiet-then-too-much', 'the-lower-half-alone'];

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
    const { now } = await player.verdict();
    const works = now.find((n) => n.id === 'works')?.p ?? 0;
    if (works >= 0.5) await expect(page.getByRole('region', { name: 'Proofs' })).toContainText('It works now');
    else await expect(page.getByRole('list', { name: 'Suspects' })).toBeVisible();
  });
