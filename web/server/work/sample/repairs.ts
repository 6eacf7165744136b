import { plainAction, plainInjection, sketchInstruments, type Action, type Proof } from '@umbral/core';
import { bench, check, on, press, quiet, start, type SampleJob } from './sample-job.ts';

const { logger, meter } = sketchInstruments;

const change = (id: string, kind: Action['kind'], over: Partial<Action>): Action => ({
  ...plainAction,
  id,
  kind,
  ...over,
});

let proofs = 0;
const shown = (protocol: string, step: string, over: Partial<Proof> = {}): Proof => ({
  id: `p${++proofs}`,
  protocol,
  step,
  result: 'pass',
  reason: '',
  run: null,
  check: null,
  after: 'a1',
  ...over,
});

/** Jobs in which something was changed: one that waits for its next run, one that is being proven, one proven and closed. */
export const repairs: SampleJob[] = [
  {
    label: 'console of the youth room',
    serial: 'HLS-G-007',
    model: 'linnet',
    complaint: 'Dead after a storm; the lamp does not even blink',
    complaintKind: 'no-start',
    stage: 'locate',
    daysAgo: 1.4,
    dueInDays: 6,
    technician: 'bench',
    runs: [{ typed: 'dc-in 12V limit 2A: limit 2A' }],
    checks: [check('charge-indicator', 'off'), check('fan', 'none')],
    readings: [
      {
        where: '12 V input, big coil',
        circuit: 'rail.main',
        mode: 'resistance',
        value: 0.4,
        unit: 'ohm',
        powered: false,
      },
    ],
    injections: [
      {
        ...plainInjection,
        id: 'i1',
        rail: '12 V input, big coil',
        circuit: 'rail.main',
        setV: 1,
        limitA: 2,
        amps: 1.6,
        leadsOhm: 0.2,
        heat: 'leads-only',
      },
    ],
  },
  {
    label: 'field phone, school set 2',
    serial: 'HLS-P-031',
    model: 'brook',
    complaint: 'Charges, but does not start since it fell',
    complaintKind: 'no-start',
    intake: { dropped: true },
    stage: 'act',
    daysAgo: 2.1,
    dueInDays: 3,
    waits: { kind: 'bath', sinceHours: 0.05, hours: 0.15 },
    technician: 'evening bench',
    runs: [
      { typed: 'usb-c port 1 with-battery: 5V 0.3 9V 1.2 hold' },
      {
        feed: 'battery',
        instrument: logger,
        setup: bench(3.9, 3),
        markers: [on(0), press(3)],
        strokes: [quiet(3), { seconds: 0.6, amps: 0.07 }, { seconds: 14, amps: 0.11 }],
      },
    ],
    checks: [check('screen', 'dark'), check('host-detects', 'nothing')],
    actions: [
      change('a1', 'disconnect', { circuit: 'periph.board', target: 'camera and sensor flex', runBefore: 'r2' }),
    ],
  },
  {
    label: 'field phone, glove box of the van',
    serial: 'HLS-P-033',
    model: 'brook',
    complaint: 'Takes a charge, they say, but never starts',
    complaintKind: 'no-start',
    stage: 'verify',
    daysAgo: 3,
    dueInDays: 1,
    technician: 'bench',
    runs: [
      {
        feed: 'usb-c',
        instrument: meter,
        setup: { port: 1, battery: 'connected', deviceState: 'off' },
        strokes: [
          { seconds: 1.4, amps: 0.1, volts: 5 },
          { seconds: 14, amps: 0.35, volts: 5 },
        ],
      },
      {
        feed: 'battery',
        instrument: logger,
        setup: bench(4, 3),
        markers: [on(0)],
        strokes: [{ seconds: 16, amps: 0.93 }],
      },
      {
        feed: 'battery',
        instrument: logger,
        setup: bench(4, 3),
        after: 'a1',
        markers: [on(0), press(4)],
        strokes: [quiet(4), ...start(1.2, 0.25)],
      },
      {
        feed: 'usb-c',
        instrument: meter,
        setup: { port: 1, battery: 'connected', deviceState: 'off' },
        after: 'a1',
        strokes: [
          { seconds: 1.5, amps: 0.3, volts: 5 },
          { seconds: 1.2, amps: 0.9, volts: 9 },
          { seconds: 16, amps: 1.5, volts: 9 },
        ],
      },
    ],
    checks: [
      check('screen', 'dark'),
      check('heat-view', 'one-spot', '', { where: 'small capacitor at the top edge', circuit: 'rail.boost' }),
      check('screen', 'image', '', { after: 'a1' }),
    ],
    readings: [
      {
        where: 'boost rail, pad of the warm capacitor',
        circuit: 'rail.boost',
        mode: 'diode',
        value: 0.001,
        reference: 0.44,
        redProbe: 'ground',
        powered: false,
      },
      {
        where: 'boost rail, pad of the warm capacitor',
        circuit: 'rail.boost',
        mode: 'diode',
        value: 0.436,
        reference: 0.44,
        redProbe: 'ground',
        powered: false,
        after: 'a1',
      },
    ],
    actions: [
      change('a1', 'remove', {
        circuit: 'rail.boost',
        target: 'small capacitor at the top edge',
        note: 'one of many in parallel',
        runBefore: 'r2',
      }),
    ],
    proofs: [
      shown('three-cold-starts', 'first'),
      shown('three-cold-starts', 'second'),
      shown('picture-touch-sound', 'touch'),
      shown('picture-touch-sound', 'camera', { result: 'not-done', reason: 'comes back with the case' }),
    ],
  },
  {
    label: 'console of the village hall',
    serial: 'HLS-G-004',
    model: 'linnet',
    complaint: 'Lamp comes on, then nothing',
    complaintKind: 'no-start',
    stage: 'close',
    daysAgo: 11,
    technician: 'bench',
    runs: [
      {
        feed: 'dc-in',
        instrument: logger,
        setup: { setV: 12, limitA: 4, display: 'connected', assembly: 'assembled' },
        markers: [on(0), press(3)],
        strokes: [quiet(3, 0.03), { seconds: 14, amps: 0.21 }],
      },
      {
        feed: 'dc-in',
        instrument: logger,
        setup: { setV: 12, limitA: 4, display: 'connected', assembly: 'assembled' },
        after: 'a1',
        markers: [on(0), press(3)],
        strokes: [quiet(3, 0.03), ...start(3, 1.6)],
      },
    ],
    checks: [check('charge-indicator', 'on'), check('fan', 'twitch'), check('fan', 'spins', '', { after: 'a1' })],
    readings: [
      { where: 'run 5 V', circuit: 'rail.run', mode: 'resistance', value: 0.3, unit: 'ohm', powered: false },
      {
        where: 'run 5 V',
        circuit: 'rail.run',
        mode: 'resistance',
        value: 4100,
        unit: 'ohm',
        powered: false,
        after: 'a1',
      },
    ],
    injections: [
      {
        ...plainInjection,
        id: 'i1',
        rail: 'run 5 V',
        circuit: 'rail.run',
        setV: 1,
        limitA: 3,
        amps: 2.1,
        leadsOhm: 0.2,
        hot: 'ceramic capacitor by the fan plug',
        hotCircuit: 'rail.run',
        heat: 'one-spot',
      },
    ],
    actions: [
      change('a1', 'replace', {
        circuit: 'rail.run',
        target: 'ceramic capacitor by the fan plug',
        runBefore: 'r1',
      }),
    ],
    proofs: [
      ...['first', 'second', 'third'].map((step) => shown('three-cold-starts', step)),
      ...['picture', 'controls', 'sound', 'radios'].map((step) => shown('picture-touch-sound', step)),
      shown('picture-touch-sound', 'drive', { result: 'not-done', reason: 'no disc at hand' }),
      ...['not-shorted', 'no-bridge', 'orientation'].map((step) => shown('fitted', step)),
    ],
    outcome: {
      grade: 'measured',
      circuit: 'rail.run',
      target: 'ceramic capacitor by the fan plug',
      fix: 'Ceramic capacitor by the fan plug replaced.',
    },
  },
];
