'use client';

import { useEffect, useState } from 'react';
import type { RunnerSetup } from '../../core/runner/protocol';
import type { RunnerNews } from '../../core/runner/news';

type Order =
  | { do: 'start' }
  | { do: 'command'; text: string }
  | { do: 'setup'; setup: RunnerSetup }
  | { do: 'feed'; name: string; text: string; setup: RunnerSetup };

/** Gives the simulated machine an order. @returns Why it did not take it, or null. */
export async function orderRunner(order: Order): Promise<string | null> {
  try {
    const answer = await fetch('/api/runner', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(order),
    });
    if (answer.ok) return null;
    return ((await answer.json()) as { text: string }).text;
  } catch {
    return 'Hobel itself does not answer: start it again.';
  }
}

/** What the simulated machine tells, while somebody looks. @param wanted Whether to listen. */
export function useRunnerNews(wanted: boolean): RunnerNews | null {
  const [news, setNews] = useState<RunnerNews | null>(null);
  useEffect(() => {
    if (!wanted) return;
    const source = new EventSource('/api/runner');
    source.onmessage = (event) => setNews(JSON.parse(event.data as string) as RunnerNews);
    return () => source.close();
  }, [wanted]);
  return wanted ? news : null;
}
