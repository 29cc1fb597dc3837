import { startingDelivery } from './deliveries/create-delivery';
import { startingConduct } from './game/create-behaviour';
import type { Clip, Clock, Family, Project, Sound, Tempo } from './schema';
import { documentFormat, documentVersion } from './schema';

/** Rate at which projects are made; sources are converted to it when they are imported. */
export const projectSampleRate = 48_000;

/** How a clip begins: as long and as high as its speed makes it. */
export const plainStretch: Pick<Clip, 'stretch' | 'pitch' | 'formant' | 'keepFormants' | 'method' | 'wear' | 'grain' | 'attack'> = {
  stretch: 1,
  pitch: 0,
  formant: 0,
  keepFormants: false,
  method: 'auto',
  wear: 0,
  grain: 0.3,
  attack: 0.5,
};

/** An empty project; the id comes from outside, because core has no randomness of its own. */
export function createProject(id: string, name: string): Project {
  return {
    format: documentFormat,
    version: documentVersion,
    id,
    name,
    sampleRate: projectSampleRate,
    counter: 0,
    sources: [],
    sounds: [],
    templates: [],
    presets: [],
    deliveries: [startingDelivery],
    conduct: startingConduct,
  };
}

export const startingTempo: Tempo = { bpm: 120, beats: 4, offset: 0 };

export const startingClock: Clock = { frameRate: '25', startFrame: 0 };

export const startingFamily: Family = { seed: 1, sways: [], siblings: [] };

/** An empty sound. */
export function createSound(id: string, name: string): Sound {
  return {
    id,
    name,
    gain: 0,
    layout: 'stereo',
    layers: [],
    buses: [],
    soloing: true,
    chain: [],
    automation: [],
    movers: [],
    pulls: [],
    marks: [],
    tempo: startingTempo,
    clock: startingClock,
    family: startingFamily,
  };
}
