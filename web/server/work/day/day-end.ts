import {
  dayBounds,
  dayOf,
  feeOf,
  type DeviceClass,
  gradeTypes,
  minutesByKind,
  nextWorkday,
  waitTypes,
  workTypes,
  type HandTime,
  type OutcomeGrade,
  type WorkKind,
} from '@umbral/core';
import icalendar, { ICalAlarmType } from 'ical-generator';
import { fingerprintOfShop } from '../exchange/exchange.ts';
import { csvOf } from '../../record/csv.ts';
import { db } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import { loadPolicy, type KeptPolicy } from '../shop/policy.ts';
import { runningWaits, waitWords } from '../entries/waits.ts';

/** What a day came to, and what was promised for the next. */
export interface DayEnd {
  /** Day of the calendar, YYYY-MM-DD, with the one before it and the one after it. */
  day: string;
  before: string;
  after: string;
  isToday: boolean;
  closed: { jobId: number; label: string; says: string }[];
  /** How the jobs ended, the most frequent first. */
  outcomes: { says: string; count: number }[];
  money: DayMoney;
  /** Jobs that something was entered in, with how much. */
  worked: { jobId: number; label: string; entries: number }[];
  minutes: { kind: string; minutes: number; by: { who: string; minutes: number }[] }[];
  next: string | null;
  promised: { jobId: number; label: string; at: string; isPromise: boolean }[];
}

/** What a day brought and took, in the shop's currency. */
interface DayMoney {
  /** Fees of what was repaired, and of diagnoses. */
  fees: number;
  parts: number;
  /** The minutes in hand, at what an hour costs. */
  work: number;
  left: number;
}

const dayPattern = /^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/;

/**
 * A day at its end: what was closed and worked on, the minutes by kind of work, what is promised for the next day of work.
 *
 * @param asked a day as YYYY-MM-DD; today where left out
 * @throws {ExpectedError} for what is no day
 */
export async function loadDayEnd(asked?: string, now = new Date()): Promise<DayEnd> {
  const q = db();
  const policy = await loadPolicy(q);
  const { hours } = policy;
  const today = dayOf(hours, now);
  const day = asked ?? today;
  if (!dayPattern.test(day))
    throw new ExpectedError('input', `Day: "${day}" is not a date; expected one such as 2026-11-27.`);
  const { from, to } = dayBounds(hours, day);
  const inDay = [from, to] as const;
  const closed = (await q('jobs')
    .where({ is_practice: false })
    .whereNull('deleted_at')
    .whereBetween('closed_at', inDay)
    .orderBy('closed_at')
    .select('id', 'label', 'outcome_grade', 'device_class', 'fee')) as ClosedJob[];
  const worked = (await q('audit')
    .join('jobs', 'jobs.id', 'audit.job_id')
    .where('jobs.is_practice', false)
    .whereNull('jobs.deleted_at')
    .whereBetween('audit.created_at', inDay)
    .groupBy('jobs.id', 'jobs.label')
    .orderBy('jobs.id')
    .select({ jobId: 'jobs.id', label: 'jobs.label' }, q.raw('count(*)::int AS entries'))) as DayEnd['worked'];
  const takes = (await q('takes')
    .join('people', 'people.id', 'takes.person_id')
    .where('takes.started_at', '<', to)
    .where((w) => w.whereNull('takes.ended_at').orWhere('takes.ended_at', '>', from))
    .select({ kind: 'takes.kind', who: 'people.name', from: 'takes.started_at', to: 'takes.ended_at' })) as HandTime[];
  const next = nextWorkday(hours, day);
  const minutes = minutesByKind(takes, from, to, now);
  const grades = closed.map((j) => j.outcome_grade);
  const outcomes = [...new Set(grades)]
    .map((grade) => ({ says: gradeTypes[grade].name, count: grades.filter((g) => g === grade).length }))
    .sort((a, b) => b.count - a.count);
  return {
    day,
    before: dayOf(hours, new Date(from.getTime() - 1)),
    after: dayOf(hours, to),
    isToday: day === today,
    closed: closed.map((j) => ({ jobId: j.id, label: j.label, says: gradeTypes[j.outcome_grade].name })),
    outcomes,
    money: moneyOf(
      policy,
      closed,
      await partsUsed(inDay),
      minutes.reduce((sum, m) => sum + m.minutes, 0),
    ),
    worked,
    minutes: minutes.map((m) => ({ ...m, kind: workTypes[m.kind as WorkKind].name })),
    next,
    promised: next === null ? [] : await promisedUntil(dayBounds(hours, next).to),
  };
}

interface ClosedJob {
  id: number;
  label: string;
  outcome_grade: OutcomeGrade;
  device_class: DeviceClass;
  fee: number | null;
}

/** What was taken off the shelf for jobs within a time, at what it cost. */
async function partsUsed(within: readonly [Date, Date]): Promise<number> {
  const found = await db()('part_moves as m')
    .join('parts as p', 'p.id', 'm.part_id')
    .whereIn('m.why', ['taken', 'returned'])
    .whereBetween('m.created_at', within)
    .select(db().raw('coalesce(sum(-m.delta * p.cost), 0) AS cost'))
    .first();
  return Number(found?.cost ?? 0);
}

/** A fee is earned where the cause was found and repaired; where nothing was repaired, that of a diagnosis. */
function moneyOf(policy: KeptPolicy, closed: readonly ClosedJob[], parts: number, minutes: number): DayMoney {
  const fees = closed.reduce(
    (sum, j) =>
      sum + (gradeTypes[j.outcome_grade].isConfirmed ? (j.fee ?? feeOf(policy, j.device_class)) : policy.diagnosisFee),
    0,
  );
  const work = (minutes / 60) * policy.hourlyCost;
  return { fees, parts, work, left: fees - parts - work };
}

/** What is promised or due until a moment and still open, the earliest first. */
async function promisedUntil(until: Date): Promise<DayEnd['promised']> {
  const rows = (await db()('jobs')
    .where({ is_practice: false })
    .whereNull('deleted_at')
    .whereNull('closed_at')
    .whereRaw('least(promised_at, due_at) < ?', [until])
    .orderByRaw('least(promised_at, due_at)')
    .select('id', 'label', 'promised_at', 'due_at')) as {
    id: number;
    label: string;
    promised_at: Date | null;
    due_at: Date | null;
  }[];
  return rows.map(({ id, label, promised_at, due_at }) => {
    const isPromise = promised_at !== null && (due_at === null || promised_at <= due_at);
    return { jobId: id, label, at: ((isPromise ? promised_at : due_at) as Date).toISOString(), isPromise };
  });
}

/** How long before a date its alarm rings, seconds. */
const alarmS = 30 * 60;

/**
 * Promises, due dates and waits as a calendar file.
 *
 * @see RFC 5545, Internet Calendaring and Scheduling
 */
export async function calendarFile(now = new Date()): Promise<string> {
  const q = db();
  // Two shops may stand in one calendar.
  const shop = await fingerprintOfShop().catch(() => 'umbral');
  const host = `${shop.replace(/[^\w]/g, '').slice(0, 16).toLowerCase()}.umbral`;
  const alarms = [{ type: ICalAlarmType.display, trigger: alarmS }];
  const calendar = icalendar({ name: 'Bench', prodId: { company: 'Umbral', product: 'Bench', language: 'EN' } });
  const far = new Date(now.getTime() + 366 * 86_400_000);
  for (const { jobId, label, at, isPromise } of await promisedUntil(far))
    calendar.createEvent({
      id: `job-${jobId}-${isPromise ? 'promise' : 'due'}@${host}`,
      alarms,
      start: new Date(at),
      end: new Date(Date.parse(at) + 15 * 60_000),
      stamp: now,
      summary: `${isPromise ? 'Promised' : 'Due'}: ${label}`,
    });
  for (const wait of await runningWaits(q)) {
    if (wait.until === null) continue;
    calendar.createEvent({
      id: `wait-${wait.id}@${host}`,
      alarms: [{ type: ICalAlarmType.display, trigger: 0 }],
      start: new Date(wait.until),
      end: new Date(Date.parse(wait.until) + 5 * 60_000),
      stamp: now,
      summary: `${wait.label}: ${waitWords(wait)}`,
      description: waitTypes[wait.kind].then,
    });
  }
  return `${calendar.toString().replace(/\r?\n$/, '')}\r\n`;
}

/** Jobs that are written at once. */
const rowsAtOnce = 1000;

/** Every job with its dates, terms and outcome as a table, safe to open in a spreadsheet; some at a time. */
export async function* jobsCsv(): AsyncGenerator<string> {
  for (let last = 0; ;) {
    const rows = await jobRows(last);
    if (rows.length === 0 && last > 0) return;
    const text = csvOf(rows);
    yield last === 0 ? text : text.slice(text.indexOf('\r\n') + 2);
    if (rows.length < rowsAtOnce) return;
    last = Number(rows[rows.length - 1].id);
  }
}

async function jobRows(after: number): Promise<Record<string, unknown>[]> {
  const rows = (await db()('jobs')
    .where('id', '>', after)
    .where({ is_practice: false })
    .whereNull('deleted_at')
    .orderBy('id')
    .limit(rowsAtOnce)
    .select(
      'id',
      'label',
      { device: 'device_class' },
      'model',
      'stage',
      'complaint',
      { 'came in': 'created_at' },
      { due: 'due_at' },
      { promised: 'promised_at' },
      { agreed: 'agreed_at' },
      'fee',
      { closed: 'closed_at' },
      { outcome: 'outcome_grade' },
      { circuit: 'outcome_circuit' },
      db().raw(
        '(SELECT round(sum(extract(epoch FROM coalesce(ended_at, now()) - started_at)) / 60) FROM takes WHERE job_id = jobs.id)::int AS minutes',
      ),
    )) as Record<string, unknown>[];
  return rows.map((row) =>
    Object.fromEntries(Object.entries(row).map(([k, v]) => [k, v instanceof Date ? v.toISOString() : (v ?? '')])),
  );
}
