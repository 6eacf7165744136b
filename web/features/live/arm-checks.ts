import { formatCurrent, formatVoltage, parseQuantity } from '@umbral/core/words';
import type { SetupForm } from '@/features/record/setup-form';

/** What is known of a feed before its output is armed. Volts, amperes. */
export interface FeedFacts {
  maxV: number;
  maxA: number;
  /** Where the bounds come from. */
  why: string;
  /** Highest current of a healthy start. */
  healthyPeakA: number | null;
}

/** What is known before arming: the feed, and whether the supply can be told to watch itself. */
export interface ArmFacts extends FeedFacts {
  watchesItself: boolean;
  /** Only a page can reach it. */
  isAtPage?: boolean;
  /** What a meter at a charger reads now, V; null where none reads anything. */
  chargerV: number | null;
}

/** One thing to be sure of before arming: fine by the numbers, to be looked at, or in the way. */
export interface ArmCheck {
  says: string;
  tone: 'fine' | 'look' | 'stop';
}

/** What has to be right before a supply's output is armed, from the setup and what the model allows. */
export function armChecks(form: SetupForm, facts: ArmFacts): ArmCheck[] {
  return [
    polarity(form),
    ...battery(form, facts.chargerV),
    voltage(form, facts),
    limit(form, facts),
    selfWatch(facts.watchesItself, facts.isAtPage),
  ];
}

/** What happens when this computer stops dead, or contact is lost. */
export function selfWatch(watchesItself: boolean, isAtPage = false): ArmCheck {
  if (isAtPage && !watchesItself)
    return {
      tone: 'look',
      says: 'Only the window that it is plugged into can switch this supply off. If that window or its computer fails, use the switch on the supply.',
    };
  return watchesItself
    ? { tone: 'fine', says: 'The supply switches itself off if it loses contact with this computer.' }
    : {
        tone: 'look',
        says: 'This supply cannot switch itself off. If this computer crashes, use the switch on the supply.',
      };
}

function polarity({ feed }: SetupForm): ArmCheck {
  const place = feed === 'dc-in' ? 'the input socket' : 'the battery contacts on the board';
  return {
    tone: 'look',
    says: `Red lead to plus, black lead to minus of ${place}. Reversed polarity destroys the board at once.`,
  };
}

function battery({ feed, battery: is }: SetupForm, chargerV: number | null): ArmCheck[] {
  if (feed !== 'battery') return [];
  if (chargerV !== null)
    return [
      {
        tone: 'stop',
        says: `A charger is plugged in: the meter reads ${formatVoltage(chargerV)}. Unplug it first. A charger pushes current through the device back into the supply.`,
      },
    ];
  if (is === 'disconnected' || is === 'absent')
    return [
      {
        tone: 'look',
        says: 'The setup says the battery is out. Check that it is, and that no charger is plugged in: current could flow back into the supply.',
      },
    ];
  return [
    {
      tone: 'stop',
      says: 'The setup does not say that the battery is out. A supply connected to a battery charges it without control.',
    },
  ];
}

function voltage({ setV }: SetupForm, { maxV, why }: FeedFacts): ArmCheck {
  const volts = parseQuantity(setV, 'voltage');
  if (!volts.ok || volts.value <= 0)
    return { tone: 'stop', says: `Set voltage: ${volts.ok ? 'must be above zero' : volts.error}.` };
  if (volts.value > maxV)
    return { tone: 'look', says: `${formatVoltage(volts.value)} will be reduced to ${formatVoltage(maxV)}: ${why}.` };
  return { tone: 'fine', says: `${formatVoltage(volts.value)} is within ${formatVoltage(maxV)}, ${why}.` };
}

function limit({ limitA }: SetupForm, { maxA, healthyPeakA, why }: FeedFacts): ArmCheck {
  const amps = parseQuantity(limitA, 'current');
  if (!amps.ok || amps.value <= 0)
    return { tone: 'stop', says: `Limit: ${amps.ok ? 'must be above zero' : amps.error}.` };
  if (amps.value > maxA)
    return { tone: 'look', says: `${formatCurrent(amps.value)} will be reduced to ${formatCurrent(maxA)}: ${why}.` };
  if (healthyPeakA !== null && amps.value < healthyPeakA)
    return {
      tone: 'look',
      says: `A healthy start draws up to ${formatCurrent(healthyPeakA)}. With ${formatCurrent(amps.value)} it would look like a short.`,
    };
  return { tone: 'fine', says: `Limit ${formatCurrent(amps.value)}, above a healthy start.` };
}
