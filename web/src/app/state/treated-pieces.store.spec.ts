import { TestBed } from '@angular/core/testing';
import type { Clip } from '@tangled-choir/core';
import { plainStretch } from '@tangled-choir/core';
import type { FrameRange, WantedTreatment } from '@tangled-choir/jobs';
import { projectProviders } from '../../testing/project';
import { ProjectJobs } from '../engine/project-jobs';
import { TreatedPieces } from './treated-pieces.store';

const rate = 48_000;
const wanted = (key: string, clip: Partial<Clip> = {}): WantedTreatment => ({
  key,
  content: key,
  clip: { ...plainStretch, start: 0, offset: 0, length: 100, speed: 0, reversed: false, stretch: 2, ...clip } as Clip,
  audio: { sampleRate: rate, channels: [new Float32Array(0)] },
});

describe('pieces of treated clips', () => {
  let pieces: TreatedPieces;
  const asked: { span: FrameRange; signal: AbortSignal; resolve: () => void; reject: () => void }[] = [];

  beforeEach(() => {
    asked.length = 0;
    TestBed.configureTestingModule({ providers: projectProviders });
    const run: jest.SpyInstance = jest.spyOn(TestBed.inject(ProjectJobs), 'run');
    run.mockImplementation(
      (_name: string, { span }: { span: FrameRange }, _label: string, { signal }: { signal: AbortSignal }) =>
        new Promise((resolve, reject) => {
          // Its samples are only promised, not there.
          const samples = Object.defineProperty(new Float32Array(0), 'length', { value: span.to - span.from });
          const audio = { sampleRate: rate, channels: [samples] };
          asked.push({ span, signal, resolve: () => resolve(audio), reject: () => reject(new Error('broken')) });
        }),
    );
    pieces = TestBed.inject(TreatedPieces);
  });

  const answered = async (n: number): Promise<void> => {
    asked[n]!.resolve();
    await new Promise((resolve) => setTimeout(resolve));
  };
  const seconds = ({ span }: { span: FrameRange }): [number, number] => [span.from / rate, span.to / rate];

  it('begin where the playhead stands, and the next one is made before one ends', async () => {
    pieces.follow([wanted('a')], 40);
    expect(asked.map(seconds)).toEqual([[39.5, 55]]);
    // While it is made, it is not asked for again.
    pieces.follow([wanted('a')], 42);
    await answered(0);
    expect(pieces.pieces().get('a')?.from).toBe(39.5 * rate);
    pieces.follow([wanted('a')], 46);
    expect(asked).toHaveLength(1);
    pieces.follow([wanted('a')], 50);
    expect(asked.map(seconds)[1]).toEqual([49.5, 65]);
    // What is there is heard until then.
    expect(pieces.pieces().get('a')?.from).toBe(39.5 * rate);
    await answered(1);
    expect(pieces.pieces().get('a')?.from).toBe(49.5 * rate);
  });

  it('are made for nothing that is short, over, or far ahead', () => {
    pieces.follow([wanted('short', { length: 2 }), wanted('over', { length: 20 }), wanted('ahead', { start: 80 })], 45);
    expect(asked).toHaveLength(0);
    pieces.follow([wanted('ahead', { start: 80 })], 74);
    expect(asked.map(seconds)).toEqual([[0, 15]]);
  });

  it('that are being made for another place or another dial are given up', async () => {
    pieces.follow([wanted('a')], 0);
    pieces.follow([wanted('a')], 100);
    expect(asked.map(({ signal }) => signal.aborted)).toEqual([true, false]);
    await answered(0);
    expect(pieces.pieces().size).toBe(0);
    await answered(1);
    expect(pieces.pieces().get('a')?.from).toBe(99.5 * rate);
    pieces.follow([wanted('b')], 100);
    expect(pieces.pieces().size).toBe(0);
    pieces.follow([], 100);
    expect(asked[2]!.signal.aborted).toBe(true);
  });

  it('that cannot be made are asked for again at the next place, and told by nobody', async () => {
    pieces.follow([wanted('a')], 0);
    asked[0]!.reject();
    await new Promise((resolve) => setTimeout(resolve));
    pieces.follow([wanted('a')], 2);
    expect(asked).toHaveLength(2);
  });
});
