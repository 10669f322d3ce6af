import type { Machine } from '../job/machineSchema';

/** Millimetres in one unit of a machine's programs. */
export const getUnitMm = ({ programUnit }: Pick<Machine, 'programUnit'>): number => (programUnit === 'in' ? 25.4 : 1);

/** Decimals of its lengths: in inches one more, which is finer than the same number in millimetres is by a tenth of 25.4. */
export const getLengthDigits = ({ programUnit, lengthDigits }: Pick<Machine, 'programUnit' | 'lengthDigits'>): number =>
  lengthDigits + (programUnit === 'in' ? 1 : 0);
