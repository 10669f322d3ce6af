'use client';

import { useState } from 'react';

/** A list of the shop kept on the server: what is shown is what was acknowledged. */
export function useShopList<T extends { id: string }>(url: string, first: readonly T[]) {
  const [items, setItems] = useState<readonly T[]>(first);
  const [failure, setFailure] = useState<string | null>(null);
  const send = async (request: () => Promise<Response>, then: () => void) => {
    try {
      const answer = await request();
      if (answer.ok) {
        setFailure(null);
        then();
        return;
      }
      const body = (await answer.json()) as { text: string; remedy?: string; problems?: { text: string }[] };
      setFailure([body.text, body.problems?.[0]?.text, body.remedy].filter(Boolean).join('. '));
    } catch {
      setFailure('Hobel’s server does not answer; nothing was changed');
    }
  };
  return {
    items,
    failure,
    put: (item: T) => send(
      () => fetch(url, { method: 'PUT', headers: { 'content-type': 'application/json' }, body: JSON.stringify(item) }),
      () => setItems((list) => (list.some((i) => i.id === item.id) ? list.map((i) => (i.id === item.id ? item : i)) : [...list, item])),
    ),
    remove: (id: string) => send(() => fetch(`${url}?id=${encodeURIComponent(id)}`, { method: 'DELETE' }), () => setItems((list) => list.filter((i) => i.id !== id))),
  };
}

/** The reason a schema refuses a value, in words. */
export const explainRefusal = (result: { success: boolean; error?: { issues: { message: string }[] } }): string | null => {
  if (result.success) return null;
  const text = result.error!.issues[0]!.message;
  return text[0]!.toUpperCase() + text.slice(1);
};
