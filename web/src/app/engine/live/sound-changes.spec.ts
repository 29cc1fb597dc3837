import { createSound } from '@tangled-choir/core';
import type { Layer, Sound } from '@tangled-choir/core';
import type { RenderableSound } from '../renderable-sound';
import { SoundUnpacker, SoundPacker } from './sound-changes';

const layer = (id: string): Layer => ({
  id,
  name: id,
  role: 'Grit',
  gain: 0,
  pan: 0,
  muted: false,
  soloed: false,
  sends: [],
  overlaps: 'sum',
  clips: [],
  chain: [],
});
const audio = { sampleRate: 48_000, channels: [new Float32Array(10)] };
const renderable = (sound: Sound, identities: [string, string][] = [['a', 'hash']]): RenderableSound => ({
  sound,
  sampleRate: 48_000,
  identities: new Map(identities),
  audio: new Map([['hash', audio]]),
});
const first: Sound = { ...createSound('sound', 'Slab'), layers: ['wind', 'knock', 'boom'].map(layer) };

describe('the changes of a sound', () => {
  it('name layers that stayed, leave out tables that stayed, and give the whole sound again', () => {
    const packer = new SoundPacker();
    const unpacker = new SoundUnpacker();
    const [wind, knock, boom] = first.layers;
    const sounds: Sound[] = [
      first,
      { ...first, layers: [wind!, { ...knock!, gain: -6 }, boom!] },
      { ...first, gain: -3, layers: [boom!, wind!] },
      // A layer that was away comes whole.
      { ...first, layers: [boom!, knock!, layer('snow')] },
      { ...createSound('other', 'Snow'), layers: [layer('wind')] },
    ];
    const sent = sounds.map((sound) => packer.pack(renderable(sound)));
    expect(sent.map(({ layers }) => layers.map((each) => (typeof each === 'string' ? each : { whole: each.id })))).toEqual([
      [{ whole: 'wind' }, { whole: 'knock' }, { whole: 'boom' }],
      ['wind', { whole: 'knock' }, 'boom'],
      ['boom', 'wind'],
      ['boom', { whole: 'knock' }, { whole: 'snow' }],
      [{ whole: 'wind' }],
    ]);
    expect(sent.map(({ identities, audio: recordings }) => [identities !== undefined, recordings !== undefined])).toEqual([
      [true, true],
      ...Array.from({ length: 4 }, () => [false, false]),
    ]);
    const received = sent.map((changes) => unpacker.unpack(structuredClone(changes)));
    expect(received).toEqual(sounds.map((sound) => ({ ...renderable(sound), treated: new Map(), pieces: new Map() })));
    // What stayed is the same object on the other side as well.
    expect(received[1]!.sound.layers[0]).toBe(received[0]!.sound.layers[0]);
  });

  it('bring tables that are different, even if they are as long, and say when a layer thaws', () => {
    const packer = new SoundPacker();
    const unpacker = new SoundUnpacker();
    const frozen = new Map([['wind', { identity: 'i', channels: [], start: 0 }]]);
    expect(unpacker.unpack(packer.pack({ ...renderable(first), frozen })).frozen).toEqual(frozen);
    const relinked = renderable(first, [['a', 'another']]);
    expect(packer.pack(relinked).audio).toBeUndefined();
    const changed = renderable(first, [['b', 'hash']]);
    const changes = packer.pack(changed);
    expect(changes.identities).toEqual(changed.identities);
    expect(unpacker.unpack(changes)).toEqual({ ...changed, treated: new Map(), pieces: new Map() });
  });

  it('bring treated clips as they arrive, and leave them out while they stay', () => {
    const packer = new SoundPacker();
    const unpacker = new SoundUnpacker();
    const treated = new Map([['key', { sampleRate: 48_000, channels: [] }]]);
    expect(unpacker.unpack(packer.pack(renderable(first))).treated?.size).toBe(0);
    expect(unpacker.unpack(packer.pack({ ...renderable(first), treated })).treated).toEqual(treated);
    const again = packer.pack({ ...renderable(first), treated: new Map(treated) });
    expect(again.treated).toBeUndefined();
    expect(unpacker.unpack(again).treated).toEqual(treated);
  });
});
