'use client';

import { useEffect } from 'react';
import type { Bench } from './benchStore';

const KEPT = ['sheetTurned', 'standing'] as const;
const FILL = /^#[0-9a-f]{6}$/;

/** How a job was looked at last, kept by this browser for each job. What cannot be kept is only not kept. */
export function useKeptView(bench: Bench, id: string): void {
  useEffect(() => {
    const name = `hobel-view-${id}`;
    try {
      const kept = JSON.parse(localStorage.getItem(name) ?? '{}') as Record<string, unknown>;
      for (const key of KEPT) if (kept[key] === true) bench.view.setState({ [key]: true });
      if (typeof kept.fill === 'string' && FILL.test(kept.fill)) bench.view.setState({ fill: kept.fill });
    } catch {
      // Nothing kept that can be read: as if it were new.
    }
    return bench.view.subscribe((now, before) => {
      if (now.fill === before.fill && KEPT.every((key) => now[key] === before[key])) return;
      try {
        localStorage.setItem(name, JSON.stringify({ ...Object.fromEntries(KEPT.map((key) => [key, now[key]])), fill: now.fill }));
      } catch {
        // The browser keeps nothing here.
      }
    });
  }, [bench, id]);
}
