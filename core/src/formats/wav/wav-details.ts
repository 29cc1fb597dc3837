import { strFromU8 } from 'fflate';
import type { Frames } from '../../units';
import type { FileDetails } from '../audio-file';
import type { Chunk } from './chunks';
import { idAt } from './chunks';

const mostCues = 10_000;

/**
 * What the chunks `bext` (EBU Tech 3285), `iXML`, `cue ` with `LIST adtl`, `smpl` and `LIST INFO` tell of a WAV file. Whatever is damaged in
 * them is left out: the samples are worth more than their labels.
 */
export function readWavDetails(chunks: readonly Chunk[]): FileDetails {
  const lines: string[] = [];
  let recordist: string | undefined;
  let date: string | undefined;
  let loop: FileDetails['loop'];
  const frames = new Map<number, Frames>();
  const names = new Map<number, string>();
  for (const { id, body } of chunks) {
    const size = body.byteLength;
    const text = (offset: number, length: number): string => textAt(body, offset, length);
    if (id === 'bext' && size >= 602) {
      const description = text(0, 256);
      if (description) lines.push(description);
      recordist ??= text(256, 32) || undefined;
      const day = text(320, 10).replaceAll(/[:_/. ]/g, '-');
      const time = text(330, 8).replaceAll(/[-_/. ]/g, ':');
      if (/^\d{4}-\d{2}-\d{2}$/.test(day)) date ??= /^\d{2}:\d{2}:\d{2}$/.test(time) ? `${day} ${time}` : day;
    } else if (id === 'iXML') {
      for (const [tag, label] of [
        ['SCENE', 'Scene'],
        ['TAKE', 'Take'],
        ['NOTE', ''],
        ['PROJECT', 'Project'],
      ] as const) {
        const value = xmlValue(text(0, Math.min(size, 1_000_000)), tag);
        if (value && !lines.includes(value)) lines.push(label ? `${label}: ${value}` : value);
      }
    } else if (id === 'cue ' && size >= 4) {
      const count = Math.min(body.getUint32(0, true), Math.floor((size - 4) / 24), mostCues);
      for (let i = 0; i < count; i++) frames.set(body.getUint32(4 + i * 24, true), body.getUint32(24 + i * 24, true));
    } else if (id === 'LIST' && size >= 4 && text(0, 4) === 'adtl') readLabels(body, names);
    else if (id === 'LIST' && size >= 4 && text(0, 4) === 'INFO') {
      const info = new Map<string, string>();
      eachPart(body, (part, from, length) => info.set(part, text(from, length)));
      const comment = info.get('ICMT');
      if (comment && !lines.includes(comment)) lines.push(comment);
      recordist ??= info.get('IART') || undefined;
      date ??= info.get('ICRD') || undefined;
    } else if (id === 'smpl' && size >= 60 && body.getUint32(28, true) > 0) {
      const from = body.getUint32(44, true);
      // The end of a sampler loop is the last frame that is played.
      const to = body.getUint32(48, true) + 1;
      if (to > from) loop = { from, to };
    }
  }
  const cues = [...frames].map(([id, frame]) => ({ name: names.get(id) || `Cue ${id}`, frame })).sort((a, b) => a.frame - b.frame);
  const description = lines.join('\n').slice(0, 10_000);
  return {
    cues,
    ...(description && { description }),
    ...(recordist && { recordist: recordist.slice(0, 200) }),
    ...(date && { date: date.slice(0, 40) }),
    ...(loop && { loop }),
  };
}

function textAt(body: DataView, offset: number, length: number): string {
  const bytes = new Uint8Array(body.buffer, body.byteOffset + offset, Math.max(0, Math.min(length, body.byteLength - offset)));
  const end = bytes.indexOf(0);
  return strFromU8(end < 0 ? bytes : bytes.subarray(0, end)).trim();
}

function readLabels(list: DataView, names: Map<number, string>): void {
  eachPart(list, (id, start, length) => {
    if ((id === 'labl' || id === 'note') && length > 4) {
      const cue = list.getUint32(start, true);
      if (id === 'labl' || !names.has(cue)) names.set(cue, textAt(list, start + 4, length - 4).slice(0, 300));
    }
  });
}

/** The chunks within a list, behind the four letters of its kind. */
function eachPart(list: DataView, visit: (id: string, start: number, length: number) => void): void {
  for (let at = 4; at + 8 <= list.byteLength;) {
    const length = Math.min(list.getUint32(at + 4, true), list.byteLength - at - 8);
    visit(idAt(list, at), at + 8, length);
    at += 8 + length + (length % 2);
  }
}

/** Text of the first element with this name; enough for the flat entries of iXML, without a parser that could be led astray. */
function xmlValue(xml: string, tag: string): string {
  const match = new RegExp(`<${tag}>([^<]{1,2000})</${tag}>`).exec(xml);
  return (match?.[1] ?? '').replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&quot;', '"').replaceAll('&amp;', '&').trim();
}
