/**
 * Finished rows handed from who makes them, in order, to who writes them: no more than one strip is held. The maker waits until its rows
 * were taken, the writer until they are there.
 */
export class RowStream<Rows> {
  private strip: { readonly top: number; readonly end: number; readonly rows: Rows } | undefined;
  private failure: Error | undefined;
  private wake: (() => void)[] = [];
  private taken = 0;

  /** Gives rows and waits until they were taken. Rejects when the writer has failed. */
  async give(top: number, end: number, rows: Rows): Promise<void> {
    this.strip = { top, end, rows };
    this.stir();
    while (this.taken < end && !this.failure) await this.next();
    if (this.failure) throw this.failure;
  }

  /** The strip that holds a row; waits for it. Rejects when the maker has failed. */
  async at(row: number): Promise<{ readonly top: number; readonly end: number; readonly rows: Rows }> {
    if (row > this.taken) {
      this.taken = row;
      this.stir();
    }
    for (;;) {
      if (this.failure) throw this.failure;
      if (this.strip && row >= this.strip.top && row < this.strip.end) return this.strip;
      await this.next();
    }
  }

  /** Everything was written. */
  finish(): void {
    this.taken = Infinity;
    this.stir();
  }

  /** Either side has failed: the other does not wait for it. */
  fail(error: Error): void {
    this.failure ??= error;
    this.stir();
  }

  private next(): Promise<void> {
    return new Promise((go) => this.wake.push(go));
  }

  private stir(): void {
    for (const go of this.wake.splice(0)) go();
  }
}
