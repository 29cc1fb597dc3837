import { writeCsv } from '../formats/csv-write';
import { withoutSolos } from '../project/listening';
import type { Clip, Project, Sound } from '../project/schema';
import { clipDuration, clipEnd } from '../project/time/clip-times';
import { formatTimecode, framesPerSecond } from '../project/time/timecode';
import { audibleLayers } from '../render/sound-graph';
import type { Seconds } from '../units';

/** A clip as a cue sheet tells of it. */
interface Cue {
  readonly layer: string;
  readonly name: string;
  readonly file: string;
  readonly clip: Clip;
}

function cuesOf(heard: Sound, { sources }: Pick<Project, 'sources'>): Cue[] {
  const sound = withoutSolos(heard);
  const audible = audibleLayers(sound);
  const byId = new Map(sources.map((source) => [source.id, source]));
  return sound.layers
    .filter(({ id }) => audible.has(id))
    .flatMap(({ name: layer, clips }) =>
      clips.map((clip) => {
        const source = byId.get(clip.source ?? '');
        return { layer, name: source?.name ?? 'notes', file: source?.origin.file ?? '', clip };
      }),
    );
}

/** Marks and clips of a sound in the order of time, with timecode on the clock of its picture and in seconds. */
export function cueSheetCsv(sound: Sound, project: Pick<Project, 'sources'>): string {
  const { clock } = sound;
  const marks = sound.marks.map(({ time, name, stage }) => ({ kind: 'mark', from: time, to: time, layer: '', name, file: '', stage }));
  const clips = cuesOf(sound, project).map(({ layer, name, file, clip }) => {
    return { kind: 'clip', from: clip.start, to: clipEnd(clip), layer, name, file, stage: undefined };
  });
  const rows = [...marks, ...clips].sort((a, b) => a.from - b.from);
  return writeCsv([
    ['kind', 'start', 'end', 'start s', 'end s', 'layer', 'name', 'stage', 'file'],
    ...rows.map(({ kind, from, to, layer, name, stage, file }) => {
      const codes = [formatTimecode(from, clock), formatTimecode(to, clock)];
      return [kind, ...codes, Number(from.toFixed(6)), Number(to.toFixed(6)), layer, name, stage ?? '', file];
    }),
  ]);
}

/**
 * A sound as an OpenTimelineIO document (its JSON serialisation, schemas Timeline.1, Stack.1, Track.1, Clip.1, Gap.1, Marker.2): a track for each
 * layer, and more where its clips overlap; times count in frames of the picture and may lie between them.
 */
export function cueSheetOtio(sound: Sound, project: Pick<Project, 'sources'>): string {
  const rate = framesPerSecond(sound.clock.frameRate);
  const time = (seconds: Seconds) => ({ OTIO_SCHEMA: 'RationalTime.1', rate, value: Number((seconds * rate).toFixed(6)) });
  const range = (start: Seconds, duration: Seconds) => ({
    OTIO_SCHEMA: 'TimeRange.1',
    start_time: time(start),
    duration: time(duration),
  });
  const track = (name: string, cues: readonly Cue[]) => {
    const children: unknown[] = [];
    let at = 0;
    for (const { name: clipName, file, clip } of cues) {
      if (clip.start - at > 1e-6) children.push({ OTIO_SCHEMA: 'Gap.1', name: '', source_range: range(0, clip.start - at), metadata: {} });
      const media = file
        ? { OTIO_SCHEMA: 'ExternalReference.1', name: clipName, target_url: encodeURI(file), available_range: null, metadata: {} }
        : { OTIO_SCHEMA: 'MissingReference.1', name: clipName, available_range: null, metadata: {} };
      const source_range = range(clip.offset, clipDuration(clip));
      children.push({ OTIO_SCHEMA: 'Clip.1', name: clipName, source_range, media_reference: media, metadata: {} });
      at = clipEnd(clip);
    }
    return { OTIO_SCHEMA: 'Track.1', name, kind: 'Audio', children, source_range: null, effects: [], markers: [], metadata: {} };
  };
  const markers = sound.marks.map((mark) => ({
    OTIO_SCHEMA: 'Marker.2',
    name: mark.name,
    color: null,
    marked_range: range(mark.time, 0),
    metadata: mark.stage ? { stage: mark.stage } : {},
  }));
  const tracks = [...lanes(cuesOf(sound, project))].map(({ layer, cues }) => track(layer, cues));
  const stack = { OTIO_SCHEMA: 'Stack.1', name: 'layers', children: tracks, source_range: null, effects: [], markers, metadata: {} };
  const start = { OTIO_SCHEMA: 'RationalTime.1', rate, value: sound.clock.startFrame };
  const timeline = { OTIO_SCHEMA: 'Timeline.1', name: sound.name, global_start_time: start, tracks: stack, metadata: {} };
  return `${JSON.stringify(timeline, null, 2)}\n`;
}

/** Cues of each layer such that none overlaps another: what overlaps goes into a further lane of its layer. */
function lanes(cues: readonly Cue[]): { readonly layer: string; readonly cues: Cue[] }[] {
  const all: { readonly layer: string; readonly cues: Cue[]; end: Seconds }[] = [];
  for (const cue of cues.toSorted((a, b) => a.clip.start - b.clip.start)) {
    const free = all.find(({ layer, end }) => layer === cue.layer && end <= cue.clip.start + 1e-6);
    if (free) {
      free.cues.push(cue);
      free.end = clipEnd(cue.clip);
    } else all.push({ layer: cue.layer, cues: [cue], end: clipEnd(cue.clip) });
  }
  const order = [...new Set(cues.map(({ layer }) => layer))];
  return all.toSorted((a, b) => order.indexOf(a.layer) - order.indexOf(b.layer));
}
