import * as automationEdits from './automation-edits';
import * as buildEdits from './build-edits';
import * as busEdits from './bus-edits';
import * as chainEdits from './chain-edits';
import * as chopEdits from './chop-edits';
import * as clipCopies from './clip-copies';
import * as clipCuts from './clip-cuts';
import * as clipEdits from './clip-edits';
import * as clipLanding from './clip-landing';
import * as conductEdits from './conduct-edits';
import type { Edit } from './edit';
import * as gameEdits from './game-edits';
import * as familyEdits from './family-edits';
import * as layOutEdits from './lay-out-edits';
import * as layerEdits from './layer-edits';
import * as guideEdits from './guide-edits';
import * as markEdits from './mark-edits';
import * as moverEdits from './mover-edits';
import * as noteEdits from './note-edits';
import * as patchEdits from './patch-edits';
import * as presetEdits from './preset-edits';
import * as mendEdits from './mend-edits';
import * as pasteEdits from './paste-edits';
import * as printEdits from './print-edits';
import * as deliveryEdits from './delivery-edits';
import * as projectEdits from './project-edits';
import * as remedyEdits from './remedy-edits';
import * as replaceEdits from './replace-edits';
import * as sourceEdits from './source-edits';
import * as stateEdits from './state-edits';
import * as stretchEdits from './stretch-edits';
import * as templateEdits from './template-edits';

const { renameProject, addSound, renameSound, removeSound } = projectEdits;
const { addDelivery, setDelivery, duplicateDelivery, removeDelivery } = deliveryEdits;
const { addSources, renameSource, setSourceRole, setSourceTags, tagSources, setSourceNotes, setSourceOrigin, relinkSource, removeSources } =
  sourceEdits;
const { addRegions, setRegion, removeRegions } = sourceEdits;
const { addLayer, renameLayer, setLayerRole, muteLayer, nameLayers, setOverlaps, reorderLayer, duplicateLayer, removeLayer } = layerEdits;
const { groupLayers, setLayerGroup, removeBus, addSharedBus, setSend, renameBus, muteBus, solo, setSoloing, clearSolos } = busEdits;
const { saveTemplate, applyTemplate, removeTemplate } = templateEdits;
const { addClip, moveClips, trimClips, slipClips, fadeClips, reverseClips, fitClips, loopClip, lockClips, groupClips, removeClips } =
  clipEdits;
const { octaveStack, echoDown, addSwell } = buildEdits;
const { stretchClips, stretchBetween, tuneClips, setClipCurve, setPins } = stretchEdits;
const { splitClips, carve, closeGaps } = clipCuts;
const { copyClips, duplicateClips, pasteClips, repeatClips } = clipCopies;
const { setSyncPoints, landClips } = clipLanding;
const { chopClip, stutterClip } = chopEdits;
const { addEffect, removeEffect, moveEffect, switchEffect, addBranch, removeBranch, setBranch, setValues } = chainEdits;
const { setPreset, setChain, savePreset, importPresets, removePreset } = presetEdits;
const { keepState, recallState, morphStates, forgetState } = stateEdits;
const { addMover, setMover, removeMover, setPull, shapePull } = moverEdits;
const { makeRoom, duckUnder, transposeLayer } = remedyEdits;
const { addAutomation, removeAutomation, setAutomation, setAutomationPoints } = automationEdits;
const { layOutSiblings } = layOutEdits;
const { setSway, setSways, removeSway, setFamily, judgeSibling, keepOpen, keepBest, levelSiblings, rollAgain, siblingToSound } =
  familyEdits;
const { addMadeLayer, setPatch, addPart, removePart, movePart, setPart, setModulation, addCurve, setCurve, removeCurve, setCurvePull } =
  patchEdits;
const { addNoteClip, addNotes, changeNotes, recordNotes, removeNotes } = noteEdits;
const { setGuide, changeGuide } = guideEdits;
const { addMarks, setMark, removeMark, setTempo, setKey, setClock, setPicture, movePicture, removePicture } = markEdits;
const { mend } = mendEdits;
const { replaceRecording } = replaceEdits;
const { duplicateSound, pasteLayers, pasteSteps } = pasteEdits;
const { addBehaviour, setBehaviour, moveBehaviour, duplicateBehaviour, removeBehaviour, setGamePull } = conductEdits;
const { setConduct, addGamePart, setGamePart, removeGamePart, setMoodLevel, addScript, removeScript } = gameEdits;
const { printLayers, addPrint, openRecipe } = printEdits;

/** Every edit by name. */
export const edits = {
  renameProject,
  addSound,
  renameSound,
  removeSound,
  duplicateSound,
  pasteLayers,
  pasteSteps,
  addDelivery,
  setDelivery,
  duplicateDelivery,
  removeDelivery,
  addSources,
  renameSource,
  setSourceRole,
  setSourceTags,
  tagSources,
  setSourceNotes,
  setSourceOrigin,
  relinkSource,
  removeSources,
  addRegions,
  setRegion,
  removeRegions,
  addLayer,
  renameLayer,
  setLayerRole,
  muteLayer,
  nameLayers,
  setOverlaps,
  reorderLayer,
  duplicateLayer,
  removeLayer,
  groupLayers,
  setLayerGroup,
  removeBus,
  addSharedBus,
  setSend,
  renameBus,
  muteBus,
  solo,
  setSoloing,
  clearSolos,
  saveTemplate,
  applyTemplate,
  removeTemplate,
  addClip,
  moveClips,
  trimClips,
  slipClips,
  fadeClips,
  reverseClips,
  fitClips,
  loopClip,
  replaceRecording,
  octaveStack,
  echoDown,
  addSwell,
  stretchClips,
  stretchBetween,
  tuneClips,
  setClipCurve,
  setPins,
  lockClips,
  groupClips,
  removeClips,
  splitClips,
  carve,
  closeGaps,
  copyClips,
  duplicateClips,
  pasteClips,
  repeatClips,
  setSyncPoints,
  landClips,
  chopClip,
  stutterClip,
  addEffect,
  removeEffect,
  moveEffect,
  switchEffect,
  addBranch,
  removeBranch,
  setBranch,
  setValues,
  addMover,
  setMover,
  removeMover,
  setPull,
  shapePull,
  addMadeLayer,
  setPatch,
  addPart,
  removePart,
  movePart,
  setPart,
  setModulation,
  addCurve,
  setCurve,
  removeCurve,
  setCurvePull,
  addNoteClip,
  addNotes,
  recordNotes,
  changeNotes,
  removeNotes,
  setGuide,
  changeGuide,
  makeRoom,
  duckUnder,
  transposeLayer,
  keepState,
  recallState,
  morphStates,
  forgetState,
  setPreset,
  setChain,
  savePreset,
  importPresets,
  removePreset,
  addAutomation,
  removeAutomation,
  setAutomation,
  setAutomationPoints,
  setSway,
  setSways,
  removeSway,
  setFamily,
  judgeSibling,
  keepOpen,
  siblingToSound,
  layOutSiblings,
  keepBest,
  levelSiblings,
  rollAgain,
  addMarks,
  setMark,
  removeMark,
  setTempo,
  setKey,
  setClock,
  setPicture,
  movePicture,
  removePicture,
  mend,
  printLayers,
  addPrint,
  openRecipe,
  addBehaviour,
  setBehaviour,
  moveBehaviour,
  duplicateBehaviour,
  removeBehaviour,
  setGamePull,
  setConduct,
  addGamePart,
  setGamePart,
  removeGamePart,
  setMoodLevel,
  addScript,
  removeScript,
};

export type EditName = keyof typeof edits;
export type EditArguments<N extends EditName> = (typeof edits)[N] extends Edit<infer A> ? A : never;

/** The edit with this name, with its own arguments. */
export function editNamed<N extends EditName>(name: N): Edit<EditArguments<N>> {
  // The registry ties each name to its arguments; the compiler cannot follow that through a type parameter.
  return edits[name] as unknown as Edit<EditArguments<N>>;
}

export { edgeFade, shortestClip } from './clip-edits';
export type { Placement } from './clip-edits';
export type { CopiedClip } from './clip-copies';
export type { ChopSettings, Slice, StutterSettings } from './chop-edits';
export { chopSlices, sliceOrders, stutterShapes } from './chop-edits';
export type { Hole } from './clip-cuts';
export type { Landing } from './clip-landing';
export { branchAddress, stepAddress } from './chain-edits';
export type { ChainOwner, Edit } from './edit';
export { EditError, ownerAddress } from './edit';
export type { NewNote, NewPatch } from './patch-edits';
export type { RecordedNote } from './note-edits';
export type { NewSource } from './source-edits';
export type { NewSway } from './family-edits';
export type { BehaviourChange } from './conduct-edits';
export type { GamePart, GamePartChange } from './game-edits';
export type { Remedy } from './mend-edits';
export { remedies } from './mend-edits';
export type { CopiedLayers, CopiedSteps } from './paste-edits';
export type { PrintedPart } from './print-edits';
export { whyNotPrinted } from './print-edits';
