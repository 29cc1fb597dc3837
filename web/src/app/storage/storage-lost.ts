/** A project that was stored is not there any more: somebody removed it, or the whole storage, while it was open. */
export class StorageLost extends Error {
  override readonly name = 'StorageLost';
  constructor() {
    super('it is not in this browser’s storage any more; it was removed elsewhere, or the storage was deleted');
  }
}
