import type { Project, Source } from '@tangled-choir/core';
import { alternativeSources, usedSources } from '@tangled-choir/core';

/**
 * The sources that match every word: in name, tags, role, notes, file or the names of good parts; `unused` and `used` match what their words say.
 * @param findUsed tells which sources are used; asked only where a word needs it, because it changes with every edit of a sound
 */
export function searchSources(sources: readonly Source[], query: string, findUsed: () => ReadonlySet<string>): readonly Source[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return sources;
  const used = words.some((word) => word === 'unused' || word === 'used') ? findUsed() : new Set<string>();
  return sources.filter((source) => {
    const text = [
      source.name,
      source.role ?? '',
      source.notes,
      source.origin.file,
      ...source.tags,
      ...source.regions.map(({ name }) => name),
      source.channels === 1 ? 'mono' : 'stereo',
    ]
      .join(' ')
      .toLowerCase();
    return words.every((word) => (word === 'unused' ? !used.has(source.id) : word === 'used' ? used.has(source.id) : text.includes(word)));
  });
}

/** In which sounds, and recipes of prints, each source is used, and how often. */
export function sourceUses(project: Project): Map<string, { sound: string; clips: number }[]> {
  const uses = new Map<string, { sound: string; clips: number }[]>();
  const add = (source: string, use: { sound: string; clips: number }): void => {
    const known = uses.get(source);
    if (known) known.push(use);
    else uses.set(source, [use]);
  };
  for (const sound of project.sounds) {
    const counts = new Map<string, number>();
    for (const layer of sound.layers)
      for (const { source } of layer.clips) if (source !== undefined) counts.set(source, (counts.get(source) ?? 0) + 1);
    // What effects use, or what is the guide, is used without a clip.
    for (const id of new Set([...usedSources(sound), ...alternativeSources(sound), ...(sound.guide ? [sound.guide.source] : [])]))
      counts.set(id, counts.get(id) ?? 0);
    for (const [source, clips] of counts) add(source, { sound: sound.name, clips });
  }
  for (const { name, origin } of project.sources)
    for (const { id } of origin.print?.sources ?? []) {
      const clips = origin.print!.recipe.layers.reduce((sum, layer) => sum + layer.clips.filter((clip) => clip.source === id).length, 0);
      add(id, { sound: `recipe of ${name}`, clips });
    }
  return uses;
}
