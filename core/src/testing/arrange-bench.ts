import type { Audio } from '../audio/audio';
import type { EditArguments, EditName } from '../project/edits';
import type { Clip, Project } from '../project/schema';
import { renderContext } from '../render/library';
import { renderSound } from '../render/render-sound';
import { edited, projectWith } from './project';
import { mono, noise } from './signals';

const rate = 48_000;

/** A project whose sound has one layer with one clip, and shorthands to edit and to hear it. */
export class ArrangeBench {
  project: Project;
  private readonly library;

  constructor(recording: Audio, other: Audio = mono(noise(rate, 8, -20))) {
    const { project, context } = projectWith({ 'Ridge wind': recording, 'Ice crack': other });
    this.project = project;
    this.library = context.library;
  }

  get sound(): string {
    return this.project.sounds[0]!.id;
  }

  layer(index = 0) {
    return this.project.sounds[0]!.layers[index]!;
  }

  clips(index = 0): readonly Clip[] {
    return [...this.layer(index).clips].sort((a, b) => a.start - b.start);
  }

  get clip(): Clip {
    return this.layer().clips[0]!;
  }

  do<N extends EditName>(name: N, args: Omit<EditArguments<N>, 'sound'>): this {
    this.project = edited(this.project, name, { sound: this.sound, ...args } as EditArguments<N>);
    return this;
  }

  set(values: Record<string, number>): this {
    return this.do('setValues', { values, label: 'Set' });
  }

  speed(value: number): this {
    return this.set({ [`layer/${this.layer().id}/clip/${this.clip.id}/speed`]: value });
  }

  /** What the first layer alone sounds like. */
  render(): Float32Array {
    const sound = { ...this.project.sounds[0]!, layers: [this.layer()] };
    return renderSound(sound, renderContext(this.project, this.library), { tail: 'cut at the last clip' }).channels[0]!;
  }
}

/** The largest step from sample to sample. */
export function roughness(samples: Float32Array, from = 0, to = samples.length): number {
  let most = 0;
  for (let i = from + 1; i < to; i++) most = Math.max(most, Math.abs(samples[i]! - samples[i - 1]!));
  return most;
}
