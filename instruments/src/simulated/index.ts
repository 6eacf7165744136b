export { SimulatedBench } from './bench.ts';
export { SimulatedSupply, noTrouble, type SupplyModel, type Trouble } from './supply.ts';
export { SimulatedMeter, type MeterModel } from './meter.ts';
export { numberArgument, ScpiError, ScpiTree, switchArgument } from './scpi-tree.ts';
export { OperatorServer } from './operator.ts';
