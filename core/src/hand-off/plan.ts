import type { NamingField } from '../formats/file-name';
import { fillTemplate } from '../formats/file-name';
import type { Draws } from '../kin/family';
import { comingRound, isLoop } from './loops';
import { drawSibling, recipeId, takeDraws } from '../kin/family';
import type { EffectCatalogue } from '../project/parameters';
import type { HandOff, Project, Sound } from '../project/schema';

/** One file to be delivered. */
export interface DeliveryItem {
  /** Index of the sibling, or undefined for the original. */
  readonly sibling?: number;
  /** Name without folder, with “.wav”. */
  readonly file: string;
  readonly recipe: string;
  readonly seed: number;
  readonly draws: Draws;
  /** The sound as it is rendered for this file. */
  readonly sound: Sound;
  /** Set where its end goes on at its beginning, so that no cut and no fade may touch it: because it is a loop as it stands, or was asked to be one. */
  readonly loops: 'as it stands' | 'as asked' | undefined;
}

/** The files that the settings ask for: the original, then the kept siblings, numbered from 1 in the order of the family. */
export function planDelivery(project: Project, sound: Sound, settings: HandOff, catalogue: EffectCatalogue): DeliveryItem[] {
  const chosen: (number | undefined)[] = settings.original ? [undefined] : [];
  if (settings.kept) sound.family.siblings.forEach((sibling, index) => sibling.state === 'kept' && chosen.push(index));
  return chosen.map((sibling, position) => {
    const draws = sibling === undefined ? {} : drawSibling(sound, sibling);
    const realised = takeDraws(sound, draws, catalogue);
    const recipe = recipeId(realised, project);
    const loops = loopsHow(realised, project, settings);
    const fields: Record<NamingField, string> = {
      project: project.name,
      sound: sound.name,
      number: String(position + 1).padStart(2, '0'),
      seed: String(sound.family.seed),
      recipe,
      role: sound.layers[0]?.role ?? 'none',
      rate: String(settings.sampleRate),
      bits: settings.encoding,
    };
    const file = `${fillTemplate(settings.template, fields)}.wav`;
    return {
      ...(sibling !== undefined && { sibling }),
      file,
      recipe,
      seed: sound.family.seed,
      draws,
      sound: loops ? comingRound(realised, project) : realised,
      loops,
    };
  });
}

function loopsHow(sound: Sound, project: Project, { tail }: HandOff): DeliveryItem['loops'] {
  if (tail !== 'fixed length' && isLoop(sound, project)) return 'as it stands';
  return tail === 'seamless loop' ? 'as asked' : undefined;
}

/** Names that more than one file would get; file systems that ignore case count too. */
export function collidingNames(items: readonly Pick<DeliveryItem, 'file'>[]): string[] {
  const seen = new Map<string, number>();
  for (const { file } of items) seen.set(file.toLowerCase(), (seen.get(file.toLowerCase()) ?? 0) + 1);
  return [...new Set(items.map((item) => item.file).filter((file) => seen.get(file.toLowerCase())! > 1))];
}
