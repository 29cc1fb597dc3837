import type { Audio } from '@tangled-choir/core';
import { createRandom, writeWav } from '@tangled-choir/core';

/** Made-up recordings for the tests, as files that can be chosen in a file dialog. */
export interface UploadFile {
  readonly name: string;
  readonly mimeType: string;
  readonly buffer: Buffer;
}

export function wavFile(name: string, audio: Audio, encoding: '16' | '24' | '32f' = '16'): UploadFile {
  return { name, mimeType: 'audio/wav', buffer: Buffer.from(writeWav(audio, { encoding })) };
}

/** “Bell”: a second of modes, each with its frequency, its level and how long it takes to fall by 60 dB. */
export function bellFile(modes: readonly (readonly [number, number, number])[]): UploadFile {
  const sampleRate = 48_000;
  const samples = new Float32Array(sampleRate);
  for (let i = 0; i < samples.length; i++)
    for (const [hertz, level, decay] of modes)
      samples[i]! += level * Math.exp((-6.9 * i) / sampleRate / decay) * Math.sin((2 * Math.PI * hertz * i) / sampleRate);
  return wavFile('Bell.wav', { sampleRate, channels: [samples] }, '32f');
}

/** “Nothing”: a second of silence. */
export function silentFile(): UploadFile {
  return wavFile('Nothing.wav', { sampleRate: 48_000, channels: [new Float32Array(48_000)] }, '32f');
}

/** A knock: a decaying tone of 180 Hz with a noisy beginning, 0.5 s in mono at 44.1 kHz. */
export function knock(): Audio {
  const random = createRandom(5);
  const sampleRate = 44_100;
  const samples = Float32Array.from({ length: sampleRate / 2 }, (_, i) => {
    const time = i / sampleRate;
    return 0.2 * Math.exp(-time * 14) * Math.sin(2 * Math.PI * 180 * time) + 0.15 * Math.exp(-time * 160) * (2 * random.next() - 1);
  });
  return { sampleRate, channels: [samples] };
}

/** A hiss: 0.4 s of falling noise in stereo at 48 kHz. */
export function hiss(): Audio {
  const random = createRandom(9);
  const channel = (): Float32Array => Float32Array.from({ length: 19_200 }, (_, i) => 0.2 * Math.exp(-i / 6_000) * (2 * random.next() - 1));
  return { sampleRate: 48_000, channels: [channel(), channel()] };
}

/** A tap on ice: a short noisy beginning and two ringing tones, 0.4 s in mono at 48 kHz, on the grid of 16 bits. */
export function tap(): Audio {
  const random = createRandom(14);
  const sampleRate = 48_000;
  const samples = Float32Array.from({ length: 0.4 * sampleRate }, (_, i) => {
    const time = i / sampleRate - 0.05;
    if (time < 0) return 0;
    const ring =
      0.25 * Math.exp(-time * 18) * Math.sin(2 * Math.PI * 640 * time) + 0.1 * Math.exp(-time * 30) * Math.sin(2 * Math.PI * 1_730 * time);
    return Math.round((ring + 0.2 * Math.exp(-time * 220) * (2 * random.next() - 1)) * 32_768) / 32_768 + 0;
  });
  return { sampleRate, channels: [samples] };
}
