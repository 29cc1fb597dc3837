import type { Delivery } from './delivery-schema';

/** What a delivery asks for, without what tells it apart from others. */
export type DeliverySettings = Omit<Delivery, 'id' | 'name' | 'on'>;

const plain: DeliverySettings = {
  content: 'sounds',
  original: true,
  kept: true,
  stems: 'none',
  sheet: false,
  format: 'wav',
  encoding: '24',
  bitrate: 64,
  sampleRate: 48_000,
  channels: 'stereo',
  level: 'as it is',
  loudness: -23,
  ceiling: -1,
  gain: 0,
  tail: 'ring out',
  length: 1,
  trim: false,
  blockDc: false,
  fade: 0,
  cueSheet: false,
  template: '{project}_{sound}_{number}',
  firstNumber: 1,
  digits: 2,
  letters: 'as typed',
  longest: 120,
};

/** What games and pages take: short ends, no direct current, plain names. */
const forGames: DeliverySettings = {
  ...plain,
  trim: true,
  blockDc: true,
  fade: 0.003,
  template: '{sound}_{number}',
  letters: 'lower',
  longest: 60,
};

/** Ready deliveries by name. */
export const deliveryKinds: Readonly<Record<string, DeliverySettings>> = {
  'WAV, 24 bit': plain,
  'Picture, 24 bit stems': {
    ...plain,
    kept: false,
    stems: 'layers',
    cueSheet: true,
    template: '{sound}/{project}_{sound}_{stem}',
  },
  'Game, mono 44.1': { ...forGames, encoding: '16', sampleRate: 44_100, channels: 'mono' },
  'Web game': { ...forGames, format: 'opus', level: 'loudness' },
  'Short sounds in one sheet': { ...forGames, sheet: true, encoding: '16', channels: 'mono', template: '{project}-sheet' },
  'Archive, FLAC': { ...plain, format: 'flac', encoding: '24', template: '{sound}/{project}_{sound}_{number}' },
  'Behaviours for a game': { ...plain, content: 'behaviours', encoding: '24' },
};

/** The delivery that a project begins with. */
export const startingDelivery: Delivery = { id: 'delivery-0', name: 'WAV, 24 bit', on: true, ...plain };
