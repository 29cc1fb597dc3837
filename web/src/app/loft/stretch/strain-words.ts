import type { Clip, MethodChoice, Strain, StrainReason } from '@tangled-choir/core';
import { mostByOtherMethods } from '@tangled-choir/core';

/** How strong a strain must be to be mentioned. */
const mentioned = 0.1;

export function isStrained(strain: Strain | undefined): strain is Strain {
  return strain !== undefined && strain.amount >= mentioned && strain.reason !== undefined;
}

const told: Readonly<Record<StrainReason, (strain: Strain) => string>> = {
  'smeared attacks': ({ smear }) => `an attack stands ${smear.toFixed(0)} dB less sharply`,
  flutter: ({ flutter }) => `levels waver by ${flutter.toFixed(1)} dB more`,
  'lost tones': ({ lost }) => `tones are missing (${lost.toFixed(0)} dB beside all)`,
  'invented tones': ({ invented }) => `tones that were not there (${invented.toFixed(0)} dB beside all)`,
  image: ({ image }) => `the balance has moved by ${image.toFixed(1)} dB`,
};

/** What was measured, in words. */
export function describeStrain(strain: Strain): string {
  return strain.reason === undefined ? '' : `${strain.reason}: ${told[strain.reason](strain)}`;
}

/** Stretches of a clip on which strain is heard, in percent of its width. */
export function strainStrip(
  { moments }: Strain,
  duration: number,
): { readonly left: number; readonly width: number; readonly amount: number }[] {
  return moments.flatMap(({ time, amount }, n) => {
    if (amount < mentioned) return [];
    const to = Math.min(duration, moments[n + 1]?.time ?? duration);
    return [{ left: (time / duration) * 100, width: (Math.max(0, to - time) / duration) * 100, amount }];
  });
}

/** What would help soonest: a change of the clip with its name, or undefined where only less would. */
export function remedyFor(
  strain: Strain,
  { method, stretch, wear }: Clip,
  suits?: MethodChoice,
): { readonly name: string; readonly settings: Partial<Clip> } | undefined {
  if (wear > 0) return { name: 'Without wear', settings: { wear: 0 } };
  const vast = method === 'vast' || stretch > mostByOtherMethods;
  if (strain.reason === 'smeared attacks') {
    if (vast) return { name: 'Let its attacks be heard', settings: { attack: 1 } };
    return method === 'hits' ? undefined : { name: 'Keep attacks: hits', settings: { method: 'hits' } };
  }
  if (vast) return undefined;
  if (suits && method !== 'auto' && method !== suits.method)
    return { name: `What suits it: ${suits.method}`, settings: { method: suits.method } };
  if (strain.reason === 'lost tones' || strain.reason === 'invented tones')
    return method === 'tones' ? undefined : { name: 'Keep partials: tones', settings: { method: 'tones' } };
  if (strain.reason === 'flutter' && stretch > 2) return { name: 'Stretch vastly', settings: { method: 'vast' } };
  return method === 'tones' ? undefined : { name: 'Keep partials: tones', settings: { method: 'tones' } };
}
