import { computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withComputed, withHooks, withMethods, withProps, withState } from '@ngrx/signals';
import type { Move, NumberParameter, ParameterValue, Property, RecordedNote, Seconds, Semitones, Unit } from '@tangled-choir/core';
import {
  axisOf,
  effectCatalogue,
  findProperty,
  fromAxis,
  placeOfValue,
  recordedMoves,
  soundEnd,
  toAxis,
  valueAtPlace,
} from '@tangled-choir/core';
import { LiveEngine } from '../engine/live/live-engine';
import { MidiInput } from '../engine/midi-input';
import type { MidiMessage } from '../engine/midi-message';
import { newGesture } from '../ui/value-field';
import { DocumentStore } from './project/document.store';
import { Playback } from './playback.store';
import { Turning } from './turning';
import { WorkbenchStore } from './workbench.store';

/** A key that is down. */
export interface HeldKey {
  readonly id: string;
  readonly layer: string;
  readonly pitch: Semitones;
  readonly strength: Unit;
  /** Where the sound was heard to be when it went down; undefined while the sound did not play. */
  readonly since: Seconds | undefined;
}

/** What is being recorded: notes and moves of one layer of one sound. */
interface Take {
  readonly sound: string;
  readonly layer: string;
  readonly gesture: string;
  readonly notes: readonly RecordedNote[];
  /** What was moved by hand, by its address. */
  readonly moved: ReadonlyMap<string, MovedProperty>;
  /** The line of the grid that is nearest to a moment. */
  readonly line: (time: Seconds) => Seconds;
}

/** A property that was moved during a take: how it was before, and where it went. */
interface MovedProperty {
  readonly value: ParameterValue;
  readonly trim: number | undefined;
  readonly axis: NumberParameter;
  readonly moves: readonly Move[];
}

/** What moves what is on the wheel: any controller, pressure, or a controller by its number. */
export type WheelBy = 'any' | 'pressure' | number;

interface HandsState {
  readonly on: boolean;
  /** Pitch of the lowest key of the computer's keyboard. */
  readonly lowest: Semitones;
  /** How strongly keys are struck that cannot tell. */
  readonly strength: Unit;
  readonly held: readonly HeldKey[];
  readonly pedal: boolean;
  readonly take: Take | undefined;
  /** How far recorded notes move to the lines of the grid. */
  readonly quantise: Unit;
  /** What the wheel moves, and where it is. */
  readonly wheel: string | undefined;
  readonly wheelPlace: Unit;
  readonly wheelBy: WheelBy;
  /** How far the bend wheel goes, to either side. */
  readonly bendReach: Semitones;
  /** The controller that was moved last. */
  readonly controller: number | undefined;
}

/** How long a recording may go on behind the end of the sound, in seconds. */
const longestTake = 600;
const shortestNote: Seconds = 0.05;
const lowestKey: Semitones = 0;
const highestKey: Semitones = 108;

/** Playing made layers by hand: what is pressed, what it is played on, and recording it. */
export const HandsStore = signalStore(
  withState<HandsState>({
    on: false,
    lowest: 57,
    strength: 0.8,
    held: [],
    pedal: false,
    take: undefined,
    quantise: 0,
    wheel: undefined,
    wheelPlace: 0,
    wheelBy: 'any',
    bendReach: 2,
    controller: undefined,
  }),
  withProps(() => ({
    midi: inject(MidiInput),
    _engine: inject(LiveEngine),
    _document: inject(DocumentStore),
    _workbench: inject(WorkbenchStore),
    _playback: inject(Playback),
    _turning: inject(Turning),
  })),
  withComputed(({ wheel, take, _workbench: workbench }) => ({
    recording: computed(() => take() !== undefined),
    /** The made layer that is played: the selected one, or else the first. */
    layer: computed(() => {
      const selected = workbench.layer();
      return selected?.patch ? selected : workbench.sound()?.layers.find(({ patch }) => patch);
    }),
    /** The property that the wheel moves. */
    onWheel: computed(() => {
      const sound = workbench.sound();
      const address = wheel();
      const property = sound && address !== undefined ? findProperty(sound, address, effectCatalogue) : undefined;
      return property && axisOf(property.parameter) ? property : undefined;
    }),
  })),
  withMethods((store) => {
    const { _engine: engine, _document: document, _workbench: workbench, _playback: playback, midi } = store;
    /** The latest moment that was heard, for who still holds a key when the sound is stopped. */
    const heard = { latest: 0 };
    /** What the bend wheel has bent, and where that was before. */
    let bent: { readonly address: string; readonly from: Semitones } | undefined;
    /** Keys that are up while the pedal holds them. */
    const sustained = new Set<string>();

    const keep = (changes: (take: Take) => Partial<Take>): void =>
      patchState(store, ({ take }) => (take ? { take: { ...take, ...changes(take) } } : {}));

    const press = (id: string, pitch: Semitones, strength: Unit = store.strength()): void => {
      const layer = store.layer();
      if (!layer || !store.on()) return;
      if (store.held().some((key) => key.id === id)) end(id);
      sustained.delete(id);
      engine.strike(layer.id, { id, pitch, strength });
      patchState(store, ({ held }) => ({ held: [...held, { id, layer: layer.id, pitch, strength, since: engine.heardNow() }] }));
    };

    const end = (id: string): void => {
      const key = store.held().find((each) => each.id === id);
      if (!key) return;
      sustained.delete(id);
      engine.letGo(key.layer, id);
      patchState(store, ({ held }) => ({ held: held.filter((each) => each !== key) }));
      const now = engine.heardNow();
      const { layer, since, pitch, strength } = key;
      if (since !== undefined)
        keep((take) => (take.layer === layer ? { notes: [...take.notes, { start: since, end: endOf(since, now), pitch, strength }] } : {}));
    };

    /** Where a note ends: where it was let go or the sound was stopped; what the loop's return cuts ends with the loop. */
    const endOf = (since: Seconds, letGoAt: Seconds | undefined): Seconds => {
      const end = letGoAt ?? heard.latest;
      if (end > since) return end;
      const sound = workbench.sound();
      return Math.max(since + shortestNote, playback.loopRange()?.to ?? (sound ? soundEnd(sound) : 0));
    };

    const letGo = (id: string): void => {
      if (store.pedal()) sustained.add(id);
      else end(id);
    };

    const letAllGo = (): void => {
      for (const { id } of store.held()) end(id);
    };

    /** The wheel goes to a place along the range of what is on it. */
    const moveWheel = (wheelPlace: Unit): void => {
      patchState(store, { wheelPlace });
      const property = store.onWheel();
      const axis = property && axisOf(property.parameter);
      if (property && axis) turn(property, fromAxis(property.parameter, valueAtPlace(axis, wheelPlace)));
    };

    /** The bend wheel bends all notes of the layer that is played, away from where its dial is, and back to there. */
    const bend = (place: number): void => {
      const layer = store.layer();
      const sound = workbench.sound();
      const address = `layer/${layer?.id}/patch/bend`;
      const property = sound && findProperty(sound, address, effectCatalogue);
      const parameter = property?.parameter;
      // What a lane has is not moved for good by who only plays along.
      if (!property || parameter?.kind !== 'number' || (store._turning.laneOf(address) && !store.recording())) return;
      if (bent?.address !== address) bent = { address, from: store._turning.valueNow(address, Number(property.value), parameter) };
      turn(property, bent.from + store.bendReach() * place);
      if (place === 0) bent = undefined;
    };

    /** Turns a property by hand; a take keeps the move. */
    const turn = ({ address, owner, parameter, value: before }: Property, value: ParameterValue): void => {
      const time = engine.heardNow();
      const take = store.take();
      const axis = axisOf(parameter);
      if (take && time !== undefined && axis) {
        const known = take.moved.get(address) ?? { value: before, trim: store._turning.laneOf(address)?.trim, axis, moves: [] };
        // Where the loop has returned, the newer round counts.
        const moves = [...known.moves.filter((move) => move.time < time), { time, value: toAxis(parameter, value) }];
        keep(() => ({ moved: new Map(take.moved).set(address, { ...known, moves }) }));
      }
      const label = `${take ? 'Record' : 'Move'} ${owner}: ${parameter.label.toLowerCase()}`;
      store._turning.turn({ [address]: value }, label, take?.gesture ?? 'wheel');
    };

    /** Stops, and puts what was recorded into the document as one step. */
    const finish = (): void => {
      letAllGo();
      const take = store.take();
      patchState(store, { take: undefined });
      if (!take) return;
      // It was played to go on behind the end of the sound.
      if (engine.playing() === 'sound') playback.stop();
      const { sound, layer, gesture, notes, moved, line } = take;
      for (const [address, { moves, ...before }] of moved) {
        const taken = () => document.project()?.sounds.find(({ id }) => id === sound);
        const laneNow = () => taken()?.automation.find((each) => each.address === address);
        if (!laneNow()) {
          document.edit('setValues', { sound, values: { [address]: before.value }, label: 'Record moves' }, gesture);
          document.edit('addAutomation', { sound, address }, gesture);
        }
        const lane = laneNow();
        if (lane) {
          const points = recordedMoves({ ...lane, trim: before.trim ?? lane.trim }, before.axis, moves);
          document.edit('setAutomation', { sound, lane: lane.id, settings: { trim: 0 } }, gesture);
          document.edit('setAutomationPoints', { sound, lane: lane.id, points, action: 'Record moves' }, gesture);
        }
      }
      if (notes.length > 0)
        document.edit('recordNotes', { sound, layer, notes: notes.map((note) => quantised(note, line, store.quantise())) }, gesture);
    };

    const hear = (message: MidiMessage): void => {
      if (message.kind === 'down') press(`midi ${message.pitch}`, message.pitch, message.strength);
      else if (message.kind === 'up') letGo(`midi ${message.pitch}`);
      else if (message.kind === 'bend') bend(message.place);
      else if (message.kind === 'pressure') {
        if (store.wheelBy() === 'pressure') moveWheel(message.place);
      } else if (message.kind === 'controller') {
        patchState(store, { controller: message.number });
        if (store.wheelBy() === 'any' || store.wheelBy() === message.number) moveWheel(message.place);
      } else {
        patchState(store, { pedal: message.down });
        if (!message.down) for (const id of [...sustained]) end(id);
      }
    };

    return {
      press,
      letGo,
      letAllGo,
      moveWheel,
      finish,
      /** Takes in how far the sound has been heard. */
      hearOn(): void {
        heard.latest = engine.heardNow() ?? heard.latest;
      },
      open(): void {
        patchState(store, { on: true });
        engine.setHands(true);
        void midi.open(hear, false);
      },
      close(): void {
        finish();
        patchState(store, { on: false, pedal: false });
        midi.close();
        engine.setHands(false);
        if (engine.playing() === 'hands') engine.stop();
      },
      connectMidi: (): void => void midi.open(hear, true),
      moveRange(semitones: number): void {
        letAllGo();
        patchState(store, ({ lowest }) => ({ lowest: Math.max(lowestKey, Math.min(highestKey, lowest + semitones)) }));
      },
      setStrength: (strength: Unit): void => patchState(store, { strength }),
      bend,
      setBendReach: (bendReach: Semitones): void => patchState(store, { bendReach }),
      setWheelBy: (wheelBy: WheelBy): void => patchState(store, { wheelBy }),
      setQuantise: (quantise: Unit): void => patchState(store, { quantise }),
      /** Puts a property on the wheel, or nothing. */
      setWheel(wheel: string | undefined): void {
        patchState(store, { wheel });
        const property = store.onWheel();
        const axis = property && axisOf(property.parameter);
        if (axis) patchState(store, { wheelPlace: placeOfValue(axis, toAxis(property.parameter, property.value)) });
      },
      /** Records from the playhead on, along with the sound, until it stops; `line` gives the line of the grid that is nearest to a moment. */
      record(line: (time: Seconds) => Seconds): void {
        const sound = workbench.sound();
        const layer = store.layer();
        if (!sound || !layer) return;
        letAllGo();
        patchState(store, { take: { sound: sound.id, layer: layer.id, gesture: newGesture(), notes: [], moved: new Map(), line } });
        if (engine.playing() !== 'sound') playback.play(longestTake);
      },
    };
  }),
  withHooks((store) => {
    const { _engine: engine, _playback: playback } = store;
    return {
      onInit(): void {
        // While nothing plays, the sound stands at the playhead and waits for hands.
        let standing: Seconds | undefined;
        effect(() => {
          const playing = engine.playing();
          const position = playback.startPosition();
          if (!store.on() || !store.layer() || (playing !== undefined && playing !== 'hands')) return;
          if (playing === 'hands' && position === standing) return;
          standing = position;
          // What is down already is heard as soon as it can be.
          const strikeHeld = (): void => {
            for (const { layer, ...note } of store.held()) engine.strike(layer, note);
          };
          untracked(() => void engine.playHands(position).then(strikeHeld, () => undefined));
        });
        effect(() => {
          engine.position();
          if (store.recording()) untracked(() => store.hearOn());
        });
        // A recording ends with the sound.
        let begun = false;
        effect(() => {
          const playing = engine.playing();
          if (!store.recording()) begun = false;
          else if (playing === 'sound' || playing === 'silent') begun = true;
          else if (begun) untracked(() => store.finish());
        });
      },
    };
  }),
);

export type HandsStore = InstanceType<typeof HandsStore>;

/** A note moved towards its line of the grid, as long as it was. */
function quantised(note: RecordedNote, line: (time: Seconds) => Seconds, share: Unit): RecordedNote {
  const by = (Math.max(0, line(note.start)) - note.start) * share;
  return { ...note, start: note.start + by, end: note.end + by };
}
