/**
 * A computation in steps: it yields what it reports and returns its result. Whoever drives it may pause between two steps,
 * or leave it there for good: what it had kept by then (carved pieces) stays kept.
 */
export type Steps<P, T> = Generator<P, T, void>;

/** Runs a computation to its end. @param onStep Called with each report; may throw to stop. */
export function runSteps<P, T>(steps: Steps<P, T>, onStep: (report: P) => void = () => undefined): T {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    onStep(step.value);
  }
}

/** The same computation with its reports said another way. */
export function* reportSteps<P, Q, T>(steps: Steps<P, T>, say: (report: P) => Q): Steps<Q, T> {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    yield say(step.value);
  }
}
