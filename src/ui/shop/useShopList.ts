'use client';

import { useCallback, useRef, useState } from 'react';

interface Answer {
  text?: string;
  remedy?: string;
  problems?: { text: string }[];
}

/**
 * A list of the shop kept on the server. Edits show at once, go out one after the other in the order they were made, and
 * build on each other; one that is refused is taken back and the page says why.
 */
export function useShopList<T extends { id: string }>(url: string, first: readonly T[]) {
  const [items, setItems] = useState<readonly T[]>(first);
  const [failure, setFailure] = useState<string | null>(null);
  // What is shown, ahead of the next render, and what the server has: edits made in one moment must not lose each other.
  const shown = useRef<readonly T[]>(first);
  const kept = useRef<readonly T[]>(first);
  const queue = useRef<Promise<void>>(Promise.resolve());

  const show = useCallback((list: readonly T[]) => {
    shown.current = list;
    setItems(list);
  }, []);

  const send = useCallback(
    (request: () => Promise<Response>, change: (list: readonly T[]) => readonly T[]): Promise<void> => {
      show(change(shown.current));
      queue.current = queue.current.then(async () => {
        try {
          const answer = await request();
          if (answer.ok) {
            kept.current = change(kept.current);
            setFailure(null);
            return;
          }
          const body = (await answer.json()) as Answer;
          setFailure([body.text, body.problems?.[0]?.text, body.remedy].filter(Boolean).join('. '));
        } catch {
          setFailure('Hobel’s server does not answer; nothing was changed');
        }
        show(kept.current);
      });
      return queue.current;
    },
    [show],
  );

  const put = useCallback(
    (item: T) =>
      send(
        () => fetch(url, { method: 'PUT', headers: { 'content-type': 'application/json' }, body: JSON.stringify(item) }),
        (list) => (list.some((i) => i.id === item.id) ? list.map((i) => (i.id === item.id ? item : i)) : [...list, item]),
      ),
    [send, url],
  );

  return {
    items,
    failure,
    put,
    /** Changes an item as it stands now, if `check` finds nothing against it; else says what. */
    patch: (id: string, patch: Partial<T>, check: (item: T) => string | null): string | null => {
      const item = shown.current.find((i) => i.id === id);
      if (!item) return null;
      const next = { ...item, ...patch };
      const refusal = check(next);
      if (!refusal) void put(next);
      return refusal;
    },
    remove: (id: string) =>
      send(
        () => fetch(`${url}?id=${encodeURIComponent(id)}`, { method: 'DELETE' }),
        (list) => list.filter((i) => i.id !== id),
      ),
  };
}

/** The reason a schema refuses a value, in words. */
export const explainRefusal = (result: { success: boolean; error?: { issues: { message: string }[] } }): string | null => {
  if (result.success) return null;
  const text = result.error!.issues[0]!.message;
  return text[0]!.toUpperCase() + text.slice(1);
};
