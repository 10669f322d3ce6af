import type { Inscription } from './schema';

/** What an inscription is called in lists and findings: its name, else its words or what it is. */
export function getTitle(i: Inscription): string {
  if (i.name) return i.name;
  switch (i.kind) {
    case 'text':
      return i.text.split('\n')[0] || 'empty';
    case 'series':
      return `scale ${i.from} to ${i.to}`;
    case 'artwork':
      return i.source || 'artwork';
  }
}
