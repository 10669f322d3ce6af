/** What a selector of one element asks for: its name, id and classes. */
interface Rule {
  name: string;
  ids: string[];
  classes: string[];
  body: string;
  weight: number;
}

const COMPOUND = /^([a-z][\w-]*|\*)?((?:[.#][\w-]+)*)$/i;

/** Rules of style sheets that go by an element's own name, id and classes; those that go by anything else are counted. */
export class StyleSheet {
  ignored = 0;
  private readonly rules: Rule[] = [];

  add(css: string): void {
    const plain = css.replace(/\/\*[^]*?\*\//g, '').replace(/<!--|-->/g, '');
    for (const [, selectors, body] of plain.matchAll(/([^{}]+)\{([^{}]*)\}/g)) {
      for (const selector of selectors!.split(',')) {
        const m = COMPOUND.exec(selector.trim());
        if (!m || !selector.trim()) {
          this.ignored++;
          continue;
        }
        const parts = m[2]!.match(/[.#][\w-]+/g) ?? [];
        const ids = parts.filter((p) => p.startsWith('#')).map((p) => p.slice(1)),
          classes = parts.filter((p) => p.startsWith('.')).map((p) => p.slice(1));
        const name = m[1] && m[1] !== '*' ? m[1] : '';
        this.rules.push({ name, ids, classes, body: body!, weight: 100 * ids.length + 10 * classes.length + (name ? 1 : 0) });
      }
    }
    // The stronger come last and win; of equals the later. Source: CSS 2.1, section 6.4.3.
    this.rules.sort((a, b) => a.weight - b.weight);
  }

  /** The declarations that hold for an element, the strongest last. */
  match(tag: string, id: string | undefined, classes: string): string {
    if (this.rules.length === 0) return '';
    const own = classes.split(/\s+/);
    return this.rules
      .filter((r) => (!r.name || r.name === tag) && r.ids.every((i) => i === id) && r.classes.every((c) => own.includes(c)))
      .map((r) => r.body)
      .join(';');
  }
}
