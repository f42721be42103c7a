/**
 * When a person last did something that may change the picture, on the clock of `performance.now()`: what the time from the hand to the
 * picture is counted from.
 */
let at: number | undefined;

/** Begins to listen; once a page is enough. */
export function listenForInput(): void {
  for (const kind of ['pointermove', 'pointerdown', 'keydown', 'wheel', 'input'])
    addEventListener(kind, (e) => (at = e.timeStamp), { capture: true, passive: true });
}

/** The time of the newest input that no picture was counted from yet. */
export function takeInput(): number | undefined {
  const taken = at;
  at = undefined;
  return taken;
}
