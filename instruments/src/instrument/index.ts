export * from './seen-source.ts';
export * from './source.ts';
export * from './supply.ts';
export { supplyFor } from './supply-for.ts';
export { ScpiSupply } from './scpi-supply.ts';
export { RegisterSupply } from './register-supply.ts';
export * from './supply-source.ts';
export * from './meter-source.ts';
export { ClockMap } from './clock.ts';
