import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import { jobInput } from '../../record/input.ts';
import { boundsAlone, freeLeads, onLeads, putOnLeads } from './on-leads.ts';
import * as jobEdits from '../../work/entries/job-edits.ts';

giveTestDatabase();

describe('a supply that is armed for no job', () => {
  test('obeys the device on its leads until somebody says that it is off them, or its job is over', async () => {
    const jobId = await jobEdits.createJob(
      jobInput.validateSync({ label: 'van phone', deviceClass: 'phone', intake: {} }),
    );
    expect((await boundsAlone('left')).maxV).toBe(1000);
    await putOnLeads('left', jobId);
    const bounds = await boundsAlone('left');
    expect(bounds.maxV).toBeLessThan(6);
    expect(bounds.why).toMatch(new RegExp(`^van phone \\(job ${jobId}\\) is on the leads: full battery of`));
    expect((await boundsAlone('right')).maxV).toBe(1000);
    await jobEdits.setTrashed(jobId, true);
    expect(await onLeads('left')).toBeNull();
    await jobEdits.setTrashed(jobId, false);
    expect(await onLeads('left')).toEqual({ jobId, label: 'van phone' });
    await freeLeads('left');
    expect((await boundsAlone('left')).maxV).toBe(1000);
    expect(await db()('audit').where({ job_id: jobId, what: 'device disconnected from the leads' })).toHaveLength(1);
  });
});
