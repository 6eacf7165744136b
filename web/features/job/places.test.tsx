import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { jobPlaceIds, jobPlaces } from './places';

const pages = join(__dirname, '../../app/jobs/[id]');

test('every screen under a job is a place of it, asks who opens it, and is named as the place is', () => {
  const found = readdirSync(pages, { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory() ? [entry.name] : [],
  );
  expect(found.sort()).toEqual([...jobPlaceIds].sort());
  for (const id of jobPlaceIds) {
    const text = readFileSync(join(pages, id, 'page.tsx'), 'utf8');
    expect(text).toContain(`title: '${jobPlaces[id].name}'`);
    expect(text).toMatch(new RegExp(`await signedIn\\(|await loadPlace\\('${id}', `));
  }
  const { loadOfJob, loadPlace } = bodies(readFileSync(join(__dirname, 'place.tsx'), 'utf8'));
  expect(loadPlace).toContain('loadOfJob(id, ');
  expect(loadOfJob).toMatch(/signedIn\(\);.*refuseOthersUnit\(/s);
});

/** What stands in each function that a file exports. */
const bodies = (text: string): Record<string, string> =>
  Object.fromEntries(
    text
      .split(/^export (?:async )?(?:function|const) /m)
      .slice(1)
      .map((part) => [/^\w+/.exec(part)![0], part]),
  );

test('no two places have one key', () => {
  const keys = jobPlaceIds.flatMap((id) => jobPlaces[id].key?.[0] ?? []);
  expect(new Set(keys).size).toBe(keys.length);
});
