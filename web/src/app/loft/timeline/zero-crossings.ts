import { inject, Injectable } from '@angular/core';
import type { Clip } from '@tangled-choir/core';
import { axisToSource, nearestZeroCrossing, sourceToAxis } from '@tangled-choir/core';
import { AudioLibrary } from '../../engine/audio-library';
import { DocumentStore } from '../../state/project/document.store';
import { TimeDisplay } from './time-display';

const reach = 0.005;

/** Moves the place of a cut to where the clip's wave passes through zero, when that is switched on. */
@Injectable()
export class ZeroCrossings {
  private readonly document = inject(DocumentStore);
  private readonly library = inject(AudioLibrary);
  private readonly display = inject(TimeDisplay);

  /** A time on the axis, moved by 5 ms of the source at most. */
  near(clip: Clip, time: number): number {
    if (!this.display.snap().zeroCrossings) return time;
    const source = this.document.project()?.sources.find((candidate) => candidate.id === clip.source);
    const audio = source && this.library.audio(source.audio);
    return audio ? sourceToAxis(clip, nearestZeroCrossing(audio, axisToSource(clip, time), reach)) : time;
  }
}
