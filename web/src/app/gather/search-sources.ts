import type { Project, Source } from '@tangled-choir/core';
import { usedSources } from '@tangled-choir/core';

/** The sources that match every word: in name, tags, role, notes or file; `unused` and `used` match what their words say. */
export function searchSources(sources: readonly Source[], query: string, used: ReadonlySet<string>): Source[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  return sources.filter((source) => {
    const text = [
      source.name,
      source.role ?? '',
      source.notes,
      source.origin.file,
      ...source.tags,
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
  for (const sound of project.sounds) {
    const counts = new Map<string, number>();
    for (const layer of sound.layers) for (const clip of layer.clips) counts.set(clip.source, (counts.get(clip.source) ?? 0) + 1);
    // What effects use, or what the sound leaves room for, is used without a clip.
    for (const id of [...usedSources(sound), ...(sound.reference === undefined ? [] : [sound.reference])])
      counts.set(id, counts.get(id) ?? 0);
    for (const [source, clips] of counts) uses.set(source, [...(uses.get(source) ?? []), { sound: sound.name, clips }]);
  }
  for (const { name, origin } of project.sources)
    for (const { id } of origin.print?.sources ?? []) {
      const clips = origin.print!.recipe.layers.reduce((sum, layer) => sum + layer.clips.filter((clip) => clip.source === id).length, 0);
      uses.set(id, [...(uses.get(id) ?? []), { sound: `recipe of ${name}`, clips }]);
    }
  return uses;
}
