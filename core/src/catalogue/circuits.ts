import { namesOf } from './names.ts';

/** Everything that is said of a circuit beside its base rate and its places (`hypotheses`) and what it shows (`observation`). */
interface CircuitDefinition {
  /** As technicians read it. */
  name: string;
  /** What else people call it, in small letters, for whoever searches. */
  alsoCalled?: readonly string[];
  /** What it does and how it fails, for whoever learns it. */
  explains: string;
  /** In the middle of a sentence for whoever brought the device. */
  plain: string;
  /** A converter makes it, and its loads can short it: a short there is seldom the converter's. */
  isSupply?: true;
}

/** The circuits that a verdict names, in the order in which they are listed. The ids are stable outside Umbral. */
const catalogue = {
  'input.port': {
    name: 'Port, plug or cable contact',
    explains:
      'Where the plug goes in: contacts, shell and the lines behind them. Wear, dirt and bent pins make it open or resistive.',
    alsoCalled: ['connector', 'socket', 'usb'],
    plain: 'the charging socket',
  },
  'input.protection': {
    name: 'Input protection',
    explains:
      'Fuse, surge clamp and filter between the port and the rest. A blown fuse cuts the feed, a shorted clamp pulls it down.',
    alsoCalled: ['fuse', 'tvs'],
    plain: 'the input protection',
  },
  'usbc.controller': {
    name: 'USB-C controller',
    explains:
      'Talks to the charger over the CC lines and asks for more than 5 V. If it is silent, the feed stays at 5 V.',
    alsoCalled: ['pd', 'cc'],
    plain: 'the chip that talks to the charger',
  },
  'charge.port-ic': {
    name: 'Port switch IC',
    explains:
      'A switch between the port and the charger. If it does not turn on, the contract is made and almost nothing flows.',
    plain: 'a switch behind the charging socket',
  },
  'charge.charger': {
    name: 'Charger and power path',
    explains:
      'Charges the battery and feeds the main rail from either source. If it fails, one of the two paths is missing.',
    alsoCalled: ['charging'],
    plain: 'the charging circuit',
  },
  'battery.pack': {
    name: 'Battery pack',
    explains:
      'Cells, protection board and connector. A drained or locked pack gives no voltage, a bad data line makes it restart.',
    alsoCalled: ['cell'],
    plain: 'the battery',
  },
  'rail.main': {
    name: 'Main system rail',
    explains:
      'The rail that everything else is made from. It is always powered, so a short on it shows before power-on.',
    alsoCalled: ['vsys', 'system'],
    plain: 'the main power supply on the board',
    isSupply: true,
  },
  'rail.boost': {
    name: 'Boost rail',
    explains: 'Makes a voltage above the main rail, for a backlight or a port.',
    plain: 'a voltage converter on the main board',
    isSupply: true,
  },
  'rail.always-on': {
    name: 'Always-on rail',
    explains: 'Small supplies that run whenever there is power: clock, button, power manager.',
    plain: 'a supply on the main board that is always on',
    isSupply: true,
  },
  'rail.standby': {
    name: 'Standby rail',
    explains: 'Supplies that come up first and keep the device ready. Without them, power-on has no effect.',
    plain: 'the standby supply on the main board',
    isSupply: true,
  },
  'rail.run': {
    name: 'Run-state rail',
    explains: 'Supplies that power-on starts: I/O, memory, storage, peripherals. A short on one shows after power-on.',
    plain: 'a supply on the main board',
    isSupply: true,
  },
  'seq.power-good': {
    name: 'Enable and power-good chain',
    explains: 'Signals that start one supply after the other. If one is missing, everything after it stays off.',
    plain: 'the signals that start the power supplies in order',
  },
  pmic: {
    name: 'Power-management IC',
    explains: 'The chip that makes most supplies of a phone or tablet and starts them in order.',
    alsoCalled: ['pmu'],
    plain: 'the power management chip',
  },
  'core.supply': {
    name: 'Core regulator',
    explains: 'Coils and transistors that supply the processor: a high current at under 1 V.',
    alsoCalled: ['cpu', 'vcore'],
    plain: 'the power supply of the processor',
    isSupply: true,
  },
  'core.soc': {
    name: 'Processor',
    explains: 'The processor. It warms evenly when it works. Many shops do not replace it.',
    alsoCalled: ['cpu', 'soc'],
    plain: 'the processor',
  },
  'core.chipset': {
    name: 'Companion chip',
    explains: 'The chip beside a computer’s processor that starts it and holds most of its buses.',
    alsoCalled: ['chipset', 'pch'],
    plain: 'the chip next to the processor',
  },
  'core.memory': {
    name: 'Memory',
    explains: 'The working memory. If it does not answer, the boot hangs early or starts over.',
    alsoCalled: ['ram'],
    plain: 'the memory',
  },
  'core.storage': {
    name: 'Storage',
    explains: 'Holds the system and the data. If it does not answer, the boot hangs.',
    alsoCalled: ['emmc', 'flash', 'ssd'],
    plain: 'the storage',
  },
  firmware: {
    name: 'Boot data (firmware)',
    explains: 'The first program. If it is damaged, all rails are up and nothing runs.',
    alsoCalled: ['bios'],
    plain: 'the start-up software',
  },
  mgmt: {
    name: 'Management controller',
    explains: 'A small processor in a computer that watches the button, the battery and the charger.',
    alsoCalled: ['ec'],
    plain: 'the chip that controls power and charging',
  },
  radio: {
    name: 'Radio',
    explains: 'Cellular and wireless, with their supplies. They come on late in the boot.',
    alsoCalled: ['wifi', 'baseband'],
    plain: 'the wireless module',
  },
  'joint.stack': {
    name: 'Board joints',
    explains: 'Solder joints between stacked boards. A cracked one comes and goes with heat and pressure.',
    alsoCalled: ['sandwich', 'interposer'],
    plain: 'the solder joints between two boards',
  },
  'periph.board': {
    name: 'Peripheral board or flex',
    explains: 'A smaller board or cable for a port, camera or sensor. Unplug it and compare.',
    plain: 'a smaller board or its cable',
  },
  display: {
    name: 'Display',
    explains: 'Panel, touch and backlight. The device boots, and the screen stays dark.',
    alsoCalled: ['screen', 'lcd', 'backlight'],
    plain: 'the display',
  },
  button: {
    name: 'Button and wake line',
    explains: 'Power button, its cable and the wake line. The device rests, and pressing changes nothing.',
    alsoCalled: ['key', 'switch'],
    plain: 'the power button',
  },
  none: {
    name: 'Power and boot are healthy',
    explains: 'Nothing in the power supply or the boot is at fault.',
    plain: 'nothing in the power supply',
  },
  unmodelled: {
    name: 'A fault the program does not know',
    explains: 'Something that none of these circuits explains.',
    plain: 'something that is not known yet',
  },
} as const satisfies Readonly<Record<string, CircuitDefinition>>;

export type CircuitId = keyof typeof catalogue;
export const circuitTypes: Readonly<Record<CircuitId, CircuitDefinition>> = catalogue;

export const isSupply = (circuit: CircuitId): boolean => circuitTypes[circuit].isSupply === true;
export const circuitIds = Object.keys(catalogue) as CircuitId[];

export const circuitNames = namesOf(circuitTypes);
