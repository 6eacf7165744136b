import { circuitNames, deviceClasses } from '@umbral/core/words';
import { classWords } from './words';

/** Every kind of device, for a list to choose from. */
export function ClassOptions() {
  return deviceClasses.map((id) => (
    <option key={id} value={id}>
      {classWords[id]}
    </option>
  ));
}

/** Every circuit that a part or a cause can belong to, for a list to choose from. */
export function CircuitOptions() {
  return Object.entries(circuitNames)
    .filter(([id]) => id !== 'none' && id !== 'unmodelled')
    .map(([id, name]) => (
      <option key={id} value={id}>
        {name}
      </option>
    ));
}
