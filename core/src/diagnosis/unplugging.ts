import { circuitIds } from '../case/index.ts';
import { unpluggedIds, type DeviceTwin } from './device-twin.ts';
import type { EvidenceItem } from './model.ts';

/** A circuit that no unplugging touches: what is said of it holds for everything that stayed where it was. */
const untouched = circuitIds.indexOf('rail.main');

/**
 * Narrows what a comparison with parts unplugged says to the parts that were: in the model's own profile a peripheral that
 * stayed plugged in is judged like anything else on the board.
 */
export function byElement(item: EvidenceItem, twin: DeviceTwin): EvidenceItem {
  if (twin.closeness !== 'own' || item.unplugged === undefined) return item;
  const { profile } = twin.board;
  const off = new Set(unpluggedIds(profile, item.unplugged));
  const peripheralOf = (id: string): string | null =>
    profile.peripherals.some((p) => p.id === id)
      ? id
      : ([...profile.parts, ...profile.loads].find((x) => x.id === id)?.peripheral ?? null);
  const fine = twin.hypotheses.map(({ circuit, fault, index }) => {
    const peripheral = fault === null ? null : peripheralOf(fault.at);
    // What counts as a peripheral board but cannot be unplugged stayed as well.
    const stayed = peripheral === null ? circuit === 'periph.board' && fault !== null : !off.has(peripheral);
    return item.logLikelihood[stayed ? untouched : index];
  });
  return { ...item, fine };
}
