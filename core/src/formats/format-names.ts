/** What files begin with that nobody here reads, from a byte on. */
const known: readonly (readonly [number, string, string])[] = [
  [0, 'caff', 'a Core Audio file (CAF)'],
  [0, '0&\u00b2u', 'a Windows Media file'],
  [0, 'wvpk', 'a WavPack file'],
  [0, 'MAC ', 'a Monkey’s Audio file'],
  [0, 'TTA1', 'a True Audio file'],
  [0, '.snd', 'a Sun audio file (AU)'],
  [0, 'MThd', 'a MIDI file'],
  [28, '\u007fFLAC', 'FLAC in an Ogg file'],
  [28, 'Speex', 'Speex in an Ogg file'],
];

/** What a file is, by its first 64 bytes, in words for a person: “a Core Audio file (CAF)”; undefined where that is not known. */
export function formatName(start: Uint8Array): string | undefined {
  const begins = (at: number, text: string): boolean => [...text].every((letter, i) => start[at + i] === letter.charCodeAt(0));
  return known.find(([at, text]) => begins(at, text))?.[2];
}
