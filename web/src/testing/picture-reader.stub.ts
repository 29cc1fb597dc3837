/** Tests have no codecs, so there is no picture to read. */
export class PictureReader {
  static open(_video: Blob, what: string): Promise<PictureReader> {
    return Promise.reject(new Error(`${what} needs codecs that tests do not have.`));
  }
}
