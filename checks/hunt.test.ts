import { describe, expect, it } from 'vitest';
import { huntOne } from './hunt/hunt';

/**
 * Jobs drawn at random, always the same: all are sound, so none may be refused by what it cuts, and rays that share no code with the judge
 * find nothing that it let through. More, and others, by `npm run hunt -- --jobs 100 --seed 1`. Some were red once: 223 (a lead through a
 * letter), 5 and 55 (corners under a blunt tip, a groove on a steep cone), 113 (a wall that leans), 137 (slopes on an arch),
 * 320 (beside a floor under a tool that leans), 830 (a line whose tool leans more where it stands than where it is asked),
 * 903 and 1165 (a roof made from beyond a lower place), 926 (a stroke's end between a corner and a point), 1011 (tabs under a leaning rim),
 * 1112 (a ball that leans prints wider), 1132 (a way broken off where a corner of its true way was cut across),
 * 1001 (a wall all but along the rays of a wide arch: the field itself missed up to 0.08 mm of a stroke's side).
 */
const DRAWS = [3, 5, 13, 113, 137, 223, 224, 230, 306, 308, 310, 315, 320, 321, 325, 330, 830, 903, 926, 1001, 1011, 1112, 1132, 1165];

describe('drawn jobs', () => {
  it.each(DRAWS)(
    'draw %d',
    async (seed) => {
      const { drawn, status, text, wrong } = await huntOne(seed, 20, 0);
      expect(text, drawn.name).toEqual([]);
      expect(status, drawn.name).toBe('released');
      expect(wrong, drawn.name).toEqual([]);
    },
    120_000,
  );
});
