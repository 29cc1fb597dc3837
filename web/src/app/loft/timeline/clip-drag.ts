import { inject, Injectable } from '@angular/core';
import type { Clip, Sound } from '@tangled-choir/core';
import { clipDuration, contentAtTime, longestStretched, stretchParameter, syncTime, movedPin } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { Playback } from '../../state/playback.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { followPointer } from '../../ui/follow-pointer';
import { newGesture } from '../../ui/value-field';
import type { ClipDrag, ClipDragKind } from './clip-box';
import type { SnapTargets } from './snap';
import { snapStart, snapTargets, snapTime } from './snap';
import { TimeDisplay } from './time-display';
import { TimelineScale } from './timeline-scale';
import { ZeroCrossings } from './zero-crossings';

type DragAction = ClipDragKind | 'slip' | 'copy' | 'stretch start' | 'stretch end';

const snapReach = 7;
const farEnoughAcross = 2;
const farEnoughDown = 12;

interface Grabbed {
  readonly clip: Clip;
  /** Place of its layer in the order of layers. */
  readonly lane: number;
}

/** What the timeline knows of the screen. */
export interface Surface {
  timeAt(clientX: number): number;
  /** Place of the lane under the pointer in the order of layers; undefined outside the lanes. */
  laneAt(event: PointerEvent): number | undefined;
}

/** Drags clips, their ends, their fades and their content; one gesture is one undo step. */
@Injectable()
export class ClipDragging {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly display = inject(TimeDisplay);
  private readonly scale = inject(TimelineScale);
  private readonly zeros = inject(ZeroCrossings);

  begin(clipId: string, { kind, event, pin }: ClipDrag, surface: Surface): void {
    const wasChosen = this.workbench.isChosen().has(clipId);
    const adding = event.ctrlKey || event.metaKey || event.shiftKey;
    if (!wasChosen) {
      if (adding && kind === 'move') this.workbench.toggleClip(clipId);
      else this.workbench.selectClip(clipId);
    }
    const sound = this.workbench.sound();
    if (!sound) return;
    const grabbed = this.grab(sound, clipId);
    const gesture = newGesture();
    const from = surface.timeAt(event.clientX);
    let targets: SnapTargets | undefined;
    let moving = false;
    let clips = grabbed;
    const keyed = event.ctrlKey || event.metaKey;
    // Shift slides the content, Ctrl drags a copy, or stretches by an end; Alt leaves the snapping out. All are read when the drag begins to move.
    const action = (): DragAction => {
      if (kind === 'move') return event.shiftKey ? 'slip' : keyed ? 'copy' : 'move';
      return keyed && (kind === 'start' || kind === 'end') ? `stretch ${kind}` : kind;
    };
    followPointer(
      event,
      (moved) => {
        const far =
          Math.abs(moved.clientX - event.clientX) > farEnoughAcross ||
          (kind === 'move' && Math.abs(moved.clientY - event.clientY) > farEnoughDown);
        if (!moving && !far) return;
        if (!moving) {
          moving = true;
          if (action() === 'copy') clips = this.copies(sound, grabbed, gesture);
          targets = this.targets(clips);
        }
        const reach = moved.altKey ? 0 : snapReach / this.scale.pixelsPerSecond();
        const shift = surface.timeAt(moved.clientX) - from;
        this.drag(action(), sound, clips, { shift, targets: targets!, reach, gesture, lane: surface.laneAt(moved), pin });
      },
      (givenUp) => {
        // Copies are gone again; what they were made of is chosen as before.
        if (givenUp) this.workbench.selectClips(grabbed.map(({ clip }) => clip.id));
        if (givenUp || moving || kind !== 'move') return;
        if (adding && wasChosen) this.workbench.toggleClip(clipId);
        else if (!adding && wasChosen) this.workbench.selectClip(clipId);
      },
    );
  }

  /** The clips that a drag takes along, the grabbed one first. */
  private grab(sound: Sound, clipId: string): Grabbed[] {
    const all = this.workbench.selectedClips().map(({ clip, layer }) => ({ clip, lane: sound.layers.indexOf(layer) }));
    return [...all.filter(({ clip }) => clip.id === clipId), ...all.filter(({ clip }) => clip.id !== clipId)];
  }

  private copies(sound: Sound, grabbed: readonly Grabbed[], gesture: string): Grabbed[] {
    const before = new Set(sound.layers.flatMap((layer) => layer.clips.map((clip) => clip.id)));
    const to = grabbed.map(({ clip }) => ({ clip: clip.id, start: clip.start }));
    if (!this.document.edit('copyClips', { sound: sound.id, to }, gesture)) return [...grabbed];
    const now = this.workbench.sound()!;
    // New ids count up in the order of the copies, so each copy stands where its original does.
    const added = now.layers
      .flatMap((layer, lane) => layer.clips.filter((clip) => !before.has(clip.id)).map((clip) => ({ clip, lane })))
      .sort((a, b) => idNumber(a.clip.id) - idNumber(b.clip.id));
    this.workbench.selectClips(added.map(({ clip }) => clip.id));
    return added;
  }

  private targets(clips: readonly Grabbed[]): SnapTargets {
    return snapTargets({
      sound: this.workbench.sound()!,
      playhead: this.playback.startPosition(),
      kinds: this.display.snap(),
      division: this.display.division(),
      except: new Set(clips.map(({ clip }) => clip.id)),
    });
  }

  private drag(
    action: DragAction,
    sound: Sound,
    clips: readonly Grabbed[],
    at: { shift: number; targets: SnapTargets; reach: number; gesture: string; lane: number | undefined; pin: number | undefined },
  ): void {
    const grabbed = clips[0];
    if (!grabbed) return;
    const { clip } = grabbed;
    const duration = clipDuration(clip);
    const ids = clips.map((each) => each.clip.id);
    switch (action) {
      case 'move':
      case 'copy': {
        const points = [0, duration, ...(clip.sync ? [syncTime(clip) - clip.start] : [])];
        const start = snapStart(clip.start + at.shift, points, at.targets, at.reach);
        const shift = Math.max(start - clip.start, -Math.min(...clips.map((each) => each.clip.start)));
        const lanes = this.laneShift(sound, clips, at.lane);
        this.document.edit(
          'moveClips',
          {
            sound: sound.id,
            to: clips.map((each) => ({
              clip: each.clip.id,
              start: each.clip.start + shift,
              layer: sound.layers[each.lane + lanes]!.id,
            })),
          },
          at.gesture,
        );
        this.workbench.selectClips([...ids.slice(1), ids[0]!]);
        break;
      }
      case 'slip':
        this.document.edit(
          'slipClips',
          { sound: sound.id, to: clips.map((each) => ({ clip: each.clip.id, offset: each.clip.offset + slipBy(each.clip, at.shift) })) },
          at.gesture,
        );
        break;
      case 'start':
      case 'end': {
        const edge = action === 'start' ? clip.start : clip.start + duration;
        const shift = snapTime(edge + at.shift, at.targets, at.reach) - edge;
        const to = clips.map((each) => ({
          clip: each.clip.id,
          time: this.zeros.near(each.clip, (action === 'start' ? each.clip.start : each.clip.start + clipDuration(each.clip)) + shift),
        }));
        this.document.edit('trimClips', { sound: sound.id, side: action, to }, at.gesture);
        break;
      }
      case 'stretch start':
      case 'stretch end': {
        const atStart = action === 'stretch start';
        const edge = atStart ? clip.start : clip.start + duration;
        const moved = Math.max(0, snapTime(edge + at.shift, at.targets, at.reach));
        // Several clips are stretched by the same factor, each around its other end.
        const factor = limited(atStart ? clip.start + duration - moved : moved - clip.start, clip) / duration;
        const to = clips.map((each) => {
          const lasts = clipDuration(each.clip) * factor;
          const end = each.clip.start + clipDuration(each.clip);
          return atStart
            ? { clip: each.clip.id, from: end - lasts, to: end }
            : { clip: each.clip.id, from: each.clip.start, to: each.clip.start + lasts };
        });
        this.document.edit('stretchBetween', { sound: sound.id, to }, at.gesture);
        break;
      }
      case 'pin': {
        const pinned = clip.pins?.[at.pin ?? -1];
        if (!pinned) break;
        const time = snapTime(clip.start + pinned.time + at.shift, at.targets, at.reach) - clip.start;
        this.document.edit('setPins', { sound: sound.id, clip: clip.id, pins: movedPin(clip.pins!, at.pin!, time) }, at.gesture);
        break;
      }
      case 'fade-in':
        this.document.edit(
          'fadeClips',
          { sound: sound.id, clips: ids, side: 'in', length: Math.max(0, clip.fadeIn.length + at.shift) },
          at.gesture,
        );
        break;
      case 'fade-out':
        this.document.edit(
          'fadeClips',
          { sound: sound.id, clips: ids, side: 'out', length: Math.max(0, clip.fadeOut.length - at.shift) },
          at.gesture,
        );
    }
  }

  /** By how many lanes everything moves so that the grabbed clip is under the pointer and none leaves the lanes. */
  private laneShift(sound: Sound, clips: readonly Grabbed[], lane: number | undefined): number {
    if (lane === undefined) return 0;
    const lanes = clips.map((each) => each.lane);
    return Math.max(-Math.min(...lanes), Math.min(sound.layers.length - 1 - Math.max(...lanes), lane - clips[0]!.lane));
  }
}

/** A length that a clip can be stretched to. */
function limited(wanted: number, clip: Clip): number {
  const own = clipDuration(clip) / clip.stretch;
  return Math.max(own * stretchParameter.min, Math.min(own * stretchParameter.max, longestStretched, wanted));
}

/** Content dragged to the right begins earlier in its source; a reversed clip the other way round. */
function slipBy(clip: Clip, shift: number): number {
  return contentAtTime(clip, shift) * (clip.reversed ? 1 : -1);
}

const idNumber = (id: string): number => Number(/\d+$/.exec(id)?.[0] ?? 0);
