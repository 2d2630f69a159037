/** Work that must not be done twice at a time: whoever asks for the same meanwhile gets what comes of it. */
export class Once<T> {
  private readonly underWay = new Map<string, Promise<T>>();

  /** Does the work, or waits for the one who does it already. */
  run(key: string, work: () => Promise<T>): Promise<{ result: T; own: boolean }> {
    const before = this.underWay.get(key);
    if (before) return before.then((result) => ({ result, own: false }));
    const fresh = work().finally(() => this.underWay.delete(key));
    this.underWay.set(key, fresh);
    return fresh.then((result) => ({ result, own: true }));
  }
}
