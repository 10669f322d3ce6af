// One half of them: two files run side by side.
import { it } from 'vitest';
import { checkDangers } from './dangers';

const JOBS = Number(process.env.HOBEL_JOBS ?? 200) / 2;

it(`${JOBS} good programs raise no danger, and as many with one planted each have it seen`, () => checkDangers(JOBS, 11), 480_000);
