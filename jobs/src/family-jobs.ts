import type { FamilyDistances, FamilyFindings, MapPlace, Project, Sound, TimbrePrint } from '@tangled-choir/core';
import { effectCatalogue, familyDistances, familyFindings, fireAudio, mapFamily, recipeId, siblingSound } from '@tangled-choir/core';
import { defineJob } from './job';
import type { SharedAudio } from './shared-audio';
import { share } from './shared-audio';

/** The ids of the recipes of all siblings of a sound, which tell whose renders have to be made anew. */
export const recipes = defineJob<{ readonly sound: Sound; readonly project: Pick<Project, 'sources' | 'sampleRate'> }, readonly string[]>({
  run: ({ sound, project }) => sound.family.siblings.map((_, index) => recipeId(siblingSound(sound, index, effectCatalogue), project)),
});

/** How far the siblings of a family are from each other, and what that tells. */
export interface MeasuredFamily {
  readonly distances: FamilyDistances;
  readonly findings: FamilyFindings;
  readonly places: readonly MapPlace[];
}

/** Measures all distances between rendered siblings and lays them out on a map. */
export const familyMap = defineJob<{ readonly prints: readonly TimbrePrint[] }, MeasuredFamily>({
  run({ prints }, { progress }) {
    const distances = familyDistances(prints, progress);
    return { distances, findings: familyFindings(distances), places: mapFamily(distances) };
  },
});

/** Siblings one after the other in an order, so many a second. */
export const fire = defineJob<
  { readonly family: ReadonlyMap<number, SharedAudio>; readonly order: readonly number[]; readonly rate: number },
  SharedAudio
>({
  run: ({ family, order, rate }) => share(fireAudio(family, order, rate)),
});
