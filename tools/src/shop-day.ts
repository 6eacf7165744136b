import {
  circuitIds,
  type EquipmentId,
  feeOf,
  repairMinutes,
  successOf,
  type ShopPolicy,
  byPrice,
  presenceOf,
  orderWork,
  usualBench,
  usualHours,
  usualWait,
  workAhead,
  workUntil,
  type BenchDay,
  type JobInHand,
  type Task,
} from '@umbral/core';
import { believingJob, simulatedShop, type SimulatedJob } from './made-up-jobs.ts';
import settings from './shop-day.json';

const minutesPerDay = 1440;

/** How a bench may decide what comes next. */
export type DayRule = 'sheet' | 'due' | 'cheapest' | 'price';

/** What came of a time at the bench. */
export interface BenchResult {
  /** Fees of what was finished, less what its parts cost, euros. */
  euros: number;
  /** Hours of presence of everybody. */
  hours: number;
  finished: number;
  declined: number;
  /** Taken back by customers who waited too long. */
  withdrawn: number;
  /** Due within that time and not closed by then. */
  late: number;
  due: number;
}

type Phase = 'tests' | 'repair' | 'proof' | 'close' | 'decline' | 'over';

interface Standing {
  job: SimulatedJob;
  hand: JobInHand;
  phase: Phase;
  testsLeft: number;
  ready: number;
  closed: number | null;
  task: Task;
}

/** How a bench is simulated. */
export interface SimulateOptions {
  technicians?: number;
  /** Days of the calendar, from a Monday on. */
  days?: number;
  shop?: ShopPolicy;
  bench?: Omit<BenchDay, 'technicians'>;
}

/** A bench that is worked for some days by one rule. */
export class SimulatedBench {
  private readonly shop: ShopPolicy;
  private readonly day: BenchDay;
  private readonly rule: DayRule;
  private readonly jobs: Standing[];
  private readonly busy: Record<string, number[]>;
  private euros = 0;
  private finished = 0;
  private declined = 0;
  private withdrawn = 0;
  private readonly end: number;
  private before: number[] = [];

  constructor(jobs: readonly SimulatedJob[], rule: DayRule, options: SimulateOptions = {}) {
    const { technicians = 1, days = settings.days, shop = simulatedShop, bench = usualBench } = options;
    this.end = days * minutesPerDay;
    this.rule = rule;
    this.shop = shop;
    const spans = presenceOf({ ...usualHours, zone: settings.zone }, new Date(settings.begins), days + 1);
    this.day = {
      ...bench,
      technicians: Array.from({ length: technicians }, (_, k) => ({ id: k + 1, maxDepth: 5, spans })),
    };
    this.busy = Object.fromEntries(
      Object.entries(this.day.equipment).map(([id, n]) => [id, new Array<number>(n).fill(0)]),
    );
    this.jobs = jobs.map((job, k) => ({
      job,
      hand: job.hand,
      phase: 'tests',
      testsLeft: job.truth.testMinutes,
      ready: job.arrives,
      closed: null,
      task: this.taskOf(job.hand, k, job),
    }));
  }

  run(): BenchResult {
    const { end } = this;
    const { technicians } = this.day;
    const free = technicians.map(() => 0);
    const at: (string | null)[] = technicians.map(() => null);
    for (;;) {
      const who = free.indexOf(Math.min(...free));
      const now = workUntil(technicians[who].spans, free[who], 0);
      if (now >= end) break;
      const k = this.choose(now);
      if (k === null) {
        free[who] = this.nextEvent(now);
        continue;
      }
      const s = this.jobs[k];
      const [stretch] = s.task.stretches;
      const minutes = this.minutesOf(s) + (at[who] === null || at[who] === stretch.place ? 0 : this.day.changeMinutes);
      const until = workUntil(technicians[who].spans, now, minutes);
      at[who] = stretch.place;
      for (const e of stretch.uses) this.occupy(e, now, until);
      free[who] = until;
      s.ready = until;
      if (until <= end) this.after(s, until);
      else break;
    }
    return this.result(end);
  }

  /** The first of the order that can be gone on with now. */
  private choose(now: number): number | null {
    this.letGo(now);
    const open = this.jobs
      .map((_, k) => k)
      .filter((k) => this.jobs[k].phase !== 'over' && this.jobs[k].job.arrives <= now);
    for (const k of this.ordered(open, now)) {
      const { ready, task } = this.jobs[k];
      if (ready <= now && task.stretches[0].uses.every((e) => this.busy[e].some((t) => t <= now))) return k;
    }
    return null;
  }

  /** Customers who have waited too long take their device back. */
  private letGo(now: number): void {
    for (const s of this.jobs) {
      if (
        s.phase === 'over' ||
        s.job.arrives > now ||
        s.task.value >= settings.keepsFrom * feeOf(this.shop, s.hand.deviceClass)
      )
        continue;
      const until =
        (s.job.due ?? s.job.arrives + settings.undatedDays * minutesPerDay) + settings.patienceDays * minutesPerDay;
      if (until > now) continue;
      this.withdrawn++;
      s.phase = 'over';
    }
  }

  private ordered(open: number[], now: number): number[] {
    const tasks = open.map((k) => this.taskAt(k, now));
    const by = (value: (k: number) => number): number[] =>
      [...open].sort((a, b) => value(open.indexOf(a)) - value(open.indexOf(b)) || a - b);
    if (this.rule === 'due') return by((k) => tasks[k].due ?? Infinity);
    if (this.rule === 'cheapest') return by((k) => tasks[k].stretches[0].minutes);
    if (this.rule === 'price') return byPrice(tasks, this.day).map((k) => open[k]);
    const shifted = this.day.technicians.map((t) => ({
      ...t,
      spans: t.spans
        .filter(([, to]) => to > now)
        .map(([from, to]): [number, number] => [Math.max(0, from - now), to - now]),
    }));
    const before = this.before.map((k) => open.indexOf(k)).filter((k) => k >= 0);
    const all = [...before, ...open.map((_, k) => k).filter((k) => !before.includes(k))];
    const { order } = orderWork(tasks, { ...this.day, technicians: shifted }, { tries: settings.tries, before: all });
    this.before = order.map((k) => open[k]);
    return this.before;
  }

  private taskAt(k: number, now: number): Task {
    const s = this.jobs[k];
    return { ...s.task, release: Math.max(0, s.ready - now), due: s.job.due === null ? null : s.job.due - now };
  }

  private taskOf(hand: JobInHand, id: number, job: SimulatedJob): Task {
    const { stretches, value } = workAhead(hand, this.shop);
    return { id: id + 1, release: 0, stretches, value, due: job.due, heldBy: null, rank: null };
  }

  /** How long the stretch in hand takes in truth. */
  private minutesOf(s: Standing): number {
    const { truth } = s.job;
    if (s.phase === 'tests') return Math.max(1, Math.min(s.testsLeft, s.task.stretches[0].minutes));
    if (s.phase === 'repair') return repairMinutes(truth.circuit) * truth.repairFactor;
    return s.task.stretches[0].minutes;
  }

  /** What follows when the stretch in hand is over. */
  private after(s: Standing, now: number): void {
    const { truth } = s.job;
    if (s.phase === 'tests' && workAhead(s.hand, this.shop).isVain) {
      this.declined++;
      this.close(s, now);
    } else if (s.phase === 'tests') {
      s.testsLeft -= s.task.stretches[0].minutes;
      if (s.testsLeft > 1) return this.settle(s, 'tests', s.hand);
      const { stretches, isVain } = workAhead(this.known(s), this.shop);
      const pays = truth.isFound && !isVain && stretches.some((x) => x.work === 'repair');
      if (!pays) return this.settle(s, 'decline', this.vain(s));
      s.ready = now + truth.partMinutes;
      return this.settle(s, 'repair', this.known(s));
    }
    if (s.phase === 'repair') {
      const success = truth.luck < successOf(this.shop, truth.circuit);
      s.ready = now + usualWait(s.hand.liquid ? 'dry' : 'cool');
      return this.settle(s, success ? 'proof' : 'decline', success ? this.well(s) : this.vain(s));
    }
    if (s.phase === 'proof') {
      s.ready = now + usualWait('soak');
      return this.settle(s, 'close', this.well(s));
    }
    if (s.phase === 'close') {
      this.euros += feeOf(this.shop, s.hand.deviceClass) + (s.hand.dataWanted ? this.shop.dataFee : 0);
      this.finished++;
    } else this.declined++;
    this.close(s, now);
  }

  private close(s: Standing, now: number): void {
    s.phase = 'over';
    s.closed = now;
  }

  private settle(s: Standing, phase: Phase, hand: JobInHand): void {
    s.phase = phase;
    s.hand = hand;
    const task = this.taskOf(hand, s.task.id - 1, s.job);
    const { stretches } = workAhead(hand, this.shop);
    // After the proof only closing is left; before the repair, no more tests.
    const keep =
      phase === 'close'
        ? task.stretches.slice(-1)
        : phase === 'repair'
          ? stretches.filter((x) => x.work !== 'test')
          : task.stretches;
    s.task = { ...task, stretches: keep.length > 0 ? keep : task.stretches };
  }

  /** The circuit is known. */
  private known(s: Standing): JobInHand {
    const k = circuitIds.indexOf(s.job.truth.circuit);
    const p = circuitIds.map((_, i) => (i === k ? settings.knownAt : (1 - settings.knownAt) / (circuitIds.length - 1)));
    return believingJob(s.hand, p, { minutes: 0, decided: 1 }, 0, 0);
  }

  /** Nothing can be done about it. */
  private vain(s: Standing): JobInHand {
    const none = circuitIds.map(() => 0);
    return believingJob(s.hand, none, { minutes: 1, decided: 0 }, 0, 1);
  }

  /** It works; what is left is to show it. */
  private well(s: Standing): JobInHand {
    const proof = { protocols: [{ minutes: 12, steps: [{ result: null }] }] };
    const assessment = {
      ...s.hand.assessment,
      now: [{ id: 'works', p: 1 }],
      next: [],
      proof,
    } as unknown as JobInHand['assessment'];
    return { ...s.hand, assessment };
  }

  private occupy(id: EquipmentId, from: number, until: number): void {
    const list = this.busy[id];
    const k = list.findIndex((t) => t <= from);
    if (k >= 0) list[k] = until;
  }

  private nextEvent(now: number): number {
    const times = [
      ...this.jobs.filter((s) => s.phase !== 'over').map((s) => Math.max(s.ready, s.job.arrives)),
      ...Object.values(this.busy).flat(),
    ];
    return Math.min(...times.filter((t) => t > now), this.end);
  }

  private result(end: number): BenchResult {
    const hours = this.day.technicians.reduce(
      (sum, t) => sum + t.spans.reduce((m, [from, to]) => m + Math.max(0, Math.min(to, end) - from), 0) / 60,
      0,
    );
    const due = this.jobs.filter((s) => s.job.due !== null && s.job.due <= end);
    const late = due.filter((s) => s.closed === null || s.closed > (s.job.due as number)).length;
    const { euros, finished, declined, withdrawn } = this;
    return { euros, hours, finished, declined, withdrawn, late, due: due.length };
  }
}
