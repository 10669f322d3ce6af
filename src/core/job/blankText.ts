import { roundTo } from '../base/round';
import { createMeridian } from '../surface/meridian';
import type { Blank, BlankOf } from './blankSchema';

/** Whether a blank is held so that the rotary turns it, or lies still. */
export function getMount(blank: Blank): 'rotary' | 'table' {
  switch (blank.kind) {
    case 'plate':
      return 'table';
    case 'arched':
    case 'free':
      return blank.mount;
    default:
      return 'rotary';
  }
}

/** Largest diameter and length of a profile, mm: an arc may be thicker than its ends. */
export function getTurnedSizes(profile: BlankOf<'turned'>['profile']): { diameterMm: number; lengthMm: number } {
  const made = createMeridian(profile);
  const xs = profile.map((p) => p.xMm);
  return {
    diameterMm: made.ok ? 2 * made.value.maxRadiusMm : Math.max(...profile.map((p) => p.diameterMm)),
    lengthMm: Math.max(...xs) - Math.min(...xs),
  };
}

/**
 * A blank in a few words with its sizes, as cards and programs show it.
 * @param unit Written after the sizes.
 */
export function describeBlank(blank: Blank, length: (mm: number) => string, unit: string): string {
  switch (blank.kind) {
    case 'cylinder':
      return `Ø ${length(blank.diameterMm)} × ${length(blank.lengthMm)} ${unit}`;
    case 'cone':
      return `cone Ø ${length(blank.datumDiameterMm)} to ${length(blank.farDiameterMm)} × ${length(blank.lengthMm)} ${unit}`;
    case 'turned': {
      const { diameterMm, lengthMm } = getTurnedSizes(blank.profile);
      return `turned, Ø to ${length(roundTo(diameterMm, 2))} × ${length(lengthMm)} ${unit}`;
    }
    case 'plate': {
      const slope = blank.inclineDeg === 0 ? '' : `, inclined ${blank.inclineDeg}°`;
      return `${blank.shape === 'disc' ? `disc Ø ${length(blank.lengthMm)}` : `plate ${length(blank.lengthMm)} × ${length(blank.widthMm)}`} × ${length(blank.thicknessMm)} ${unit}${slope}`;
    }
    case 'arched':
      return `${blank.side === 'convex' ? 'arch' : 'hollow'} R ${length(blank.radiusMm)}, ${length(blank.lengthMm)} × ${length(blank.chordMm)} ${unit}`;
    case 'free':
      return `shape ${blank.source || 'of a file'}`;
  }
}

/** Names of the kinds of blank. */
export const BLANK_NAMES: Record<Blank['kind'], string> = {
  plate: 'plate',
  cylinder: 'cylinder or tube',
  cone: 'cone',
  turned: 'turned profile',
  arched: 'arched plate',
  free: 'free shape',
};
