/** What is said of how a device is, as its history has it. */
interface DeviceStateDefinition {
  /** Something was seen that a device that does not work cannot show. */
  isWorking?: boolean;
  /** Something was changed, and nothing was switched on since. */
  isUntried?: boolean;
}

/** How a device is after everything that was done to it. The ids are stable outside Umbral. */
const catalogue = {
  'not-changed': {},
  'mended-untried': { isUntried: true },
  'part-off-untried': { isUntried: true },
  'short-gone': { isUntried: true },
  'still-short': { isUntried: true },
  'works-seen': { isWorking: true },
  'works-alone': { isWorking: true },
  'works-with-other': { isWorking: true },
  'same-fault': {},
  'other-fault': {},
} as const satisfies Readonly<Record<string, DeviceStateDefinition>>;

export type DeviceStateId = keyof typeof catalogue;
export const deviceStateTypes: Readonly<Record<DeviceStateId, DeviceStateDefinition>> = catalogue;
