/** The input cannot be used. The message is one sentence a shooter can act on: which file, what is wrong, what to do. */
export class UnusableMedia extends Error {
  constructor(
    message: string,
    readonly code: string,
  ) {
    super(message);
    this.name = 'UnusableMedia';
  }
}
