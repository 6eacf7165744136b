import type { Queries } from '../../record/db.ts';
import type { Written, PartRow } from '../../record/tables.ts';
import { models } from './models.ts';

type Shelved = Written<PartRow> &
  Pick<PartRow, 'name' | 'number' | 'circuit' | 'on_hand' | 'minimum' | 'cost' | 'supplier' | 'shelf'>;

const shelf: Shelved[] = [
  {
    name: 'USB-C socket',
    number: 'UP-24',
    suffix: 'B',
    fits: ['A'],
    circuit: 'input.port',
    on_hand: 4,
    minimum: 2,
    cost: 3,
    supplier: 'Millrace Components',
    shelf: 'drawer 1',
  },
  {
    name: 'port switch',
    number: 'PS-5',
    suffix: 'C',
    circuit: 'charge.port-ic',
    on_hand: 1,
    minimum: 2,
    cost: 6,
    supplier: 'Millrace Components',
    shelf: 'drawer 2',
  },
  {
    name: 'charger chip',
    number: 'CH-20',
    suffix: 'D',
    fits: ['C'],
    circuit: 'charge.charger',
    on_hand: 2,
    minimum: 1,
    cost: 7,
    supplier: 'Millrace Components',
    shelf: 'drawer 2',
  },
  {
    name: 'run rail converter',
    number: 'RB-3',
    circuit: 'rail.run',
    on_hand: 3,
    minimum: 1,
    cost: 5,
    supplier: 'Tern & Sedge Parts',
    shelf: 'drawer 3',
  },
  {
    name: 'main rail capacitors',
    number: 'MC-22',
    circuit: 'rail.main',
    on_hand: 60,
    minimum: 20,
    cost: 0.2,
    supplier: 'Tern & Sedge Parts',
    shelf: 'drawer 4',
  },
  {
    name: 'field phone pack',
    number: 'FP-38',
    circuit: 'battery.pack',
    device_class: 'phone',
    on_hand: 2,
    minimum: 2,
    cost: 18,
    supplier: 'Tern & Sedge Parts',
    shelf: 'fire-safe box',
  },
  {
    name: 'handheld screen',
    number: 'HS-7',
    suffix: 'A',
    circuit: 'display',
    device_class: 'handheld',
    on_hand: 0,
    minimum: 1,
    cost: 32,
    supplier: 'Tern & Sedge Parts',
    shelf: 'shelf B',
  },
];

/** A made-up shelf: what the repairs of the sample fleet need, some kinds under their minimum, and a board that parts are taken from. */
export async function loadSampleShelf(q: Queries): Promise<void> {
  await q('parts').insert(shelf);
  const [donor] = (await q('donors')
    .insert({
      label: 'tablet board, flooded corner',
      device_class: 'tablet',
      model: models.larkslate.model,
      shelf: 'box 2',
    })
    .returning('id')) as { id: number }[];
  await q('donor_parts').insert([
    { donor_id: donor.id, what: 'port switch', number: 'PS-5', suffix: 'C', circuit: 'charge.port-ic' },
    { donor_id: donor.id, what: 'power manager', number: 'PM-11', suffix: 'A', circuit: 'pmic' },
  ]);
}
