import { namesOf } from './names.ts';

/** Everything that is said of a circuit beside its base rate and its places (`hypotheses`) and what it shows (`observation`). */
interface CircuitDefinition {
  /** As technicians read it. */
  name: string;
  /** What else people call it, in small letters, for whoever searches. */
  alsoCalled?: readonly string[];
  /** In the middle of a sentence for whoever brought the device. */
  plain: string;
  /** A converter makes it, and its loads can short it: a short there is seldom the converter's. */
  isSupply?: true;
}

/** The circuits that a verdict names, in the order in which they are listed. The ids are stable outside Umbral. */
const catalogue = {
  'input.port': {
    name: 'Port, plug or cable contact',
    alsoCalled: ['connector', 'socket', 'usb'],
    plain: 'the charging socket',
  },
  'input.protection': { name: 'Input protection', alsoCalled: ['fuse', 'tvs'], plain: 'the input protection' },
  'usbc.controller': {
    name: 'USB-C controller',
    alsoCalled: ['pd', 'cc'],
    plain: 'the chip that talks to the charger',
  },
  'charge.port-ic': { name: 'Port switch IC', plain: 'a switch behind the charging socket' },
  'charge.charger': { name: 'Charger and power path', alsoCalled: ['charging'], plain: 'the charging circuit' },
  'battery.pack': { name: 'Battery pack', alsoCalled: ['cell'], plain: 'the battery' },
  'rail.main': {
    name: 'Main system rail',
    alsoCalled: ['vsys', 'system'],
    plain: 'the main power supply on the board',
    isSupply: true,
  },
  'rail.boost': { name: 'Boost rail', plain: 'a voltage converter on the main board', isSupply: true },
  'rail.always-on': { name: 'Always-on rail', plain: 'a supply on the main board that is always on', isSupply: true },
  'rail.standby': { name: 'Standby rail', plain: 'the standby supply on the main board', isSupply: true },
  'rail.run': { name: 'Run-state rail', plain: 'a supply on the main board', isSupply: true },
  'seq.power-good': {
    name: 'Enable and power-good chain',
    plain: 'the signals that start the power supplies in order',
  },
  pmic: { name: 'Power-management IC', alsoCalled: ['pmu'], plain: 'the power management chip' },
  'core.supply': {
    name: 'Core regulator',
    alsoCalled: ['cpu', 'vcore'],
    plain: 'the power supply of the processor',
    isSupply: true,
  },
  'core.soc': { name: 'Processor', alsoCalled: ['cpu', 'soc'], plain: 'the processor' },
  'core.chipset': { name: 'Companion chip', alsoCalled: ['chipset', 'pch'], plain: 'the chip next to the processor' },
  'core.memory': { name: 'Memory', alsoCalled: ['ram'], plain: 'the memory' },
  'core.storage': { name: 'Storage', alsoCalled: ['emmc', 'flash', 'ssd'], plain: 'the storage' },
  firmware: { name: 'Boot data (firmware)', alsoCalled: ['bios'], plain: 'the start-up software' },
  mgmt: { name: 'Management controller', alsoCalled: ['ec'], plain: 'the chip that controls power and charging' },
  radio: { name: 'Radio', alsoCalled: ['wifi', 'baseband'], plain: 'the wireless module' },
  'joint.stack': {
    name: 'Board joints',
    alsoCalled: ['sandwich', 'interposer'],
    plain: 'the solder joints between two boards',
  },
  'periph.board': { name: 'Peripheral board or flex', plain: 'a smaller board or its cable' },
  display: { name: 'Display', alsoCalled: ['screen', 'lcd', 'backlight'], plain: 'the display' },
  button: { name: 'Button and wake line', alsoCalled: ['key', 'switch'], plain: 'the power button' },
  none: { name: 'Power and boot are healthy', plain: 'nothing in the power supply' },
  unmodelled: { name: 'A fault the program does not know', plain: 'something that is not known yet' },
} as const satisfies Readonly<Record<string, CircuitDefinition>>;

export type CircuitId = keyof typeof catalogue;
export const circuitTypes: Readonly<Record<CircuitId, CircuitDefinition>> = catalogue;

export const isSupply = (circuit: CircuitId): boolean => circuitTypes[circuit].isSupply === true;
export const circuitIds = Object.keys(catalogue) as CircuitId[];

export const circuitNames = namesOf(circuitTypes);
