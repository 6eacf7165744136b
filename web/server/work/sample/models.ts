import type { Device } from '@umbral/core';

/** The lending fleet of a rural library service. Makers, models and figures are invented. */
type Model = Pick<Device, 'class' | 'model' | 'expect'>;

export const models = {
  larkslate: {
    class: 'tablet',
    model: 'Fenmoor Larkslate 10',
    expect: {
      quiescentA: 0.003,
      startPeakA: 1.5,
      idleA: 0.38,
      chargeA: 2,
      contractV: 9,
      ports: 1,
      startsWithoutBattery: true,
      batteryV: 3.85,
    },
  },
  dovetale: {
    class: 'ereader',
    model: 'Fenmoor Dovetale 6',
    expect: {
      quiescentA: 0.001,
      startPeakA: 0.36,
      idleA: 0.08,
      chargeA: 0.9,
      contractV: 5,
      ports: 1,
      startsWithoutBattery: true,
      batteryV: 3.75,
    },
  },
  hearthfold: {
    class: 'laptop',
    model: 'Oxbarrow Hearthfold 13',
    expect: {
      quiescentA: 0.004,
      startPeakA: 2.5,
      idleA: 0.7,
      chargeA: 2.25,
      contractV: 20,
      ports: 2,
      startsWithoutBattery: true,
      batteryV: 11.4,
    },
  },
  barnfold: {
    class: 'laptop',
    model: 'Oxbarrow Barnfold 15',
    expect: { quiescentA: 0.004, startPeakA: 2.8, idleA: 0.8, dcV: 19, startsWithoutBattery: true, batteryV: 11.1 },
  },
  pennywren: {
    class: 'handheld',
    model: 'Tallgate Pennywren',
    expect: {
      quiescentA: 0.002,
      startPeakA: 1.6,
      idleA: 0.55,
      chargeA: 1.5,
      contractV: 9,
      ports: 1,
      startsWithoutBattery: true,
      batteryV: 3.8,
    },
  },
  moorcall: {
    class: 'phone',
    model: 'Tallgate Moorcall 2',
    expect: {
      quiescentA: 0.002,
      startPeakA: 1.2,
      idleA: 0.25,
      chargeA: 1.6,
      contractV: 9,
      ports: 1,
      startsWithoutBattery: true,
      batteryV: 3.85,
    },
  },
  // Donated, the first of its kind here: nobody has a profile of it, and nothing is stated of it.
  strand: { class: 'laptop', model: 'Saltmere Strand 14', expect: {} },
  // Nobody has a profile of these either.
  brook: { class: 'phone', model: 'Saltmere Brook 3', expect: { chargeA: 1.5, ports: 1 } },
  linnet: { class: 'console', model: 'Tallgate Linnet', expect: { dcV: 12 } },
} satisfies Record<string, Model>;
