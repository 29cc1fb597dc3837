import { inject, Injectable } from '@angular/core';
import type { Clip, ClipTuning, Layer, Note, Sound, Tuning, TuneTarget } from '@tangled-choir/core';
import { clipEnd, frequencyToNote, noteName, pitchClasses, tuneClip } from '@tangled-choir/core';
import { Notices } from '../../state/notices';
import { PitchTracks } from '../../state/pitch-tracks.store';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { formatPitch } from '../../ui/pitch-line';
import type { SettingValues } from '../../ui/settings-dialog';
import { AskSettings } from '../../ui/settings-dialog';
import { goalOf, optionsOf, scaleOf, tuneParameters } from './tuning-settings';

/** What tuning the chosen clips would do to them. */
interface Plan {
  readonly tunings: readonly (ClipTuning & Tuning)[];
  /** Why some of them, or all, cannot be tuned. */
  readonly reason: string;
}

/** Tunes the chosen clips to a note, a scale, or another layer. */
@Injectable()
export class TuningCommands {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly tracks = inject(PitchTracks);
  private readonly settings = inject(AskSettings);
  private readonly notices = inject(Notices);

  async tune(): Promise<void> {
    const sound = this.workbench.sound();
    const chosen = this.workbench.selectedClips();
    const first = this.workbench.selectedClip();
    if (!sound || !first) return;
    const layers = namedLayers(sound.layers.filter(({ id, clips }) => clips.length > 0 && !chosen.some(({ layer }) => layer.id === id)));
    const clips = chosen.map(({ clip }) => clip);
    const values = await this.settings.ask({
      title: 'Tune',
      explain: 'Moves the pitch and leaves the length. Type a note as “A3”, “eb2 +20 ct” or “440 Hz”.',
      action: 'Tune',
      parameters: tuneParameters([...layers.keys()], sound.key !== undefined, 57),
      preview: (current) => {
        const heard = this.heardBy(clips, sound, layers, current);
        if (!clips.every((clip) => this.tracks.isKnown(clip)) || !heard.isKnown())
          return { text: 'Listening for the pitch…', possible: false };
        const { tunings, reason } = this.plan(clips, heard.target, current);
        return { text: [describe(tunings), reason].filter(Boolean).join(' '), possible: tunings.length > 0 };
      },
    });
    if (!values) return;
    const { tunings, reason } = this.plan(clips, this.heardBy(clips, sound, layers, values).target, values);
    const edited = tunings.map(({ clip, pitch, points }) => ({ clip, pitch, points }));
    this.document.edit('tuneClips', { sound: sound.id, to: goalName(sound, values), tunings: edited });
    if (reason && tunings.length > 0) this.notices.error(reason);
  }

  /** Tunes each clip by itself to what `target` says. */
  private plan(clips: readonly Clip[], target: (clip: Clip) => TuneTarget, values: SettingValues): Plan {
    const tunings: (ClipTuning & Tuning)[] = [];
    let reason = '';
    for (const clip of clips) {
      const source = this.tracks.sourceOf(clip);
      if (!source) continue;
      const heard = this.workbench.asHeard(clip);
      const tuning = tuneClip(heard, this.tracks.readerOf(source), target(clip), optionsOf(values));
      if ('reason' in tuning) reason = clips.length > 1 ? `“${source.name}”: ${tuning.reason}` : tuning.reason;
      // Who pulls at it does so afterwards, too.
      else tunings.push({ clip: clip.id, ...tuning, pitch: tuning.pitch - (heard.pitch - clip.pitch) });
    }
    return { tunings, reason };
  }

  /** What the clips are tuned to, and whether that is known already. */
  private heardBy(
    clips: readonly Clip[],
    sound: Sound,
    layers: ReadonlyMap<string, Layer>,
    values: SettingValues,
  ): { readonly isKnown: () => boolean; readonly target: (clip: Clip) => TuneTarget } {
    const goal = goalOf(values);
    if (goal === 'note') {
      const note = frequencyToNote(Number(values['note']));
      return { isKnown: () => true, target: () => ({ kind: 'note', note, anyOctave: values['anyOctave'] === true }) };
    }
    if (goal !== 'layer') {
      const scale = goal === 'key' && sound.key ? sound.key : scaleOf(values);
      return { isKnown: () => true, target: () => ({ kind: 'scale', scale }) };
    }
    const others = layers.get(String(values['layer']))?.clips ?? [];
    const beside = others.filter((other) => clips.some((clip) => other.start < clipEnd(clip) && clipEnd(other) > clip.start));
    return {
      isKnown: () => beside.every((other) => this.tracks.isKnown(other)),
      target: (clip) => ({ kind: 'sound', noteAt: (time) => this.noteOf(beside, clip.start + time) }),
    };
  }

  /** The pitch of the clips of a layer at a moment of the axis. */
  private noteOf(clips: readonly Clip[], time: number): Note | undefined {
    for (const clip of clips) {
      const heard = this.tracks.heard(clip, time - clip.start);
      if (heard?.note !== undefined) return heard.note;
    }
    return undefined;
  }
}

/** Layers by their names, told apart by a number where they share one. */
function namedLayers(layers: readonly Layer[]): ReadonlyMap<string, Layer> {
  const named = new Map<string, Layer>();
  for (const layer of layers) {
    let name = layer.name;
    for (let n = 2; named.has(name); n++) name = `${layer.name} (${n})`;
    named.set(name, layer);
  }
  return named;
}

function describe(tunings: readonly Tuning[]): string {
  if (tunings.length === 0) return '';
  const [first] = tunings;
  if (tunings.length > 1) return `${tunings.length} clips, the first from ${formatPitch(first!.from)} to ${formatPitch(first!.to)}.`;
  return `From ${formatPitch(first!.from)} to ${formatPitch(first!.to)}.`;
}

function goalName({ key }: Sound, values: SettingValues): string {
  const goal = goalOf(values);
  if (goal === 'note') return noteName(frequencyToNote(Number(values['note'])));
  if (goal === 'layer') return `“${values['layer']}”`;
  const scale = goal === 'key' && key ? key : scaleOf(values);
  return `${pitchClasses[scale.root]} ${scale.kind}`;
}
