import type { Project, Sound } from '@tangled-choir/core';
import { effectCatalogue, recipeId, siblingSound } from '@tangled-choir/core';
import { defineJob } from './job';

/** The ids of the recipes of all siblings of a sound, which tell whose renders have to be made anew. */
export const recipes = defineJob<{ readonly sound: Sound; readonly project: Pick<Project, 'sources' | 'sampleRate'> }, readonly string[]>({
  run: ({ sound, project }) => sound.family.siblings.map((_, index) => recipeId(siblingSound(sound, index, effectCatalogue), project)),
});
