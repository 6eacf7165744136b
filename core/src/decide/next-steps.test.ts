import fc from 'fast-check';
import { actionTypes, checkTypes, isCheck, namedChecks, type DeviceClass } from '../catalogue/index.ts';
import type { Action, Case } from '../case/index.ts';
import { assess } from '../diagnosis/index.ts';
import { actionOf, checkOf, readingOf, typedCase } from '../testing/cases.ts';

/** Made-up histories: a start that fails, looks, readings to ground and volts, and changes of every kind. */
const lines: Record<string, { deviceClass: DeviceClass; lines: string[] }> = {
  phone: {
    deviceClass: 'phone',
    lines: [
      'battery 4V limit 3A: 0 | prompt 0.07 0.19 0.12 hold',
      'battery 4V limit 3A: limit',
      'usb-c: 5V 0.012 hold',
    ],
  },
  laptop: {
    deviceClass: 'laptop',
    lines: ['usb-c port 1: 5V 0.06 hold', 'dc-in 19V: 0.2 hold | prompt 0.2 hold', 'usb-c: 20V 0.02 hold'],
  },
  console: {
    deviceClass: 'console',
    lines: ['dc-in 12V limit 4A: 30mA | prompt 210mA hold', 'dc-in 12V limit 4A: limit'],
  },
};
const places = ['C12', 'left coil at the charger chip', 'main system rail'] as const;
const circuits = ['rail.main', 'charge.charger', 'rail.run', null] as const;
const kinds = ['remove', 'replace', 'disconnect', 'isolate', 'clean', 'refit', 'trial'] as const;

const history = fc.record({
  device: fc.constantFrom(...Object.keys(lines)),
  line: fc.nat(2),
  checks: fc.array(
    fc.constantFrom(
      checkOf('screen', 'dark'),
      checkOf('fan', 'none'),
      checkOf('charges', 'no'),
      checkOf('visual', 'burnt', { where: 'C12', circuit: 'rail.run' }),
      checkOf('heat-view', 'one-spot', { where: 'charger chip', circuit: 'charge.charger' }),
    ),
    { maxLength: 3 },
  ),
  readings: fc.array(
    fc.record({
      where: fc.constantFrom(...places),
      circuit: fc.constantFrom(...circuits),
      ohm: fc.constantFrom(0.2, 6, 4500),
    }),
    { maxLength: 3 },
  ),
  actions: fc.array(
    fc.record({
      kind: fc.constantFrom(...kinds),
      where: fc.constantFrom(...places),
      circuit: fc.constantFrom(...circuits),
    }),
    { maxLength: 3 },
  ),
  board: fc.boolean(),
  packOut: fc.boolean(),
});

interface Made extends ReturnType<typeof typedCase> {
  actions: Action[];
}

function make(h: typeof history extends fc.Arbitrary<infer T> ? T : never): Made {
  const { deviceClass, lines: all } = lines[h.device];
  const actions = h.actions.map(({ kind, where, circuit }, k) =>
    actionOf(`a${k + 1}`, kind, { target: where, circuit }),
  );
  if (h.packOut && deviceClass !== 'console')
    actions.unshift(actionOf('a0', 'disconnect', { unit: 'pack', circuit: 'battery.pack', target: 'battery' }));
  const last = actions.at(-1)?.id ?? null;
  const over: Partial<Case> = {
    complaintKind: 'no-start',
    checks: h.checks,
    actions,
    readings: h.readings.map(({ where, circuit, ohm }, k) =>
      readingOf({ mode: 'resistance', value: ohm, where, circuit, after: k === 0 ? null : last }),
    ),
  };
  const made = typedCase(deviceClass, [all[h.line % all.length]], over);
  if (h.board) made.value.runs[0].setup.assembly = 'board-alone';
  return { ...made, actions };
}

test('no next step is without an object, repeats an answer, acts on what is off, or asks for what the device has not', () => {
  fc.assert(
    fc.property(history, (h) => {
      const { value, shapes, actions } = make(h);
      const { next } = assess(value, shapes);
      // A place that reads otherwise without a change between has changed by itself: what was answered before may be asked again.
      const isOneState =
        actions.length === 0 &&
        places.every((p) => new Set(h.readings.filter((r) => r.where === p).map((r) => r.ohm)).size < 2);
      const off = new Set<string>();
      for (const a of actions) {
        if (a.kind === 'remove') off.add(a.target);
        if (a.kind === 'refit' || a.kind === 'replace') off.delete(a.target);
      }
      for (const step of next) {
        expect(step.name.trim()).not.toBe('');
        expect(step.name).not.toMatch(/[:.]\s*$|^\w+$/);
        if (step.action) {
          const { kind, target } = step.action;
          expect(step.name.length).toBeGreaterThan(actionTypes[kind].imperative.length + 2);
          if (actionTypes[kind].comesOff && kind === 'remove') expect(off.has(target)).toBe(false);
        }
        const asked = step.check;
        if (asked && isCheck(asked) && checkTypes[asked].readBy === undefined)
          expect(value.checks.some((c) => c.id === asked && c.outcome !== null && isOneState)).toBe(false);
        if (asked === namedChecks.charges) {
          expect(h.packOut).toBe(false);
          expect(value.device.class).not.toBe('console');
        }
        if (asked === namedChecks.plug) expect(value.runs.some((r) => r.feed === 'usb-c')).toBe(true);
        if (asked === 'known-good-display') expect(h.board).toBe(false);
        if (step.kind === 'stop')
          expect(next[0].kind === 'stop' || actions.length === 0 || next[0].kind !== 'verify').toBe(true);
        if (step.kind === 'injection') {
          const here = value.readings.findLast((r) => r.where === step.where);
          if (here) expect(here.value).toBeLessThan(100);
        }
      }
    }),
    { numRuns: 60 },
  );
});
