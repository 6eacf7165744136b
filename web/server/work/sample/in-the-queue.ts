import { sketchInstruments } from '@umbral/core';
import { bench, check, on, press, quiet, start, type SampleJob } from './sample-job.ts';

const { logger, meter, probe, coarseMeter } = sketchInstruments;

/** Made-up jobs that came in lately. */
export const inTheQueue: SampleJob[] = [
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
    waits: { kind: 'part', sinceHours: 30, hours: 50 },
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
    waits: { kind: 'answer', sinceHours: 26 },
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
];

/** A made-up job whose board has been opened and probed. */
export const opened: SampleJob[] = [
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
