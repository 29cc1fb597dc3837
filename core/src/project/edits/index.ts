import * as chainEdits from './chain-edits';
import * as clipEdits from './clip-edits';
import type { Edit } from './edit';
import * as familyEdits from './family-edits';
import * as layerEdits from './layer-edits';
import * as projectEdits from './project-edits';

const {
  renameProject,
  addSound,
  renameSound,
  removeSound,
  addSources,
  renameSource,
  setSourceRole,
  setSourceTags,
  setSourceNotes,
  removeSource,
  setHandOff,
} = projectEdits;
const { addLayer, renameLayer, setLayerRole, muteLayer, soloLayer, reorderLayer, duplicateLayer, removeLayer } = layerEdits;
const { addClip, moveClip, trimClipStart, trimClipEnd, fadeClip, duplicateClip, removeClip } = clipEdits;
const { addEffect, removeEffect, moveEffect, switchEffect, setValues } = chainEdits;
const { setSway, setSways, removeSway, setFamily, judgeSibling, rollAgain, addMark, removeMark } = familyEdits;

/** Every edit by name. */
export const edits = {
  renameProject,
  addSound,
  renameSound,
  removeSound,
  addSources,
  renameSource,
  setSourceRole,
  setSourceTags,
  setSourceNotes,
  removeSource,
  setHandOff,
  addLayer,
  renameLayer,
  setLayerRole,
  muteLayer,
  soloLayer,
  reorderLayer,
  duplicateLayer,
  removeLayer,
  addClip,
  moveClip,
  trimClipStart,
  trimClipEnd,
  fadeClip,
  duplicateClip,
  removeClip,
  addEffect,
  removeEffect,
  moveEffect,
  switchEffect,
  setValues,
  setSway,
  setSways,
  removeSway,
  setFamily,
  judgeSibling,
  rollAgain,
  addMark,
  removeMark,
};

export type EditName = keyof typeof edits;
export type EditArguments<N extends EditName> = (typeof edits)[N] extends Edit<infer A> ? A : never;

/** The edit with this name, with its own arguments. */
export function editNamed<N extends EditName>(name: N): Edit<EditArguments<N>> {
  // The registry ties each name to its arguments; the compiler cannot follow that through a type parameter.
  return edits[name] as unknown as Edit<EditArguments<N>>;
}

export { shortestClip } from './clip-edits';
export { stepAddress } from './chain-edits';
export type { ChainOwner, Edit } from './edit';
export { EditError } from './edit';
export type { NewSource } from './project-edits';
export type { NewSway } from './family-edits';
