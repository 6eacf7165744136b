import type { AskedDialect } from '../dialect/index.ts';
import type { Transport } from '../transport/index.ts';
import { RegisterSupply } from './register-supply.ts';
import { ScpiSupply } from './scpi-supply.ts';
import type { Supply, SupplyOptions } from './supply.ts';

/** An instrument that is asked, by what it speaks. */
export function supplyFor(transport: Transport, dialect: AskedDialect, options: SupplyOptions = {}): Supply {
  return dialect.format === 'umbral-scpi/1'
    ? new ScpiSupply(transport, dialect, options)
    : new RegisterSupply(transport, dialect, options);
}
