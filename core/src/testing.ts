// Jest globals are ambient in specs; this keeps the property-test library behind one import.
export * as fc from 'fast-check';
