import { describe, expect, it } from 'vitest';
import { carveJob } from '../../../tests/support';
import { createInscription } from '../../core/job/defaults';
import type { Inscription, Job } from '../../core/job/schema';
import { findMove } from '../bench/moved';
import type { InscriptionView } from '../../workers/planning.client';
import { createBench } from './benchStore';
import { changeEach, selectOnly, toggleSelected, withGroups } from './selection';

const words = (id: string, group = '', locked = false): Inscription => ({ ...createInscription(id, id, 'cinzel-bold', 10), group, locked });
const job: Job = { ...carveJob('x'), inscriptions: [words('a', 'g'), words('b'), words('c', 'g'), words('d', '', true)] };

describe('selection', () => {
  it('takes groups whole', () => {
    expect(withGroups(job, ['a'])).toEqual(['a', 'c']);
    expect(withGroups(job, ['b'])).toEqual(['b']);
    expect(withGroups(job, [])).toEqual([]);
  });
  it('is replaced, added to and taken from', () => {
    const bench = createBench(job);
    const now = () => bench.view.getState();
    selectOnly(bench, ['a']);
    expect([now().selected, now().selection]).toEqual(['a', ['a', 'c']]);
    toggleSelected(bench, 'b');
    expect([now().selected, now().selection]).toEqual(['b', ['a', 'c', 'b']]);
    toggleSelected(bench, 'c');
    expect([now().selected, now().selection]).toEqual(['b', ['b']]);
    toggleSelected(bench, 'b');
    expect([now().selected, now().selection]).toEqual([null, []]);
    selectOnly(bench, []);
    expect(now().selected).toBeNull();
  });
  it('changes all that are chosen but the locked ones', () => {
    const next = changeEach(['a', 'd'], () => ({ rotationDeg: 45 }))(job);
    expect(next.inscriptions.map((i) => i.rotationDeg)).toEqual([45, 0, 0, 0]);
  });
});

describe('findMove', () => {
  const view = { at: { xMm: 10, turnDeg: 5 } } as InscriptionView;
  it('is how far it went since it was set', () => {
    expect(findMove(view, { ...words('a'), at: { xMm: 12, turnDeg: 0 } })).toEqual({ dxMm: 2, dTurnDeg: -5 });
  });
  it('is nothing for what is gone or stands on a guide', () => {
    expect(findMove(view, undefined)).toEqual({ dxMm: 0, dTurnDeg: 0 });
    const onGuide = {
      ...createInscription('a', 'a', 'f', 99),
      onGuide: {
        guideId: 'g',
        from: 'start' as const,
        distanceMm: 0,
        offsetMm: 0,
        side: 'above' as const,
        reversed: false,
        letters: 'turned' as const,
        topGuideId: null,
      },
    };
    expect(findMove(view, onGuide)).toEqual({ dxMm: 0, dTurnDeg: 0 });
  });
});
