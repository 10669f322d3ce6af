'use client';

import { useEffect, useState } from 'react';

/** The next try after one that failed, ms: the server may be starting again. */
const RETRY_MS = 4000;

/** Code that comes after the page. */
export interface Late<T> {
  value: T | null;
  /** Whether it did not come when it was fetched last; it is fetched again by and by. */
  failed: boolean;
  again(): void;
}

/**
 * Fetches code that the page does not need to stand there.
 * @param load The same function at every rendering.
 * @param wanted Whether it is time to.
 */
export function useLate<T>(load: () => Promise<T>, wanted = true): Late<T> {
  const [value, setValue] = useState<{ of: T } | null>(null);
  const [tries, setTries] = useState(0);
  const [failed, setFailed] = useState(false);
  const again = () => setTries((n) => n + 1);
  useEffect(() => {
    if (!wanted) return;
    let timer: ReturnType<typeof setTimeout> | null = null;
    let here = true;
    load().then(
      (found) => here && setValue({ of: found }),
      () => {
        if (!here) return;
        setFailed(true);
        timer = setTimeout(() => setTries((n) => n + 1), RETRY_MS);
      },
    );
    return () => {
      here = false;
      if (timer) clearTimeout(timer);
    };
  }, [load, tries, wanted]);
  return { value: value && value.of, failed: failed && !value, again };
}
