import { inMemory, inspectSeam, makeSeamlessLoop, measureLoopTracks, proposeLoops } from '@tangled-choir/core';
import { demoSources } from './sources';

/** The best loop of a demo recording, made and measured. */
async function loopOf(name: string, shortest: number) {
  const channels = demoSources.find((source) => source.name === name)!.make();
  const audio = { sampleRate: 48_000, channels };
  const longest = channels[0]!.length / 48_000;
  const proposals = await proposeLoops(inMemory(audio), measureLoopTracks(audio), { shortest, longest, count: 5 });
  const loop = makeSeamlessLoop(audio, proposals[0]!);
  return { proposals, loop, report: inspectSeam(loop) };
}

describe('loops of the demo', () => {
  it.each([
    ['Wind over the ridge', 3],
    ['Drill runs', 1],
  ])('%s: the seam measures no worse than the body', async (name, shortest) => {
    const { proposals, loop, report } = await loopOf(name, shortest);
    expect(proposals.length).toBeGreaterThan(1);
    expect(report.level.seam).toBeLessThanOrEqual(Math.max(report.level.body, 0.5));
    expect(report.colour.seam).toBeLessThanOrEqual(Math.max(report.colour.body, 0.5));
    if (report.pitch) expect(report.pitch.seam).toBeLessThanOrEqual(Math.max(report.pitch.body, 0.05));
    expect(report.jump.seam).toBeLessThanOrEqual(report.jump.body * 1.05);
    expect(report.seamless).toBe(true);
    expect(loop.audio.channels[0]!.length).toBeGreaterThan(shortest * 0.7 * 48_000);
  });
});
