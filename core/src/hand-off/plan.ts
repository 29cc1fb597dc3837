import type { NamingField } from '../formats/file-name';
import { fillTemplate } from '../formats/file-name';
import type { Draws } from '../kin/draw';
import { drawSibling } from '../kin/draw';
import { recipeId } from '../kin/recipe';
import { takeDraws } from '../kin/take-draws';
import type { EffectCatalogue } from '../project/parameters';
import type { Delivery, Project, Sound } from '../project/schema';
import { endings, formId, formOf, numberText } from './form';
import { comingRound, isLoop } from './loops';
import { planBehaviours } from './plan-behaviours';
import type { Stem } from './stems';
import { stemsOf } from './stems';

/** One file to be delivered, or one part of a sheet. */
export interface DeliveryItem {
  /** What tells it apart within its delivery, also after it was renamed. */
  readonly key: string;
  readonly of: { readonly id: string; readonly name: string };
  /** Index of the sibling, or undefined for the original. */
  readonly sibling?: number;
  /** Name of the layer or group that it is a stem of. */
  readonly stem?: string;
  /** Path below the delivery's folder, with its ending; slashes part folders. */
  readonly file: string;
  readonly recipe: string;
  /** Short id of everything that decides how the file comes out of the sound: two items of one recipe and one form are the same file. */
  readonly form: string;
  readonly seed: number;
  readonly draws: Draws;
  /** The sound as it is rendered for this file. */
  readonly sound: Sound;
  /** The whole that a stem is part of, whose level it takes. */
  readonly whole?: Sound;
  /** Set where its end goes on at its beginning, so that no cut and no fade may touch it: because it is a loop as it stands, or was asked to be one. */
  readonly loops: 'as it stands' | 'as asked' | undefined;
}

/** The sounds that a delivery takes, in the project's order; those without layers give no file. */
export function deliveredSounds({ sounds }: Project, delivery: Delivery): Sound[] {
  const chosen = delivery.sounds && new Set(delivery.sounds);
  return sounds.filter(({ id, layers }) => layers.length > 0 && (!chosen || chosen.has(id)));
}

/** The files of a delivery, sound by sound; of one of behaviours, the recordings that they play. */
export function planDelivery(project: Project, delivery: Delivery, catalogue: EffectCatalogue): DeliveryItem[] {
  if (delivery.content === 'behaviours') return planBehaviours(project, delivery, catalogue);
  return deliveredSounds(project, delivery).flatMap((sound) => planSound(project, sound, delivery, catalogue));
}

/** The files of one sound: the original, then the kept siblings, numbered on in the order of the family; each followed by its stems. */
export function planSound(project: Project, sound: Sound, delivery: Delivery, catalogue: EffectCatalogue): DeliveryItem[] {
  const chosen: (number | undefined)[] = delivery.original ? [undefined] : [];
  if (delivery.kept) sound.family.siblings.forEach((sibling, index) => sibling.state === 'kept' && chosen.push(index));
  return chosen.flatMap((sibling, position) => {
    const draws = sibling === undefined ? {} : drawSibling(sound, sibling);
    const whole = takeDraws(sound, draws, catalogue);
    const stems = delivery.sheet ? [] : stemsOf(whole, delivery.stems);
    return [undefined, ...stems].map((stem) => itemOf(project, sound, delivery, { sibling, position, draws, whole, stem }));
  });
}

interface Variant {
  readonly sibling: number | undefined;
  readonly position: number;
  readonly draws: Draws;
  readonly whole: Sound;
  readonly stem: Stem | undefined;
}

function itemOf(project: Project, sound: Sound, delivery: Delivery, { sibling, position, draws, whole, stem }: Variant): DeliveryItem {
  const realised = stem?.sound ?? whole;
  const recipe = recipeId(realised, project);
  const loops = loopsHow(realised, project, delivery);
  const form = formOf(delivery);
  const fields: Record<NamingField, string> = {
    project: project.name,
    sound: sound.name,
    number: numberText(position + delivery.firstNumber, delivery),
    variant: sibling === undefined ? 'original' : numberText(sibling + 1, delivery),
    stem: stem?.name ?? 'whole',
    seed: String(sound.family.seed),
    recipe,
    role: sound.layers[0]?.role ?? 'none',
    rate: String(form.sampleRate),
    bits: form.encoding,
    delivery: delivery.name,
  };
  return {
    key: `${sound.id}/${sibling === undefined ? 'original' : sibling + 1}${stem ? `/${stem.name}` : ''}`,
    of: { id: sound.id, name: sound.name },
    ...(sibling !== undefined && { sibling }),
    ...(stem && { stem: stem.name, whole: loops ? comingRound(whole, project) : whole }),
    file: `${fillTemplate(delivery.template, fields, delivery)}.${endings[form.format]}`,
    recipe,
    form: formId(delivery, sound, [project.name, sound.name, stem && recipeId(whole, project)]),
    seed: sound.family.seed,
    draws,
    sound: loops ? comingRound(realised, project) : realised,
    loops,
  };
}

function loopsHow(sound: Sound, project: Project, { tail }: Delivery): DeliveryItem['loops'] {
  if (tail !== 'fixed length' && isLoop(sound, project)) return 'as it stands';
  return tail === 'seamless loop' ? 'as asked' : undefined;
}

/** Names that more than one file would get; file systems that ignore case count too. */
export function collidingNames(items: readonly Pick<DeliveryItem, 'file'>[]): string[] {
  const seen = new Map<string, number>();
  for (const { file } of items) seen.set(file.toLowerCase(), (seen.get(file.toLowerCase()) ?? 0) + 1);
  return [...new Set(items.map((item) => item.file).filter((file) => seen.get(file.toLowerCase())! > 1))];
}
