import {
  plainCheck,
  sketchInstruments,
  times,
  type Action,
  type Case,
  type Check,
  type Feed,
  type Injection,
  type Intake,
  type Marker,
  type Outcome,
  type Proof,
  type Reading,
  type Setup,
  type SketchInstrument,
  type Stroke,
} from '@umbral/core';
import type { Stage } from '../rows.ts';
import type { models } from './models.ts';

/** A run of the sample fleet: typed, or drawn from strokes through an instrument. */
export interface SampleRun {
  typed?: string;
  feed?: Feed;
  strokes?: Stroke[];
  instrument?: SketchInstrument;
  setup?: Partial<Setup>;
  markers?: Marker[];
  quantity?: 'voltage-only';
  after?: string;
}

export interface SampleJob {
  label: string;
  serial: string;
  model: keyof typeof models;
  complaint: string;
  complaintKind: NonNullable<Case['complaintKind']>;
  intake?: Partial<Intake>;
  stage: Stage;
  runs: SampleRun[];
  checks?: Check[];
  readings?: (Partial<Reading> & Pick<Reading, 'where' | 'mode' | 'value'>)[];
  injections?: Injection[];
  actions?: Action[];
  proofs?: Proof[];
  outcome?: Outcome;
  /** Days before now that it came in, days until it is due, hours it still waits. */
  daysAgo: number;
  dueInDays?: number;
  waitsFor?: string;
  waitsHours?: number;
  technician: string;
}

const { logger, meter, display, probe, coarseMeter } = sketchInstruments;
const check = (id: string, outcome: string, note = '', at: Partial<Check> = {}): Check => ({
  ...plainCheck,
  id,
  outcome,
  note,
  ...at,
});
const on = (t: number): Marker => ({ t, event: 'output-on' });
const press = (t: number): Marker => ({ t, event: 'prompt' });
const bench = (setV: number, limitA: number): Partial<Setup> => ({
  setV,
  limitA,
  battery: 'disconnected',
  display: 'connected',
  assembly: 'assembled',
});
const quiet = (seconds: number, amps = 0.002): Stroke => ({ seconds, amps });
const start = (peak: number, idle: number): Stroke[] => [
  { seconds: 0.4, amps: 0.06 * peak },
  { seconds: 0.8, amps: 0.2 * peak },
  { seconds: 9, amps: 0.35 * peak, burstTo: peak, burstS: 0.35 },
  { seconds: 8, amps: 0.7 * idle, burstTo: 1.5 * idle, burstS: 0.6 },
];

/** Made-up jobs in every stage of the work. */
export const fleet: SampleJob[] = [
  {
    label: 'lending tablet, blue case',
    serial: 'HLS-T-014',
    model: 'larkslate',
    complaint: 'Stays black since Tuesday',
    complaintKind: 'no-start',
    stage: 'call',
    daysAgo: 1,
    dueInDays: 2,
    technician: 'bench',
    runs: [
      {
        feed: 'usb-c',
        instrument: meter,
        setup: { port: 1, battery: 'connected', deviceState: 'off' },
        strokes: [
          { seconds: 1.5, amps: 0.3, volts: 5 },
          { seconds: 1.2, amps: 1.1, volts: 9 },
          { seconds: 16, amps: 1.9, volts: 9 },
        ],
      },
      {
        feed: 'usb-c',
        instrument: meter,
        setup: { port: 1, flipped: true, battery: 'connected', deviceState: 'off' },
        strokes: [
          { seconds: 1.4, amps: 0.3, volts: 5 },
          { seconds: 1, amps: 1.1, volts: 9 },
          { seconds: 14, amps: 1.92, volts: 9 },
        ],
      },
      {
        feed: 'battery',
        instrument: logger,
        setup: bench(3.85, 3),
        markers: [on(0), press(5.2)],
        strokes: [
          quiet(5.2, 0.0015),
          { seconds: 1.1, amps: 0.08 },
          { seconds: 1.2, amps: 0.27 },
          { seconds: 9, amps: 0.3 },
        ],
      },
    ],
    checks: [check('screen', 'dark')],
  },
  {
    label: 'field phone of the mobile library van',
    serial: 'HLS-P-003',
    model: 'moorcall',
    complaint: 'Restarts by itself, over and over',
    complaintKind: 'restarts',
    intake: { dropped: true },
    stage: 'isolate',
    daysAgo: 2,
    dueInDays: 0.4,
    technician: 'bench',
    runs: [
      { typed: 'battery 3.8V limit 3A: 0 | prompt (0.09 0.34 0.5 0) loop 6s' },
      {
        feed: 'battery',
        instrument: logger,
        setup: bench(3.8, 3),
        markers: [on(0), press(3)],
        strokes: [
          quiet(3),
          ...times(6, [
            { seconds: 0.6, amps: 0.09 },
            { seconds: 1.6, amps: 0.34 },
            { seconds: 1.8, amps: 0.55 },
            { seconds: 2, amps: 0.004 },
          ]),
        ],
      },
    ],
    checks: [check('screen', 'logo-loop'), check('host-detects', 'nothing')],
  },
  {
    label: 'convertible of the reading room, sticker 7',
    serial: 'HLS-L-007',
    model: 'hearthfold',
    complaint: 'No light, nothing happens on the charger',
    complaintKind: 'no-start',
    intake: { liquid: true, notes: 'tea, two days ago, dried on a radiator' },
    stage: 'record',
    daysAgo: 0.3,
    dueInDays: 5,
    technician: 'bench',
    runs: [
      { typed: 'usb-c port 1: 5V 0.055 hold' },
      { typed: 'usb-c port 1 flipped: 5V 55mA hold' },
      { typed: 'usb-c port 2: 5V 0.057 hold' },
    ],
    checks: [check('charge-indicator', 'off')],
  },
  {
    label: 'learning handheld, green grips',
    serial: 'HLS-H-021',
    model: 'pennywren',
    complaint: 'Dead after the school visit',
    complaintKind: 'no-start',
    stage: 'measure',
    daysAgo: 3,
    dueInDays: 1,
    technician: 'bench',
    runs: [
      {
        feed: 'battery',
        instrument: display,
        setup: bench(4, 3),
        markers: [on(0), press(4)],
        strokes: [quiet(4), { seconds: 0.3, amps: 0.2 }, { seconds: 10, amps: 3.4 }],
      },
    ],
    checks: [check('visual', 'clean')],
    readings: [
      {
        where: 'run rail, big coil',
        circuit: 'rail.run',
        mode: 'resistance',
        value: 0.9,
        unit: 'ohm',
        reference: 84,
        redProbe: 'point',
      },
      {
        where: 'main rail, beside the connector',
        circuit: 'rail.main',
        mode: 'resistance',
        value: 41_000,
        unit: 'ohm',
        reference: 38_000,
        redProbe: 'point',
      },
    ],
  },
  {
    label: 'e-reader, large print shelf',
    serial: 'HLS-E-052',
    model: 'dovetale',
    complaint: 'Empty again every second day',
    complaintKind: 'drain',
    stage: 'record',
    daysAgo: 4,
    waitsFor: 'overnight drain test',
    waitsHours: 9,
    technician: 'evening bench',
    runs: [
      {
        feed: 'battery',
        instrument: logger,
        setup: { ...bench(3.8, 1), deviceState: 'asleep' },
        strokes: [quiet(40, 0.021)],
      },
    ],
  },
  {
    label: 'laptop of the tool lending desk',
    serial: 'HLS-L-011',
    model: 'barnfold',
    complaint: 'Light is on, does not start',
    complaintKind: 'no-start',
    stage: 'call',
    daysAgo: 1.5,
    dueInDays: 3,
    technician: 'bench',
    runs: [
      { typed: 'dc-in 19V: 21mA hold | prompt 21mA hold' },
      {
        feed: 'dc-in',
        instrument: logger,
        setup: { setV: 19, limitA: 3, battery: 'disconnected' },
        markers: [on(0), press(4)],
        strokes: [quiet(4, 0.021), quiet(12, 0.0215)],
      },
    ],
    checks: [check('charge-indicator', 'on'), check('press-response', 'none'), check('fan', 'none')],
  },
  {
    label: 'tablet of the village hall',
    serial: 'HLS-T-020',
    model: 'larkslate',
    complaint: 'Gets warm in the bag and is empty',
    complaintKind: 'drain',
    intake: { priorRepair: true },
    stage: 'isolate',
    daysAgo: 6,
    dueInDays: -1,
    technician: 'bench',
    runs: [
      {
        feed: 'battery',
        instrument: logger,
        setup: bench(4, 3),
        markers: [on(0), press(8)],
        strokes: [quiet(8, 0.072), ...start(1.5, 0.45)],
      },
      {
        feed: 'battery',
        instrument: logger,
        setup: { ...bench(4, 3), unplugged: ['side key flex'] },
        markers: [on(0), press(6)],
        strokes: [quiet(6, 0.003), ...start(1.45, 0.4)],
      },
    ],
  },
  {
    label: 'field phone, swollen back',
    serial: 'HLS-P-008',
    model: 'moorcall',
    complaint: 'The back lifts off',
    complaintKind: 'other',
    intake: { batterySwollen: true, dataWanted: true },
    stage: 'look',
    daysAgo: 0.1,
    dueInDays: 4,
    technician: 'bench',
    runs: [],
  },
  {
    label: 'e-reader, donated, cracked corner',
    serial: 'HLS-E-060',
    model: 'dovetale',
    complaint: 'Does not charge with any cable',
    complaintKind: 'no-charge',
    intake: { dropped: true },
    stage: 'record',
    daysAgo: 0.5,
    dueInDays: 9,
    technician: 'evening bench',
    runs: [
      {
        feed: 'usb-c',
        instrument: coarseMeter,
        setup: { port: 1, battery: 'connected', charger: 'own' },
        strokes: [
          { seconds: 0.3, amps: 0, volts: 4.9 },
          { seconds: 2, amps: 0, volts: 0 },
          { seconds: 0.2, amps: 0, volts: 4.4 },
          { seconds: 14, amps: 0, volts: 0 },
        ],
      },
      { typed: 'usb-c flipped with-battery: 5V 0.42 hold' },
    ],
  },
  {
    label: 'convertible, reading room, sticker 2',
    serial: 'HLS-L-002',
    model: 'hearthfold',
    complaint: 'Charges for an hour and is not full',
    complaintKind: 'slow-charge',
    stage: 'call',
    daysAgo: 2.5,
    dueInDays: 2,
    technician: 'bench',
    runs: [
      {
        feed: 'usb-c',
        instrument: meter,
        setup: { port: 1, battery: 'connected', batteryV: 10.9, charger: 'known-good' },
        strokes: [
          { seconds: 1.5, amps: 0.2, volts: 5 },
          { seconds: 1, amps: 0.5, volts: 9 },
          { seconds: 30, amps: 0.72, volts: 20 },
        ],
      },
    ],
    checks: [check('known-good-charger', 'same')],
  },
  {
    label: 'learning handheld, red grips',
    serial: 'HLS-H-022',
    model: 'pennywren',
    complaint: 'Starts, but the screen stays dark',
    complaintKind: 'no-picture',
    stage: 'verify',
    daysAgo: 5,
    waitsFor: 'parts on order',
    waitsHours: 50,
    technician: 'bench',
    runs: [
      {
        feed: 'battery',
        instrument: logger,
        setup: bench(3.9, 3),
        markers: [on(0), press(3)],
        strokes: [quiet(3), ...start(1.55, 0.5)],
      },
    ],
    checks: [check('screen', 'dark'), check('host-detects', 'normal')],
  },
  {
    label: 'laptop of the county archive',
    serial: 'HLS-L-015',
    model: 'barnfold',
    complaint: 'Fan turns, no picture, then off',
    complaintKind: 'no-start',
    intake: { dataWanted: true },
    stage: 'call',
    daysAgo: 1.2,
    dueInDays: 6,
    technician: 'bench',
    runs: [
      {
        feed: 'dc-in',
        instrument: probe,
        setup: { setV: 19, limitA: 4, battery: 'disconnected' },
        markers: [on(0), press(3)],
        strokes: [quiet(3, 0.024), { seconds: 0.4, amps: 0.09 }, { seconds: 22, amps: 0.235 }],
      },
    ],
    checks: [check('fan', 'twitch')],
  },
  // Closed cases: what they looked like, and what they were.
  {
    label: 'lending tablet, red case',
    serial: 'HLS-T-009',
    model: 'larkslate',
    complaint: 'Dead overnight',
    complaintKind: 'no-start',
    stage: 'close',
    daysAgo: 20,
    technician: 'bench',
    runs: [
      {
        feed: 'battery',
        instrument: logger,
        setup: bench(4, 2),
        markers: [on(1)],
        strokes: [quiet(1, 0), { seconds: 8, amps: 3.1 }],
      },
      {
        feed: 'battery',
        instrument: logger,
        setup: bench(4, 2),
        markers: [on(0), press(4)],
        after: 'a1',
        strokes: [quiet(4), ...start(1.5, 0.4)],
      },
    ],
    checks: [check('main-rail-resistance', 'short'), check('heat-view', 'one-spot')],
    actions: [
      {
        id: 'a1',
        kind: 'remove',
        circuit: 'rail.main',
        target: 'shorted capacitor by the charger coil',
        note: '',
        runBefore: 'r1',
        undoes: null,
      },
    ],
    outcome: {
      grade: 'measured',
      circuit: 'rail.main',
      target: 'capacitor on the main rail',
      fix: 'Located by heat at 1 V, taken off and left off; four more in parallel.',
    },
  },
  {
    label: 'field phone, orange case',
    serial: 'HLS-P-001',
    model: 'moorcall',
    complaint: 'Only warms up on the charger',
    complaintKind: 'no-charge',
    stage: 'close',
    daysAgo: 16,
    technician: 'bench',
    runs: [
      { typed: 'usb-c port 1 with-battery: 5V 0.01 hold' },
      { typed: 'usb-c port 1 flipped with-battery: 5V 0.012 hold' },
      {
        feed: 'battery',
        instrument: logger,
        setup: bench(3.9, 3),
        markers: [on(0), press(3)],
        strokes: [quiet(3), ...start(1.2, 0.25)],
      },
    ],
    checks: [check('known-good-charger', 'same')],
    outcome: {
      grade: 'measured',
      circuit: 'charge.port-ic',
      target: 'port switch',
      fix: 'Input side short to ground inside the part; replaced, charges both ways up.',
    },
  },
  {
    label: 'convertible, reading room, sticker 5',
    serial: 'HLS-L-005',
    model: 'hearthfold',
    complaint: 'One port is dead',
    complaintKind: 'no-charge',
    stage: 'close',
    daysAgo: 13,
    technician: 'evening bench',
    runs: [
      { typed: 'usb-c port 1 with-battery: 5V 0.008 hold' },
      { typed: 'usb-c port 2 with-battery: 5V 0.3 9V 0.9 20V 2.1 hold' },
    ],
    checks: [check('other-port', 'different'), check('visual', 'corrosion')],
    outcome: {
      grade: 'cleared',
      circuit: 'input.port',
      target: 'port 1 connector',
      fix: 'Corroded pins; cleaned, then the connector was replaced.',
    },
  },
  {
    label: 'learning handheld, yellow grips',
    serial: 'HLS-H-017',
    model: 'pennywren',
    complaint: 'Goes off after the logo',
    complaintKind: 'restarts',
    stage: 'close',
    daysAgo: 11,
    technician: 'bench',
    runs: [
      {
        feed: 'battery',
        instrument: display,
        setup: bench(3.8, 3),
        markers: [on(0), press(4)],
        strokes: [
          quiet(4),
          { seconds: 1, amps: 0.2 },
          { seconds: 1, amps: 0.6 },
          { seconds: 2.5, amps: 0.5, burstTo: 1.2 },
          quiet(8, 0.001),
        ],
      },
      {
        feed: 'battery',
        instrument: display,
        setup: { ...bench(3.8, 3), battery: 'connected' },
        markers: [on(0), press(3)],
        after: 'a1',
        strokes: [quiet(3), ...start(1.5, 0.5)],
      },
    ],
    actions: [
      {
        id: 'a1',
        kind: 'replace',
        circuit: 'battery.pack',
        target: 'battery pack',
        note: '',
        runBefore: 'r1',
        undoes: null,
      },
    ],
    outcome: { grade: 'cleared', circuit: 'battery.pack', target: 'pack data line', fix: 'Known-good pack cured it.' },
  },
  {
    label: 'e-reader, school set 4',
    serial: 'HLS-E-044',
    model: 'dovetale',
    complaint: 'Stuck, will not turn on',
    complaintKind: 'no-start',
    stage: 'close',
    daysAgo: 9,
    technician: 'bench',
    runs: [{ typed: 'battery 3.8V limit 1A: 0 | prompt 0.02 0.08 0.1 hold' }],
    checks: [check('host-detects', 'recovery'), check('charges', 'yes')],
    outcome: { grade: 'cleared', circuit: 'firmware', target: '', fix: 'Boot data reloaded after two matching dumps.' },
  },
  {
    label: 'laptop of the archive, spare',
    serial: 'HLS-L-016',
    model: 'barnfold',
    complaint: 'Clicks, no start',
    complaintKind: 'no-start',
    stage: 'close',
    daysAgo: 7,
    technician: 'bench',
    runs: [
      {
        feed: 'dc-in',
        instrument: probe,
        setup: { setV: 19, limitA: 4, battery: 'disconnected' },
        markers: [on(0), press(2)],
        strokes: [
          quiet(2, 0.025),
          ...times(24, [
            { seconds: 0.28, amps: 0.03 },
            { seconds: 0.14, amps: 0.62 },
          ]),
        ],
      },
    ],
    readings: [
      {
        where: 'run rail, second coil',
        circuit: 'rail.run',
        mode: 'resistance',
        value: 1.4,
        unit: 'ohm',
        reference: 62,
        redProbe: 'point',
      },
    ],
    outcome: {
      grade: 'measured',
      circuit: 'rail.run',
      target: 'run rail, ceramic capacitor by the memory',
      fix: 'Short found by heat, capacitor replaced.',
    },
  },
  {
    label: 'field phone, cracked glass',
    serial: 'HLS-P-011',
    model: 'moorcall',
    complaint: 'Works, then not, then works',
    complaintKind: 'intermittent',
    stage: 'close',
    daysAgo: 5,
    technician: 'evening bench',
    runs: [
      {
        feed: 'battery',
        instrument: logger,
        setup: bench(3.9, 3),
        markers: [on(0), press(2)],
        strokes: [
          quiet(2),
          { seconds: 1.3, amps: 0.35 },
          quiet(2.1, 0),
          { seconds: 3.2, amps: 0.42 },
          quiet(0.7, 0),
          { seconds: 0.9, amps: 0.3 },
          quiet(3.3, 0),
          { seconds: 4.4, amps: 0.4 },
          quiet(1.2, 0),
          { seconds: 2, amps: 0.38 },
        ],
      },
    ],
    outcome: {
      grade: 'disappeared',
      circuit: null,
      target: '',
      fix: 'Gone after opening and closing; recall in four weeks.',
    },
  },
  {
    label: 'convertible, reading room, sticker 9',
    serial: 'HLS-L-009',
    model: 'hearthfold',
    complaint: 'Died while updating',
    complaintKind: 'no-start',
    stage: 'close',
    daysAgo: 3.5,
    technician: 'bench',
    runs: [{ typed: 'usb-c no-battery: 5V 0.1 20V 0.21 hold | prompt 0.21 hold' }],
    checks: [check('fan', 'spins'), check('screen', 'dark')],
    outcome: {
      grade: 'not-economical',
      circuit: null,
      target: '',
      fix: 'Processor or memory; the board costs more than the device.',
    },
  },
  // Open as well, at the end so that the numbers of the others stay: a model that nobody has a profile of.
  {
    label: 'donated laptop, front desk',
    serial: '',
    model: 'strand',
    complaint: 'Dead since somebody spilled tea',
    complaintKind: 'no-start',
    intake: { liquid: true },
    stage: 'measure',
    daysAgo: 0.6,
    dueInDays: 9,
    technician: 'bench',
    runs: [
      {
        feed: 'dc-in',
        instrument: logger,
        setup: { setV: 19, limitA: 3, battery: 'disconnected', display: 'connected', assembly: 'assembled' },
        markers: [on(0), press(4)],
        strokes: [quiet(4, 0.031), { seconds: 0.3, amps: 0.12 }, { seconds: 22, amps: 0.196 }],
      },
    ],
    checks: [
      check('charge-indicator', 'on'),
      check('fan', 'none'),
      check('visual', 'residue', 'dull spot beside a small resistor of the enable chain'),
    ],
    readings: [
      { where: 'main rail', circuit: 'rail.main', state: 'G3', mode: 'voltage', value: 8.3, unit: 'V', powered: true },
      {
        where: 'soft-off 3.3 V',
        circuit: 'rail.standby',
        state: 'S5',
        mode: 'voltage',
        value: 3.3,
        unit: 'V',
        powered: true,
      },
    ],
  },
];
