export { SimulatedBench } from './bench.ts';
export { SimulatedSupply } from './supply.ts';
export { SimulatedRegisterSupply } from './register-supply.ts';
export { SimulatedAsciiSupply } from './ascii-supply.ts';
export { SimulatedMeter, usualFrameMeter } from './meter.ts';
export { SimulatedMultimeter } from './multimeter.ts';
export { frameOf } from './frame-writer.ts';
export { numberArgument, ScpiError, ScpiTree, switchArgument } from './scpi-tree.ts';
export { OperatorServer } from './operator.ts';
