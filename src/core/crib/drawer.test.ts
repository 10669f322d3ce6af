import { describe, expect, it } from 'vitest';
import { DEFAULT_MACHINE } from '../job/defaults';
import { machineSchema } from '../job/schema';
import { findFreeNumber, listDrawer, putInDrawer } from './drawer';
import { STARTER_TOOLS } from './starterTools';

const [a, b, c] = STARTER_TOOLS as [(typeof STARTER_TOOLS)[0], (typeof STARTER_TOOLS)[0], (typeof STARTER_TOOLS)[0]];
const crib = [a, b, c];
const all = { drawer: null };

describe('a machine’s drawer', () => {
  it('of which nothing is said holds all of the crib, by their own numbers', () => expect(listDrawer(all, crib)).toEqual(crib));

  it('gives cutters the numbers of its own control, and leaves out what it has not got', () => {
    const drawer = [
      { toolId: c.id, number: 7 },
      { toolId: 'gone', number: 8 },
    ];
    expect(listDrawer({ drawer }, crib)).toEqual([{ ...c, number: 7 }]);
  });

  it('begins with all when one is taken out or numbered anew, and forgets what the crib has no more', () => {
    const out = putInDrawer(all, crib, b.id, null);
    if (!('drawer' in out)) throw new Error(out.refusal);
    expect(out.drawer.map((d) => d.toolId)).toEqual([a.id, c.id]);
    const again = putInDrawer(out, [b, c], b.id, 40);
    expect(again).toEqual({
      drawer: [
        { toolId: c.id, number: c.number },
        { toolId: b.id, number: 40 },
      ],
    });
    expect(machineSchema.parse({ ...DEFAULT_MACHINE, ...again }).drawer).toHaveLength(2);
  });

  it('has no number twice, and says whose it is', () => {
    expect(putInDrawer(all, crib, b.id, a.number)).toEqual({ refusal: expect.stringContaining(a.name) as string });
    const twice = [
      { toolId: a.id, number: 5 },
      { toolId: b.id, number: 5 },
    ];
    expect(machineSchema.safeParse({ ...DEFAULT_MACHINE, drawer: twice }).success).toBe(false);
    expect(findFreeNumber([{ number: 3 }, { number: 4 }], 3)).toBe(5);
  });
});
