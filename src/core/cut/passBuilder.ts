/** A closed pass in the making: points in turn (x, y, depth), broken off where it may not run. */
export class PassBuilder {
  private readonly runs: number[][] = [[]];
  private brokenAtStart = false;

  add(x: number, y: number, depthMm: number): void {
    this.runs[this.runs.length - 1]!.push(x, y, depthMm);
  }

  breakOff(): void {
    if (this.runs.length === 1 && this.runs[0]!.length === 0) this.brokenAtStart = true;
    if (this.runs[this.runs.length - 1]!.length > 0) this.runs.push([]);
  }

  /** The pass, closed by its first point, or its runs; the last run goes on into the first, unless it is broken off between them. */
  finish(): Float64Array[] {
    const { runs } = this;
    const first = runs[0]!,
      last = runs[runs.length - 1]!;
    if (runs.length === 1 && !this.brokenAtStart) return first.length > 0 ? [Float64Array.from([...first, ...first.slice(0, 3)])] : [];
    if (runs.length > 1 && !this.brokenAtStart && last.length > 0) {
      for (const v of first) last.push(v);
      runs.shift();
    }
    return runs.filter((run) => run.length >= 6).map((run) => Float64Array.from(run));
  }
}
