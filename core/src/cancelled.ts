/** Work that was stopped from outside before it was done. */
export class Cancelled extends Error {
  override readonly name = 'Cancelled';
  constructor() {
    super('It was cancelled.');
  }
}
