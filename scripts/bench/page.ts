import type { EffectStep, ParameterValue } from '../../core/src/index';
import { applyChain } from '../../core/src/index';

const rate = 48_000;
const seconds = 60;
const samples = Float32Array.from({ length: rate * seconds }, (_, i) => 0.5 * Math.sin(i * 0.05) + 0.2 * Math.sin(i * 0.31));
const step = (effect: string, parameters: Record<string, ParameterValue>): EffectStep => ({
  id: 'a',
  effect,
  enabled: true,
  mix: 1,
  parameters,
});

async function native(build: (context: OfflineAudioContext) => AudioNode[]): Promise<number> {
  const context = new OfflineAudioContext(1, samples.length, rate);
  const buffer = context.createBuffer(1, samples.length, rate);
  buffer.copyToChannel(samples, 0);
  const source = new AudioBufferSourceNode(context, { buffer });
  let last: AudioNode = source;
  for (const node of build(context)) last = last.connect(node);
  last.connect(context.destination);
  source.start();
  const start = performance.now();
  await context.startRendering();
  return seconds / ((performance.now() - start) / 1_000);
}

function ours(chain: EffectStep[]): number {
  const start = performance.now();
  applyChain({ sampleRate: rate, channels: [samples] }, chain, { tail: false });
  return seconds / ((performance.now() - start) / 1_000);
}

async function best(work: () => number | Promise<number>): Promise<number> {
  let most = 0;
  for (let i = 0; i < 3; i++) most = Math.max(most, await work());
  return most;
}

const bands = Object.fromEntries(
  [2, 3, 4, 5, 6].flatMap((band) => [
    [`band${band}On`, true],
    [`band${band}Kind`, 'bell'],
    [`band${band}Gain`, 4],
  ]),
);
const results = [
  {
    what: 'EQ, five bells',
    ours: await best(() => ours([step('eq', bands)])),
    native: await best(() =>
      native((context) =>
        [100, 250, 800, 2_400, 6_000].map((frequency) => new BiquadFilterNode(context, { type: 'peaking', frequency, gain: 4, Q: 0.7 })),
      ),
    ),
  },
  {
    what: 'Compressor',
    ours: await best(() => ours([step('compressor', { threshold: -24 })])),
    native: await best(() => native((context) => [new DynamicsCompressorNode(context, { threshold: -24, ratio: 3, knee: 6 })])),
  },
];
Object.assign(window, { results });
