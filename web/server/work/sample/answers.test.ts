import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { giveTestDatabase } from '../../../testing/database.ts';
import { answersFile, assessBeside, keptAnswers, keyOf, learnedIn, packAnswers, type Answers } from './answers.ts';
import { loadSampleFleet } from './load.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));
giveTestDatabase();

/** "npm run sample-answers" works all of them out and keeps them; a test run looks at some. */
const isKept = process.env.UMBRAL_KEEP_ANSWERS === 'yes';
const everyNth = 5;

test('the verdicts on the sample fleet are those that this engine gives; "npm run sample-answers" keeps them', async () => {
  const kept = keptAnswers();
  const found: Answers = new Map();
  const missing: string[] = [];
  const other: string[] = [];
  await loadSampleFleet(new Date('2026-11-20T12:00:00Z'), (q) => async (...asked) => {
    const key = keyOf(await learnedIn(q), ...asked);
    const known = isKept ? undefined : kept.get(key);
    if (!known) missing.push(asked[0].id);
    const answer = known && found.size % everyNth > 0 ? known : await assessBeside(q)(...asked);
    if (known && JSON.stringify(known) !== JSON.stringify(answer)) other.push(asked[0].id);
    found.set(key, answer);
    return answer;
  });
  expect(found.size).toBeGreaterThan(20);
  if (isKept) writeFileSync(join(__dirname, answersFile), `${JSON.stringify({ packed: packAnswers(found) })}\n`);
  else expect({ missing, other }).toEqual({ missing: [], other: [] });
});
