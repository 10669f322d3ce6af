/*
 * The simulated machine as a process of its own, over a real connection on loopback: lines a second, a program fed by the link that the
 * pages use, a port that is taken, a machine that is gone in the middle.
 */
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { spawn, type ChildProcess } from 'node:child_process';
import { parseJobText } from '../src/core/job/parse';
import type { RunnerNews } from '../src/core/runner/news';
import { RunnerLink } from '../src/server/runnerLink';
import { planJob, textOf } from '../tests/support';

const LINES = 20_000;

function start(port: number): Promise<{ process: ChildProcess; port: number; said: string }> {
  const child = spawn(process.execPath, ['--import', 'tsx', 'src/cli/main.ts', 'runner', '--port', String(port)], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  return new Promise((resolve) => {
    let said = '';
    const hear = (chunk: Buffer): void => {
      said += chunk.toString();
      const found = /127\.0\.0\.1:(\d+)/.exec(said);
      if (found || said.includes('taken')) resolve({ process: child, port: Number(found?.[1] ?? 0), said });
    };
    child.stdout!.on('data', hear);
    child.stderr!.on('data', hear);
  });
}

describe('the simulated machine on loopback', () => {
  let runner: Awaited<ReturnType<typeof start>>;
  let link: RunnerLink;
  let news: RunnerNews | undefined;
  const until = async (holds: () => boolean, ms = 60_000): Promise<void> => {
    for (const end = Date.now() + ms; !holds() && Date.now() < end;) await new Promise((r) => setTimeout(r, 10));
    expect(holds()).toBe(true);
  };
  const job = (() => {
    const parsed = parseJobText(readFileSync('resources/jobs/rain-gauge.json', 'utf8'));
    if (!parsed.ok) throw new Error('no job');
    return parsed.value;
  })();
  const setup = { machine: job.machine, blank: job.blank, zero: job.zero, gaugeMm: 40 };
  beforeAll(async () => {
    runner = await start(0);
    link = new RunnerLink(runner.port);
    link.listen((own) => (news = own));
    await until(() => news?.link === 'up' && news.status !== null);
    expect(await link.place(setup)).toBe('ok setup');
    expect(await link.command('home')).toBe('ok home');
    await until(() => news!.status!.isHomed);
    expect(await link.command('speed 5000')).toBe('ok speed');
  });
  afterAll(() => void runner.process.kill());

  it('tells its status ten times a second, and takes two thousand lines a second and more', async () => {
    const lines = Array.from({ length: LINES }, (_, k) => `G1 X${(10 + 0.01 * (k % 100)).toFixed(4)} Y0. A${(0.02 * k).toFixed(4)} F600`);
    const text = ['G21 G90 G94', 'G0 Z60', 'G0 X10 Y0 A0', ...lines, 'M2'].join('\n');
    const began = performance.now();
    expect(await link.feed('many.nc', text, setup)).toBe('ok feed');
    await until(() => news!.feed!.state !== 'feeding');
    const seconds = (performance.now() - began) / 1000;
    expect(news!.feed).toMatchObject({ state: 'fed', count: LINES + 4, refusal: null });
    console.info(`the simulated machine took ${Math.round(LINES / seconds)} lines a second`);
    expect(LINES / seconds).toBeGreaterThan(2000);
    await until(() => news!.status!.ended);
    let told = 0;
    const leave = link.listen(() => told++);
    await new Promise((r) => setTimeout(r, 1000));
    leave();
    expect(told).toBeGreaterThanOrEqual(7);
    expect(told).toBeLessThanOrEqual(13);
  });

  it('runs a demo job from its text, and is found where the power left it', async () => {
    const { plan } = await planJob(job);
    expect(await link.command('speed 40')).toBe('ok speed');
    expect(await link.feed('rain-gauge.nc', textOf(plan), setup)).toBe('ok feed');
    await until(() => news!.status!.line > 200);
    expect(await link.command('power off')).toBe('ok power');
    await until(() => news!.status!.state === 'off');
    const { line } = news!.status!;
    // The line that ran is known, and so the stroke to begin from.
    const fileLine = news!.feed!.fileLine;
    expect(
      textOf(plan)
        .split('\n')
        .slice(0, fileLine + 1)
        .filter((l) => l.trim() !== ''),
    ).toHaveLength(line);
    expect(await link.command('jog X 1 F 100')).toBe('no jog the power is off');
    link.dropFeed();
    await link.command('power on');
    await link.command('home');
    await until(() => news!.status!.isHomed);
  });

  it('says when its port is taken', async () => {
    const second = await start(runner.port);
    expect(second.said).toMatch(/--port \d+: the port is taken; pass another/);
  });

  it('that a server started ends with it, however that ends: when its input does', async () => {
    const child = spawn(process.execPath, ['--import', 'tsx', 'src/cli/main.ts', 'runner', '--port', '0', '--attached'], {
      stdio: ['pipe', 'pipe', 'inherit'],
    });
    await new Promise((resolve) => child.stdout.once('data', resolve));
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.stdin.end();
    expect(await gone).toBe(0);
  });

  it('is missed when it is gone in the middle, and nothing hangs', async () => {
    await link.feed('many.nc', ['G21 G90 G94', 'G0 Z60', 'G0 X10 Y0 A0', 'G1 X90 F100', 'M2'].join('\n'), setup);
    runner.process.kill('SIGKILL');
    await until(() => news!.link === 'down');
    expect(news!.why).toBe('the connection to it broke off');
    expect(await link.command('hold')).toMatch(/^no (nothing answers on port|the connection broke off)/);
  });
});
