import { join } from 'node:path';
import type { Assessment, Case, Intake } from '@umbral/core';
import { chooseFrom, expect, saveDialog, takeIn, typeRun } from './fixtures.ts';
import type { Locator, Page } from '@playwright/test';
import { type Story, type Step, missedBy } from './story.ts';

/** Checks that ask for a place. */
const placed = ['visual', 'heat-view', 'main-rail-resistance', 'peripherals-unplugged'];

/** Enters stories the way a technician does, by keyboard shortcuts and forms. */
export class StoryPlayer {
  /** Keys that the product gave to the story's changes. */
  private readonly actions = new Map<string, string>();
  private before: Assessment['circuits'] = [];

  constructor(private readonly page: Page) {}

  private get dialog(): Locator {
    return this.page.getByRole('dialog');
  }

  /** Takes the device in; what is known of its model is typed with it. */
  async begin(story: Story): Promise<void> {
    const { page } = this;
    await takeIn(page, story.device.model, {
      kind: story.device.class,
      complaint: story.complaintKind,
      says: story.complaint,
      known: knownFields(story.device.expect ?? {}),
    });
    const flags = story.intake ?? {};
    if (Object.values(flags).some(Boolean)) await this.editIntake(flags);
  }

  /** Enters what a step adds, in the order in which a bench works: what was done, then what was seen. */
  async enter({ add = {} }: Step): Promise<void> {
    if (add.intake) await this.editIntake(add.intake);
    // What was seen before a change of the same step goes in before it.
    const ids = new Set((add.actions ?? []).map((a) => a.id));
    const isAfter = (x: { after?: string | null }): boolean =>
      x.after !== undefined && x.after !== null && ids.has(x.after);
    await this.see(add, (x) => !isAfter(x));
    for (const action of add.actions ?? []) await this.change(action);
    await this.see(add, isAfter);
    for (const place of add.places ?? []) await this.name(place);
  }

  /** Says in the story which net a place is on that was entered without a circuit. */
  private async name({ where, circuit }: { where: string; circuit: string }): Promise<void> {
    const { page, dialog } = this;
    const entry = page.getByRole('list', { name: 'History' }).getByRole('listitem').filter({ hasText: where });
    await entry.getByRole('button', { name: 'Which net is it on?' }).first().click();
    await expect(dialog).toHaveCount(1);
    await this.pick('Circuit', circuit);
    await this.save();
  }

  private async see(add: NonNullable<Step['add']>, take: (x: { after?: string | null }) => boolean): Promise<void> {
    for (const run of (add.runs ?? []).filter(take)) await this.run(run);
    for (const check of (add.checks ?? []).filter(take)) await this.check(check);
    for (const reading of (add.readings ?? []).filter(take)) await this.reading(reading);
    for (const injection of (add.injections ?? []).filter(take)) await this.injection(injection);
  }

  private async open(key: string): Promise<void> {
    await this.page.keyboard.press(key);
    await expect(this.dialog).toHaveCount(1);
  }

  /** What an entry follows, where that is not the newest change. */
  private async follows(after: string | null | undefined): Promise<void> {
    const select = this.dialog.getByLabel('Follows');
    if (this.actions.size === 0) return;
    await select.selectOption(after ? (this.actions.get(after) ?? '') : '');
  }

  private async pick(label: string, value: string | null | undefined): Promise<void> {
    if (value) await this.dialog.getByLabel(label, { exact: true }).selectOption(value);
  }

  private async fill(label: string, value: string): Promise<void> {
    if (value !== '') await this.dialog.getByLabel(label, { exact: true }).fill(value);
  }

  private save(): Promise<void> {
    return saveDialog(this.dialog);
  }

  private async run(run: NonNullable<NonNullable<Step['add']>['runs']>[number]): Promise<void> {
    const { page, dialog } = this;
    if (run.typed) await typeRun(page, run.typed);
    else await this.log(run);
    if (run.contract) {
      await page.getByRole('button', { name: 'Setup' }).click();
      await dialog.getByLabel('Contract', { exact: true }).selectOption(run.contract.kind);
      if (run.contract.kind === 'pd') await this.fill('Contract voltage', `${run.contract.volts ?? ''} V`);
      await this.save();
    }
  }

  private async log({ file, feed, setup }: NonNullable<NonNullable<Step['add']>['runs']>[number]): Promise<void> {
    const { page, dialog } = this;
    await page
      .getByRole('button', { name: /^(Add a run|Run)/ })
      .first()
      .click();
    await page.getByRole('tab', { name: 'Log files' }).click();
    await page
      .getByLabel('Log files')
      .last()
      .setInputFiles(join(__dirname, 'stories', 'logs', file ?? ''));
    await dialog.getByLabel('Feed', { exact: true }).selectOption(feed);
    if (setup?.setV) await this.fill('Set voltage', `${setup.setV} V`);
    if (setup?.limitA) await this.fill('Limit', `${setup.limitA} A`);
    await this.pick('Battery', setup?.battery);
    await this.pick('Display', setup?.display);
    await this.pick('Assembly', setup?.assembly);
    await this.pick('State before the run', setup?.deviceState);
    await dialog.getByRole('button', { name: 'Add run' }).click();
    await expect(dialog.getByText(/added as r/)).toBeVisible();
    await dialog.getByRole('button', { name: 'Done' }).click();
    await expect(dialog).toHaveCount(0);
  }

  private async check(check: NonNullable<NonNullable<Step['add']>['checks']>[number]): Promise<void> {
    const { dialog } = this;
    await this.open('c');
    await dialog.getByLabel('Check', { exact: true }).selectOption(check.id);
    if (check.outcome) await dialog.locator(`label:has(input[value="${check.outcome}"])`).click();
    const where = dialog.getByLabel('Where', { exact: true });
    // The form of another check may still be there; which ones ask for a place is known.
    if (placed.includes(check.id)) {
      await expect(where).toBeVisible();
      await where.fill(check.where ?? '');
      await this.pick('Circuit', check.circuit);
      if (check.id === 'heat-view') await this.fill('Fed at', check.rail ?? '');
      await this.fill('Note', check.note ?? '');
    } else await this.fill('Note', [check.note, check.where].filter(Boolean).join(', '));
    await this.follows(check.after);
    await this.save();
  }

  private async reading(r: NonNullable<NonNullable<Step['add']>['readings']>[number]): Promise<void> {
    const { dialog } = this;
    await this.open('m');
    await dialog.getByLabel('Mode').selectOption(r.mode);
    await this.fill('Where', r.where);
    const unit = r.mode === 'resistance' ? ' ohm' : ' V';
    const value = r.says
      ? r.says.replace('-', ' ')
      : r.ol
        ? 'OL'
        : r.swing
          ? `${r.swing.low}~${r.swing.high}`
          : `${r.shownOhm ?? r.value}${unit}`;
    await this.fill('Value', value);
    if (r.reference !== null && r.reference !== undefined)
      await this.fill('Known-good board reads', `${r.reference}${unit}`);
    await this.pick('Circuit', r.circuit);
    if (r.mode === 'voltage') {
      await this.pick('Rail state', r.state);
      await this.pick('Measured', r.feed ? 'plugged' : r.prompted ? 'after' : r.prompted === false ? 'before' : '');
    } else {
      await this.pick('Red probe at', r.redProbe);
      if (r.leadsOhm) await this.fill('Leads together', String(r.leadsOhm));
      if (r.across) await dialog.getByLabel(/across a part/).check();
    }
    await this.follows(r.after);
    const button = dialog.locator('button[type=submit]');
    await button.click();
    await expect(async () => {
      const isKept = await dialog.getByText('One reading saved.', { exact: false }).isVisible();
      if (!isKept && /anyway|as another/.test(await button.innerText())) await button.click();
      expect(isKept).toBe(true);
    }).toPass({ timeout: 120_000 });
    await this.page.keyboard.press('Escape');
    await expect(dialog).toHaveCount(0);
  }

  private async injection(i: NonNullable<NonNullable<Step['add']>['injections']>[number]): Promise<void> {
    await this.open('j');
    const ampere = (x: number | null | undefined): string => (x === null || x === undefined ? '' : `${x} A`);
    await this.fill('Rail', i.rail);
    await this.pick('Circuit', i.circuit);
    await this.fill('Volts', `${i.setV} V`);
    await this.fill('Limit', ampere(i.limitA));
    await this.fill('Amperes', ampere(i.amps));
    if (i.leadsOhm) await this.fill('Leads', `${i.leadsOhm} ohm`);
    await this.fill('Known-good board draws', ampere(i.referenceA));
    await this.pick('What got warm', i.heat);
    if (i.hot) await this.fill('Where it got warm', i.hot);
    await this.pick('Circuit of the warm part', i.hotCircuit);
    await this.follows(i.after);
    await this.save();
  }

  private async change(a: NonNullable<NonNullable<Step['add']>['actions']>[number]): Promise<void> {
    await this.open('x');
    await this.pick('What was done', a.kind);
    await this.pick('Circuit', a.circuit);
    await this.fill('Part', a.target ?? '');
    await this.fill('Note', a.note ?? '');
    if (a.unit) await this.pick('Whole unit', a.unit);
    if (a.with) await this.pick('What came in', a.with);
    if (a.undoes) await this.pick('Undoes', this.actions.get(a.undoes));
    const story = this.page.getByRole('list', { name: 'History' }).getByRole('listitem');
    const before = await story.count();
    await this.save();
    // What is entered next follows the newest change that the page knows.
    await expect.poll(() => story.count()).toBeGreaterThan(before);
    this.actions.set(a.id, `a${this.actions.size + 1}`);
  }

  private async editIntake(flags: Partial<Intake>): Promise<void> {
    const { page, dialog } = this;
    await chooseFrom(page.getByRole('button', { name: 'More', exact: true }), 'Edit intake');
    const labels: Partial<Record<keyof Intake, RegExp>> = {
      batterySwollen: /Battery swollen/,
      batteryIsolated: /removed and stored safely/,
      liquid: /Liquid damage/,
      dropped: /Dropped/,
      priorRepair: /Repaired or opened before/,
      dataWanted: /Data is needed/,
    };
    for (const [key, label] of Object.entries(labels))
      if (flags[key as keyof Intake]) await dialog.getByLabel(label).check();
    await this.save();
  }

  /** The verdict as it stands. */
  async verdict(): Promise<Assessment> {
    const id = /\/jobs\/(\d+)/.exec(this.page.url())?.[1] ?? '';
    const response = await this.page.request.get(`/api/jobs/${id}/assessment`);
    return ((await response.json()) as { value: Assessment }).value;
  }

  /** What a step expects and is not so, in sentences. */
  async missed(step: Step): Promise<string[]> {
    const verdict = await this.verdict();
    const out = missedBy(verdict, this.before, step);
    this.before = verdict.circuits;
    return out;
  }
}

const fieldOf: Partial<Record<keyof Case['device']['expect'], [label: string, unit: string]>> = {
  mainV: ['Main rail voltage', ' V'],
  batteryV: ['Battery', ' V'],
  dcV: ['DC input', ' V'],
  contractV: ['Contract', ' V'],
  chargeA: ['Charge current', ' A'],
  ports: ['Ports', ''],
  quiescentA: ['Draw when off', ' A'],
  startPeakA: ['Peak during start', ' A'],
  idleA: ['Draw when running', ' A'],
  startsWithoutBattery: ['Starts without the battery', ''],
  startsOnPower: ['Starts when power is connected', ''],
};

/** What is known of a healthy unit, by the label of its field. */
function knownFields(expected: Record<string, unknown>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(expected).flatMap(([key, value]) => {
      const field = fieldOf[key as keyof typeof fieldOf];
      if (!field) return [];
      return [[field[0], typeof value === 'boolean' ? (value ? 'yes' : 'no') : `${String(value)}${field[1]}`]];
    }),
  );
}
