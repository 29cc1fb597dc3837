import type { Audio } from '../audio/audio';
import { DataError } from '../project/parse';
import type { Frames } from '../units';

/** A file in a format or an encoding that our readers do not know; somebody else's may. */
export class UnknownFormat extends DataError {}

/** A sound file's samples at its own rate, and what else it says. */
export interface AudioFile {
  readonly audio: Audio;
  /** For example “24 bit”, “32 bit float” or “MP3”. */
  readonly encoding: string;
  /** What was not quite right but could be read. */
  readonly notes: readonly string[];
  readonly details: FileDetails;
}

/** What a file tells of its content, as far as it does. */
export interface FileDetails {
  readonly description?: string;
  readonly recordist?: string;
  readonly date?: string;
  readonly cues: readonly { readonly name: string; readonly frame: Frames }[];
  readonly loop?: { readonly from: Frames; readonly to: Frames };
}

export const noDetails: FileDetails = { cues: [] };
