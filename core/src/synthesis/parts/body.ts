import type { Random } from '../../dsp/random';
import { createRandom } from '../../dsp/random';
import { choice, count, seconds, share } from '../../project/parameters';
import type { Frames, Seconds } from '../../units';
import { definePart } from '../define-part';
import { sinc } from '../../dsp/kaiser';
import type { Mode } from './body-modes';
import { bodyModes, bodyShapes, modeChances, modeDecay, modeGain, mostModes, readModes, takenBody, takenModes } from './body-modes';
import { ModalBank } from './modal-bank';

const exciters = ['struck', 'scraped', 'blown'] as const;
/** How long a soft and a hard hammer touch the body. */
const softContact: Seconds = 0.012;
const hardContact: Seconds = 0.000_06;
/** Below it a body that nobody sounds any more is silent. */
const silence = 1e-7;

const ideal = { of: 'body', values: bodyShapes } as const;

export const body = definePart({
  id: 'body',
  label: 'Body',
  purpose: 'Something that is struck, scraped or blown: a bar, a plate of ice, a bell, a pipe.',
  first: { release: 0.4 },
  own: {
    body: { ...choice('Body', [...bodyShapes, takenBody], 'bar'), builds: true },
    taken: { ...takenModes, builds: true, needs: { of: 'body', values: [takenBody] } },
    exciter: { ...choice('Set off by', exciters, 'struck'), builds: true },
    modes: { ...count({ label: 'Modes', min: 1, max: mostModes, default: 20 }), builds: true, needs: ideal },
    ring: seconds({ label: 'Rings for', min: 0.01, max: 60, default: 1.5 }),
    damping: { ...share({ label: 'Damping', max: 2, default: 0.7 }), needs: ideal },
    hardness: share({ label: 'Hardness', default: 0.6 }),
    place: { ...share({ label: 'Place', default: 0.3 }), needs: ideal },
    scatter: share({ label: 'Scatter', default: 0 }),
    roughness: { ...share({ label: 'Roughness', default: 0.4 }), needs: { of: 'exciter', values: ['scraped', 'blown'] } },
  },
  channels: () => 1,
  modes(values, frequency) {
    const { ring, damping, place, hardness, exciter } = values;
    return modesOf(values).map((mode) => {
      const at = frequency * mode.ratio;
      const push = exciter === 'struck' ? pushAt(at * contactOf(hardness)) : 1;
      return { frequency: at, gain: modeGain(mode, place) * push, decay: modeDecay(mode, ring, damping) };
    });
  },
  createSource({ sampleRate, values }) {
    const modes = modesOf(values);
    const bank = new ModalBank(modes.length, sampleRate);
    const chance = new Float64Array(modes.length);
    const exciter = createExciter(values.exciter, sampleRate);
    const struck = values.exciter === 'struck';
    // What the modes are tuned to.
    let [tuned, ring, damping, place, scatter] = [0, 0, 0, 0, 0];
    let hardness = 0;
    return {
      start(note, given, frequency) {
        modeChances(note.random, chance);
        bank.reset();
        tuned = 0;
        exciter.start(note.random, given.hardness * (0.6 + 0.4 * note.strength));
        this.aim(given, frequency, 0);
      },
      startAgain({ random, strength }) {
        exciter.start(random, hardness * (0.6 + 0.4 * strength));
      },
      aim(given, frequency) {
        ({ hardness } = given);
        exciter.aim(given.hardness, given.roughness);
        if (frequency === tuned && given.ring === ring && given.damping === damping && given.place === place && given.scatter === scatter)
          return;
        tuned = frequency;
        ({ ring, damping, place, scatter } = given);
        for (const [m, mode] of modes.entries()) {
          // The lowest mode is the note.
          const off = m === 0 ? 1 : Math.pow(2, (chance[m]! * scatter) / 2);
          bank.tune(m, frequency * mode.ratio * off, modeDecay(mode, ring, damping), modeGain(mode, place));
        }
      },
      render({ left }, from, to) {
        const driven = exciter.fill(left, from, to);
        bank.process(left, from, to, driven);
      },
      get silent() {
        return struck && exciter.over && bank.loudest < silence;
      },
    };
  },
});

function modesOf({ body, taken, modes }: { readonly body: string; readonly taken: string; readonly modes: number }): readonly Mode[] {
  return body === takenBody ? readModes(taken) : bodyModes(bodyShapes.find((each) => each === body) ?? 'bar').slice(0, modes);
}

/** How long hammer and body touch. */
function contactOf(hardness: number): Seconds {
  return softContact * Math.pow(hardContact / softContact, hardness);
}

/** What a push in the form of a raised cosine leaves of a frequency, counted in periods during the push. */
function pushAt(periods: number): number {
  // 0/0 at its edges, where it is a half.
  if (Math.abs(periods - 1) < 1e-6) return 0.5;
  return Math.abs(sinc(periods) / (1 - periods * periods));
}

/** What sets a body off. */
interface Exciter {
  start(random: Random, hardness: number): void;
  aim(hardness: number, roughness: number): void;
  /** Writes its force; false where there is none. */
  fill(into: Float64Array, from: Frames, to: Frames): boolean;
  readonly over: boolean;
}

function createExciter(kind: string, sampleRate: number): Exciter {
  return kind === 'struck' ? new Hammer(sampleRate) : new Rubbing(kind === 'blown', sampleRate);
}

/** One push in the form of a raised cosine whose area is 1, for as long as hammer and body touch. */
class Hammer implements Exciter {
  private contact: Frames = 1;
  private done: Frames = 0;

  constructor(private readonly sampleRate: number) {}

  start(_: Random, hardness: number): void {
    this.contact = Math.max(1, Math.round(this.sampleRate * contactOf(hardness)));
    this.done = 0;
  }

  aim(): void {
    // It has struck already.
  }

  get over(): boolean {
    return this.done >= this.contact;
  }

  fill(into: Float64Array, from: Frames, to: Frames): boolean {
    if (this.over) return false;
    for (let i = from; i < to; i++) {
      const at = (this.done + 0.5) / this.contact;
      into[i] = this.over ? 0 : (1 - Math.cos(2 * Math.PI * at)) / this.contact;
      this.done++;
    }
    return true;
  }
}

/** How hard something that rubs catches at most, and at least as a part of that. */
const catchForce = 0.25;
const leastCatch = 0.4;
const meanCatch = (1 + leastCatch) / 2;

/** Something that rubs over the body, catching and letting go again and again, or air that is blown at it. */
class Rubbing implements Exciter {
  readonly over = false;
  private random: Random = createRandom(0);
  private hardness = 0;
  private roughness = 0;
  private smooth = 0;
  private next: Frames = 0;

  constructor(
    private readonly blown: boolean,
    private readonly sampleRate: number,
  ) {}

  start(random: Random): void {
    this.random = random;
    this.smooth = this.next = 0;
  }

  aim(hardness: number, roughness: number): void {
    this.hardness = hardness;
    this.roughness = roughness;
  }

  fill(into: Float64Array, from: Frames, to: Frames): boolean {
    const { random, hardness, roughness, blown } = this;
    // The harder, the brighter.
    const open = 0.02 + 0.9 * hardness * hardness;
    const catches = this.sampleRate / (20 + 1_500 * hardness);
    // Waiting ends with a whole frame, half a frame late.
    const mean = (catchForce * meanCatch) / (catches + 0.5);
    for (let i = from; i < to; i++) {
      const white = 2 * random.next() - 1;
      this.smooth += (white - this.smooth) * open;
      if (blown) into[i] = 0.02 * this.smooth * (0.3 + roughness) + 0.002 * white * roughness;
      else {
        // A force that only pushes would bend the body, which is no sound.
        into[i] = 0.01 * this.smooth * roughness - mean;
        if (--this.next <= 0) {
          into[i]! += catchForce * (leastCatch + (1 - leastCatch) * random.next());
          this.next = catches * (1 - roughness + 2 * roughness * random.next());
        }
      }
    }
    return true;
  }
}
