import { createReadStream, readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Assessment } from '@umbral/core';
import { loadStory, type Step, type Story, missedBy } from '../../../../e2e/story.ts';
import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import {
  actionInput,
  checkInput,
  injectionInput,
  jobInput,
  placeNameInput,
  runSetupInput,
  type RunSetupInput,
} from '../../record/input.ts';
import * as jobEdits from './job-edits.ts';
import * as entries from './job-entries.ts';
import { latestAssessment } from '../jobs/jobs.ts';
import { saveReading } from '../opened/measure.ts';
import { measureInput } from '../opened/measure-input.ts';
import { addLogRun, addTypedRun, setRunSetup } from './record.ts';
import { enterChange } from './repair.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));
giveTestDatabase();

type Added = NonNullable<Step['add']>;
type One<K extends keyof Added> = NonNullable<Added[K]> extends (infer T)[] ? T : never;

const folder = join(__dirname, '../../../../e2e/stories');
const units: Record<string, string> = { contractV: 'V', dcV: 'V', batteryV: 'V', mainV: 'V' };
const asTyped = (key: string, value: unknown): string =>
  typeof value === 'boolean'
    ? value
      ? 'yes'
      : 'no'
    : `${String(value)} ${key === 'ports' ? '' : (units[key] ?? 'A')}`;
const amperes = (value: number | null | undefined): string =>
  value === null || value === undefined ? '' : `${value} A`;

/** Enters a story with what the forms of the pages send, as typed; the same in the real interface is e2e/story-player.ts. */
class Bench {
  /** Keys that the product gave to the story's changes, in their order. */
  private readonly actions: string[] = [];
  private constructor(private readonly jobId: number) {}

  static async takeIn(story: Story): Promise<Bench> {
    const known = Object.entries(story.device.expect ?? {}).map(([key, value]) => [key, asTyped(key, value)]);
    const input = {
      label: story.device.model,
      deviceClass: story.device.class,
      complaint: story.complaint ?? '',
      complaintKind: story.complaintKind ?? '',
      intake: story.intake ?? {},
      known: Object.fromEntries(known) as object,
    };
    return new Bench(await jobEdits.createJob(jobInput.validateSync(input)));
  }

  /** What was seen before a change of the same step goes in before it. */
  async enter({ add = {} }: Step): Promise<void> {
    if (add.intake) await this.editIntake(add.intake);
    const ids = (add.actions ?? []).map((a) => a.id);
    const isAfter = (x: { after?: string | null }): boolean => ids.includes(x.after ?? '');
    await this.see(add, (x) => !isAfter(x));
    for (const action of add.actions ?? []) await this.change(action);
    await this.see(add, isAfter);
    for (const place of add.places ?? [])
      await entries.namePlace(placeNameInput.validateSync({ ...place, jobId: this.jobId }));
  }

  async verdict(): Promise<Assessment> {
    return (await latestAssessment(db(), this.jobId))!.result;
  }

  private async see(add: Added, take: (x: { after?: string | null }) => boolean): Promise<void> {
    for (const run of (add.runs ?? []).filter(take)) await this.run(run);
    for (const { id, outcome, note, where, circuit, rail, after } of (add.checks ?? []).filter(take)) {
      const seen = {
        check: id,
        outcome,
        note,
        where,
        circuit,
        rail,
        after: this.keyOf(after),
        jobId: this.jobId,
        confirmed: true,
      };
      await entries.addCheck(checkInput.validateSync(seen));
    }
    for (const reading of (add.readings ?? []).filter(take)) await this.reading(reading);
    for (const injection of (add.injections ?? []).filter(take)) await this.injection(injection);
  }

  private readonly ids: string[] = [];
  /** The key of the change that something follows; null for none. */
  private keyOf(id: string | null | undefined): string | null {
    return id ? this.actions[this.ids.indexOf(id)] : null;
  }

  private async run(run: One<'runs'>): Promise<void> {
    const { jobId } = this;
    if (run.typed) await addTypedRun(jobId, run.typed, undefined);
    else {
      const source = createReadStream(join(folder, 'logs', run.file ?? ''));
      const signal = new AbortController().signal;
      await addLogRun(jobId, { fileName: run.file ?? '', setup: setupOf(run), mapping: null, source, signal });
    }
    if (!run.contract) return;
    const row = (await db()('runs').where({ job_id: jobId }).orderBy('id', 'desc').first())!;
    await setRunSetup(row.id, row.version, {
      ...setupOf({ ...run, setup: row.setup }),
      contract: run.contract.kind,
      contractV: run.contract.volts ? `${run.contract.volts} V` : '',
    });
  }

  private async reading(r: One<'readings'>): Promise<void> {
    const unit = r.mode === 'resistance' ? 'ohm' : 'V';
    const shown = r.swing ? `${r.swing.low}~${r.swing.high}` : `${r.shownOhm ?? r.value} ${unit}`;
    const input = {
      jobId: this.jobId,
      where: r.where,
      mode: r.mode,
      text: r.says?.replace('-', ' ') ?? (r.ol ? 'OL' : shown),
      reference: r.reference === null || r.reference === undefined ? '' : `${r.reference} ${unit}`,
      circuit: r.circuit,
      state: r.mode === 'voltage' ? r.state : null,
      phase:
        r.mode !== 'voltage'
          ? null
          : r.feed
            ? 'plugged'
            : r.prompted
              ? 'after'
              : r.prompted === false
                ? 'before'
                : null,
      redProbe: r.redProbe ?? undefined,
      leadsOhm: r.leadsOhm,
      across: r.across ?? false,
      after: this.keyOf(r.after),
    };
    const taken = await saveReading(measureInput.validateSync(input));
    if (!taken.kept) await saveReading(measureInput.validateSync({ ...input, confirmed: true }));
  }

  private async injection(i: One<'injections'>): Promise<void> {
    const { rail, circuit, heat, hot, hotCircuit } = i;
    const input = { rail, circuit, heat, hot: hot ?? '', hotCircuit, jobId: this.jobId, after: this.keyOf(i.after) };
    const typed = {
      setV: `${i.setV} V`,
      limitA: amperes(i.limitA),
      amps: amperes(i.amps),
      referenceA: amperes(i.referenceA),
    };
    const leadsOhm = i.leadsOhm ? `${i.leadsOhm} ohm` : '';
    await entries.addInjection(injectionInput.validateSync({ ...input, ...typed, leadsOhm }));
  }

  private async change({ id, kind, circuit, target, note, unit, undoes, with: origin }: One<'actions'>): Promise<void> {
    const input = { jobId: this.jobId, kind, circuit, target, note, unit, with: origin, undoes: this.keyOf(undoes) };
    const entered = await enterChange(actionInput.validateSync(input));
    if (!entered.kept) await enterChange(actionInput.validateSync({ ...input, confirmed: true }));
    const keys = await db()('actions').where({ job_id: this.jobId }).orderBy('id').pluck<string[]>('action_key');
    this.ids.push(id);
    this.actions.push(keys.at(-1) ?? '');
  }

  private async editIntake(flags: object): Promise<void> {
    const row = (await db()('jobs').where({ id: this.jobId }).first())!;
    const { label, device_class: deviceClass, model, complaint, complaint_kind: complaintKind } = row;
    const job = { label, deviceClass, model, complaint, complaintKind, intake: { ...row.intake, ...flags } } as object;
    await jobEdits.editJob(this.jobId, row.version, jobInput.validateSync(job));
  }
}

const setupOf = ({
  feed,
  setup = {} as NonNullable<One<'runs'>['setup']>,
}: Pick<One<'runs'>, 'feed' | 'setup'>): RunSetupInput =>
  runSetupInput.validateSync({
    feed,
    setV: setup.setV ? `${setup.setV} V` : '',
    limitA: amperes(setup.limitA),
    battery: setup.battery,
    display: setup.display,
    assembly: setup.assembly,
    deviceState: setup.deviceState,
  });

/**
 * Whole repairs, from the intake to the proof: after every step the call, the state of the device and what comes next have
 * to be what somebody who knows the trade would insist on.
 */
describe('a whole repair', () => {
  const names = readdirSync(folder).flatMap((name) => (name.endsWith('.json') ? [name.replace('.json', '')] : []));

  test('there are some', () => expect(names.length).toBeGreaterThan(10));

  test.each(names)('%s', async (name) => {
    const story = loadStory(name);
    const bench = await Bench.takeIn(story);
    const missed: string[] = [];
    let before: Assessment['circuits'] = [];
    for (const [k, step] of story.steps.entries()) {
      await bench.enter(step);
      const verdict = await bench.verdict();
      for (const says of missedBy(verdict, before, step))
        missed.push(`step ${k + 1} (${step.say.slice(0, 60)}): ${says}`);
      before = verdict.circuits;
    }
    expect(missed).toEqual([]);
  });
});
