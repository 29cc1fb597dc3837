import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { effectCatalogue } from '../catalogue';
import { hashText } from '../formats/hash';
import { createProject } from '../project/create';
import type { EditArguments, EditName, NewSource } from '../project/edits';
import { editNamed } from '../project/edits';
import { applyEdit, startHistory } from '../project/history';
import type { Project } from '../project/schema';
import type { RenderContext } from '../render/library';
import { renderContext } from '../render/library';

/** Makes one edit on a project, without a history. */
export function edited<N extends EditName>(project: Project, name: N, args: EditArguments<N>): Project {
  const edit = editNamed(name);
  return applyEdit(startHistory(project), edit, args, effectCatalogue).project;
}

export function sourceFor(name: string, audio: Audio): NewSource {
  return {
    kind: 'recording',
    name,
    audio: hashText(name),
    frames: frameCount(audio),
    channels: audio.channels.length,
    tags: [],
    notes: '',
    regions: [],
    cues: [],
    origin: { file: `${name}.wav`, sampleRate: audio.sampleRate, encoding: '32 bit float' },
  };
}

/** A project with one sound that has one layer, with one clip from 0 on, for each of the given recordings. */
export function projectWith(recordings: Readonly<Record<string, Audio>>): { project: Project; context: RenderContext } {
  let project = createProject('test', 'Halda test');
  project = edited(project, 'addSources', { sources: Object.entries(recordings).map(([name, audio]) => sourceFor(name, audio)) });
  project = edited(project, 'addSound', { name: 'Slab test' });
  const sound = project.sounds[0]!.id;
  for (const source of project.sources) project = edited(project, 'addLayer', { sound, source: source.id, start: 0 });
  const library = new Map(Object.entries(recordings).map(([name, audio]) => [hashText(name), audio]));
  return { project, context: renderContext(project, library) };
}
