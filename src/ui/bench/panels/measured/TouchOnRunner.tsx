'use client';

import { useEffect, useRef, useState } from 'react';
import { CrosshairIcon } from '@phosphor-icons/react';
import type { Setup } from '../../../../core/pipeline/setup';
import { describeProbeRefusal, writeProbeProgram, type ProbeSettings } from '../../../../core/probe/probeProgram';
import { Button } from '../../../common/Button';
import { orderRunner, useRunnerNews } from '../../../state/useRunner';

interface Props {
  setup: Setup;
  settings: ProbeSettings;
  onTouches(text: string): void;
  onFailure(line: string): void;
}

/** So many times as fast as a machine would. */
const SPEED = 60;

/** Has the simulated machine touch its blank, which is not quite what was drawn, and takes what it logs. */
export function TouchOnRunner({ setup, settings, onTouches, onFailure }: Props) {
  const [busy, setBusy] = useState(false);
  const news = useRunnerNews(busy);
  const wanted = useRef(0);
  const done = useRef<(failure: string | null, touches: readonly string[]) => void>(() => undefined);
  useEffect(() => {
    done.current = (failure, touches) => {
      setBusy(false);
      wanted.current = 0;
      void orderRunner({ do: 'command', text: 'speed 1' });
      if (failure) onFailure(failure);
      else onTouches(touches.join('\n'));
    };
  });
  useEffect(() => {
    if (!busy || !news || wanted.current === 0) return;
    if (news.link === 'down') done.current(`The simulated machine is gone: ${news.why}.`, []);
    else if (news.feed?.refusal)
      done.current(`The simulated machine refused line ${news.feed.refusal.line}: ${news.feed.refusal.why}.`, []);
    else if (news.status?.alarm) done.current(`The simulated machine raised an alarm: ${news.status.alarm}. Clear it at Program.`, []);
    else if (news.status?.ended && news.feed?.state === 'fed' && news.touches.length >= wanted.current) done.current(null, news.touches);
  }, [busy, news]);
  const touch = async () => {
    const made = writeProbeProgram(setup, settings);
    if (!made.ok) return onFailure(describeProbeRefusal(made.error));
    const { machine, blank, zero } = setup.job;
    const place = { machine, blank, zero, gaugeMm: 30 };
    const failure =
      (await orderRunner({ do: 'start' })) ??
      (await orderRunner({ do: 'command', text: 'reset' })) ??
      (await orderRunner({ do: 'setup', setup: place })) ??
      (await orderRunner({ do: 'command', text: `speed ${SPEED}` })) ??
      (await orderRunner({ do: 'command', text: 'home' }));
    if (failure) return onFailure(failure);
    wanted.current = made.places.length;
    setBusy(true);
    const refused = await orderRunner({ do: 'feed', name: 'probing', text: made.text, setup: place });
    if (refused) done.current(refused, []);
  };
  return (
    <Button size="sm" variant="outline-primary" disabled={busy} onClick={() => void touch()}>
      <CrosshairIcon size={15} /> {busy ? `Touching… ${news?.touches.length ?? 0}` : 'Touch it on the simulated machine'}
    </Button>
  );
}
