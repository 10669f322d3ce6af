import type { Job } from '../../core/job/schema';

export type Units = Job['units'];
export const MM_PER_INCH = 25.4;

const trim = (text: string): string => (text.includes('.') ? text.replace(/\.?0+$/, '') : text);

/** A length as shown: mm or inches, without needless zeros. */
export const formatLength = (mm: number, units: Units, digits = units === 'mm' ? 3 : 4): string =>
  trim((units === 'mm' ? mm : mm / MM_PER_INCH).toFixed(digits)).replace(/^-0$/, '0');

export const formatLengthUnit = (mm: number, units: Units, digits?: number): string => `${formatLength(mm, units, digits)} ${units}`;

export const formatDeg = (deg: number, digits = 2): string => `${trim(deg.toFixed(digits)).replace(/^-0$/, '0')}°`;

export const formatTime = (s: number): string => {
  const whole = Math.round(s);
  return whole < 60 ? `${whole} s` : `${Math.floor(whole / 60)} min ${String(whole % 60).padStart(2, '0')} s`;
};

export const formatCount = (n: number): string => String(n).replace(/\B(?=(\d{3})+$)/g, '\u2009');
