/** Everything that the application, the server, the command line and the demo may use of core. */
export * from './units';
export * from './tuning';

export type { Audio } from './audio/audio';
export { frameCount, silence, toStereo, withGain } from './audio/audio';
export { evenGain } from './kin/even-pair';
export type { Block } from './dsp/block';
export { createBlock, maxBlock } from './dsp/block';
export type { LayoutId } from './audio/layout';
export { channelsOf, layoutIds } from './audio/layout';
export type { FadeShape } from './audio/fade';
export { fadeGain, fadeShapes } from './audio/fade';
export type { Overview } from './audio/overview';
export { measureOverview, readOverview } from './audio/overview';
export type { Recording } from './audio/recording';
export { inMemory, partOfRecording } from './audio/recording';
export { changeSpeed, convertSampleRate } from './audio/resample';

export { hannWindow, RealFft } from './dsp/fft';
export { bandPass, bell, cut } from './dsp/filters/analogue';
export { matchSections } from './dsp/filters/matched-section';
export type { Random } from './dsp/random';
export { createRandom, seedOf } from './dsp/random';
export { Section } from './dsp/filters/state-variable';

export { effectCatalogue } from './catalogue';
export { patchSound, playPatch } from './render/play-patch';
export type { Mimicry } from './mimic/mimic';
export { longestMimicked, mimic } from './mimic/mimic';
export type { PatchTake } from './render/play-patch';
export type { MidiNotes } from './formats/midi';
export { readMidi, writeMidiFile } from './formats/midi';
export type { MidiBend } from './formats/midi-bends';
export { bendAddress, bendCourse, withBends } from './automation/bend-course';
export { patchFormat, patchVersion, readNotesFile, readPatchFile, writePatchFile } from './formats/patch-file';
export { partKinds, partsById } from './synthesis';
export type { TakenBody } from './mimic/take-modes';
export { takeModes } from './mimic/take-modes';
export type { DrawnMode, EnvelopePicture, PartPicture } from './synthesis/part-picture';
export { pictureOfEnvelope, pictureOfModes, pictureOfPart } from './synthesis/part-picture';
export type { MadeTake, PatchShape } from './synthesis/shape-patch';
export { reinsOver } from './synthesis/patch-reins';
export { rollPatch, shapePatch } from './synthesis/shape-patch';
export type { DrawnPoint } from './automation/drawn-curve';
export { curveHeight } from './automation/drawn-curve';
export type { PartKind } from './synthesis/part';
export { patchPresets } from './synthesis/presets';
export { takenBody } from './synthesis/parts/body-modes';
export type { Making, PatchPreset } from './synthesis/presets/preset';
export { makings } from './synthesis/presets/preset';
export { heardNotes } from './project/patch/clip-notes';
export type { HeardNote } from './project/patch/clip-notes';
export { mostModulation, mostNotes, mostParts } from './project/patch/patch-schema';
export type { CurvePull, Patch, PatchCurve, PatchPart, PlayedNote } from './project/patch/patch-schema';
export { modulationParameter, noteParameters, patchParameters } from './project/patch/patch-parameters';
export * from './effects';
export { situations } from './effects/situations';
export type { FoundEffect } from './effects/search';
export { searchEffects } from './effects/search';
export type { EffectPicture, PictureAxis, PictureCurve, PictureRole } from './effects/effect-picture';
export { pictureOf } from './effects/effect-picture';
export { surprise } from './effects/surprise';

export { DataError, describeIssues, parseJson, parseProject } from './project/parse';
export type { Branch, ChainState, EffectStep } from './project/chain/chain-schema';
export { chain as chainSchema, chainStates } from './project/chain/chain-schema';
export * from './project/schema';
export { standsAs } from './project/chain/chain-states';
export { branchesOf, pathToBranch, stepsOf } from './project/chain/chain-tree';
export type { Reference } from './project/chain/references';
export { alternativeSources, readReference, usedSources } from './project/chain/references';
export type { Need } from './project/source-needs';
export { listeningNeeds, playedStretch, sourceNeeds } from './project/source-needs';
export type { Soloed } from './project/listening';
export { rememberedSolos, soloed, withoutSolos } from './project/listening';
export { sourceIdentities, sourceIdentity } from './project/sources';
export { createProject, createSound, plainStretch, projectSampleRate } from './project/create';
export { axisOf, fromAxis, toAxis } from './project/axis';
export type { Property } from './project/address';
export {
  branchName,
  branchParameters,
  findProperty,
  gainParameter,
  isAutomatable,
  isPullable,
  listAddresses,
  alternativesAddress,
  orderAddress,
  presenceAddress,
  someAddress,
  swingAddress,
  partName,
  mixParameter,
  ownerOfAddress,
  panParameter,
  sendParameter,
  speedParameter,
  stretchParameter,
  pitchParameter,
  formantParameter,
  wearParameter,
  grainParameter,
  attackParameter,
} from './project/address';
export { firstPull, offsetFor, offsetReach, offsetUnit, pullReach } from './project/offset';
export * from './project/time/clip-times';
export { movedPin, pinOn } from './project/time/pins';
export { stretchedNeed } from './project/time/stretched-part';
export { contentAtTime, curveAt, isStretched, speedAt, stretchAt } from './project/time/clip-pace';
export { bendThrough, laneCourse, laneValue, pointBefore, trimmedValue } from './automation/lane-value';
export type { MoverCourse } from './movers/mover-value';
export { coursesOf } from './render/automation';
export { pulledClips } from './render/pulled-clips';
export { isPulledOfClip } from './project/clip-address';
export { mayPull, moverAddress, reinParameter } from './project/mover-address';
export { moverCourse, pulledValue, pullsBothWays, reachOf } from './movers/mover-value';
export { shapePoints } from './movers/tide-shapes';
export type { MoverKind, MoverSettings } from './project/edits/mover-edits';
export type { LfoShape } from './automation/lfo-shape';
export { lfoPoints, lfoShapes } from './automation/lfo-shape';
export {
  drawStroke,
  insertPoint,
  pastePoints,
  pointsWithin,
  replaceStretch,
  scaleStretch,
  smoothStretch,
  thinPoints,
} from './automation/point-edits';
export type { Move } from './automation/recorded-moves';
export { recordedMoves } from './automation/recorded-moves';
export * from './project/time/tempo-grid';
export * from './project/time/timecode';
export { presetsWithin, readPresets, writePresets } from './formats/preset-file';
export { readMarksCsv, readMarksVtt, writeMarksCsv, writeMarksVtt } from './formats/marks';
export * from './project/edits';
export type { NewRein } from './project/edits/patch-edits';
export type { NewStep } from './project/edits/preset-edits';
export type { History, HistoryStep } from './project/history';
export { applyEdit, changedSounds, redo, startHistory, undo } from './project/history';
export type {
  CurveParameter,
  EffectCatalogue,
  NumberParameter,
  Parameter,
  ParameterSet,
  ParameterValue,
  ParameterValues,
  ReferenceParameter,
} from './project/parameters';
export {
  choice,
  count,
  decibels,
  factor,
  hertz,
  faultsOf,
  fitValue,
  inRange,
  placeOfValue,
  readCurve,
  inTempo,
  resolveValues,
  seconds,
  semitones,
  share,
  toggle,
  valueAtPlace,
  writeCurve,
  isNeeded,
  needOf,
} from './project/parameters';

export type { Loudness } from './analysis/loudness/loudness';
export { LoudnessMeter, measureLoudness } from './analysis/loudness/loudness';
export type { Spectrogram, SpectrogramShape } from './analysis/spectrum/spectrogram';
export { measureSpectrogram, spectrogramRange } from './analysis/spectrum/spectrogram';
export type { Measurement } from './analysis/loudness/measure';
export { measure, measureRecording } from './analysis/loudness/measure';
export { measureTruePeak, TruePeakMeter } from './analysis/loudness/true-peak';
export type { RecordingFacts } from './analysis/describe-recording';
export { describeRecording } from './analysis/describe-recording';
export type { LandingPoints } from './analysis/landing-points';
export { findLandingPoints } from './analysis/landing-points';
export type { Character } from './analysis/character';
export { characterDistance } from './analysis/character';
export type { Defect } from './analysis/defects';
export { defectKinds, isSomewhere } from './analysis/defects';
export type { SoundingPart } from './analysis/silences';
export { splitAtSilences, splitAtTransients } from './analysis/silences';
export { nearestZeroCrossing } from './analysis/zero-crossings';
export { averageSpectrum, levelBetween, SpectrumHistory } from './analysis/spectrum/spectrum-history';
export { fieldDirections, StereoField } from './analysis/spectrum/stereo-field';
export { CorrelationMeter } from './analysis/spectrum/correlation';
export { longTermSpectrum, matchLevels } from './analysis/spectrum/long-term-spectrum';
export { SpectrumTap } from './analysis/spectrum/spectrum-tap';

export type { Moment as PictureMoment, MotionTrack } from './picture/motion';
export { findMoments, lumaHeight, lumaWidth, MotionMeter, motionVersion } from './picture/motion';

export { applyChain } from './render/chain/apply-chain';
export type { AudioLibrary, FrozenLayer, RenderContext } from './render/library';
export { renderContext } from './render/library';
export { SoundPlayer } from './render/live/player';
export { standing } from './render/live/standing';
export type { HeldNote } from './synthesis/held-keys';
export { SlowPlayer } from './render/live/slow-player';
export { audibleLayers, soundTail } from './render/sound-graph';
export { Cancelled, report } from './cancelled';
export { renderSound } from './render/render-sound';
export type { BandRegion } from './judging/band-listener';
export { BandListener } from './judging/band-listener';
export type { ChangeReading } from './judging/change-meter';
export { audibleChange, ChangeListener, ChangeMeter } from './judging/change-meter';
export type { GuidePlace } from './render/live/guide-player';
export { GuidePlayer } from './render/live/guide-player';
export { guideEnd, guideLayerId, pictureEnd, withGuide } from './project/guide';
export type { OutputMatch, StepLoudness } from './judging/output-match';
export { matchOutput, outputKey } from './judging/output-match';
export type { MaskedPair, Seating } from './judging/seating';
export { measureSeating, seatedLayers, seatingBands, SeatingMeter } from './judging/seating';
export type { Comparison } from './judging/even-compare';
export { bypassed, EvenCompare } from './judging/even-compare';
export type { StepTap } from './render/chain/step-processor';
export { chainLatency, stepLatency } from './render/chain/chain-measures';
export { mainPitch, trackPitch } from './analysis/pitch';
export type { HeardPitch, PitchTrack } from './analysis/pitch-track';
export { pitchAt, trackRecording } from './analysis/pitch-track';
export type { MethodChoice, Strain, StrainMoment, StrainReason, StretchMethod, StretchOptions } from './stretch';
export { chooseMethod, findAttacks, retune, stretchAudio, TimeMap } from './stretch';
export type { TreatedAudio, TreatedPieces } from './treatments/treat-clip';
export {
  isUntreated,
  makeTreated,
  showTreated,
  treatClip,
  treatmentKey,
  treatmentVersion,
  TreatmentCache,
  treatmentWork,
} from './treatments/treat-clip';
export type { EchoSettings, StackedOctave } from './project/edits/build-edits';
export { swellRecipe } from './project/edits/build-edits';
export type { ClipTuning, StretchSettings } from './project/edits/stretch-edits';
export type { Findings, StretchedPiece } from './treatments/stretched';
export {
  contentKey,
  makeStretchedPiece,
  methodFor,
  mostByOtherMethods,
  pieceSpan,
  strainOf,
  stretchedLength,
} from './treatments/stretched';
export { curveReach, longestStretched } from './project/edits/stretch-edits';
export type { PitchReader } from './treatments/heard-pitch';
export { clipNote, heardPitchAt } from './treatments/heard-pitch';
export type { TuneOptions, TuneTarget, Tuning } from './treatments/tune';
export { tuneClip } from './treatments/tune';
export type { Treatment } from './treatments/treatment';
export { treatmentOf } from './treatments/treatment';

export { freezeIdentity, freezeLayer, freezeRecipe } from './print/freeze-layer';
export { soundBefore } from './print/sound-before';
export { endToEnd, layersToPrint, printRecipe, printSource, printTakes, renderPrint } from './print/print-sound';

export type { TimbrePrint } from './analysis/timbre';
export { timbreDistance, timbrePrint } from './analysis/timbre';
export { evenOut } from './kin/even-out';
export { fireAudio, fireOrder, repeatTime } from './kin/fire';
export type { FamilyDistances, FamilyFindings, MapPlace, SiblingPair } from './kin/family-map';
export { bestSiblings, familyDistances, familyFindings, mapFamily, nearestPair, twinDistance } from './kin/family-map';
export type { Draw, Draws } from './kin/draw';
export { drawSibling } from './kin/draw';
export { recipeId } from './kin/recipe';
export { siblingSound, takeDraws } from './kin/take-draws';
export type { Strength } from './kin/ready-sways';
export { readySways, strengths } from './kin/ready-sways';
export type { SwayOffer } from './kin/sway-offers';
export { firstSway, stepOffers, swayedProperty, swayOffers } from './kin/sway-offers';
export type { Difference, Heard } from './kin/what-differs';
export { drawGroups, rankDifferences } from './kin/what-differs';

export { measuringVersion, recordingFactsSchema } from './formats/measured-facts';
export type { Archive } from './formats/archive';
export { inspectArchive, packArchive, readArchive, unpackArchive, writeArchive } from './formats/archive';
export type { Collector } from './formats/zip';
export { collectBytes, ZipMaker, zipFiles } from './formats/zip';
export { namingFields, safeFileName } from './formats/file-name';
export { hashBytes, hashText, prepareHashing } from './formats/hash';
export { noDetails, UnknownFormat } from './formats/audio-file';
export { readZip } from './formats/zip-read';
export { formatName } from './formats/format-names';
export { readCodedEnds, withinEnds } from './formats/coded-ends';
export type { ByteSource } from './formats/byte-source';
export { memorySource } from './formats/byte-source';
export { openPcm, openWav, pcmRecording } from './formats/open-recording';
export { readWav } from './formats/wav/wav-read';
export { writeWav } from './formats/wav/wav-write';

export { repeatLoop, repeatSeam } from './loop-doctor/listen';
export type { LoopTracks } from './loop-doctor/loop-tracks';
export { measureLoopTracks, readLoopTracks } from './loop-doctor/loop-tracks';
export type { LoopProposal, LoopWishes } from './loop-doctor/propose-loops';
export { proposeLoops, suitingCrossfade } from './loop-doctor/propose-loops';
export type { SeamlessLoop, SeamMeasure, SeamReport } from './loop-doctor/seamless-loop';
export { inspectSeam, makeSeamlessLoop } from './loop-doctor/seamless-loop';

export type { ImportTarget } from './import/import-audio';
export { loopSource } from './import/loop-source';
export type { ChannelChoice, CutPart } from './import/cut-source';
export { cutSource } from './import/cut-source';
export { importAudio } from './import/import-audio';
export type { AudioStream } from './import/audio-stream';
export { memoryStream, openFlac, pcmStream } from './import/audio-stream';

export type { RenderedItem } from './hand-off/render-item';
export { renderItem } from './hand-off/render-item';
export { asDecoded, levelledAsHeard } from './hand-off/decoded';
export type { Moment, Writing } from './hand-off/write-item';
export { commentsOf, integerSamples, manifestEntry, refuseEmpty, wavOf } from './hand-off/write-item';
export type { FileForm } from './hand-off/form';
export { formOf, formText, isLossless } from './hand-off/form';
export type { Manifest, ManifestFile } from './hand-off/manifest';
export { manifestFormat, manifestJsonSchema, manifestSchema, manifestVersion } from './hand-off/manifest';
export type { ReportRow } from './hand-off/report';
export { reportCsv, reportHtml } from './hand-off/report';
export { cueSheetCsv, cueSheetOtio } from './hand-off/cue-sheet';
export type { SheetParts } from './hand-off/sheet';
export { joinSheet, sheetItem } from './hand-off/sheet';
export type { DeliveryItem } from './hand-off/plan';
export { stemsOf } from './hand-off/stems';
export type { FamilyFile } from './hand-off/check-family';
export { checkFamily } from './hand-off/check-family';
export { deliveryFolders } from './hand-off/folders';
export { collidingNames, deliveredSounds, planDelivery, planSound } from './hand-off/plan';
export { mendedPeak, trimSilence } from './hand-off/pre-flight';
export { convertLoop, isLoop } from './hand-off/loops';
export type { Finding } from './hand-off/pre-flight';
export type { DeliverySettings } from './project/deliveries/create-delivery';
export { deliveryKinds, startingDelivery } from './project/deliveries/create-delivery';

export { recordedSource } from './print/recorded-source';
export type { WantedTake } from './hand-off/conduct-takes';
export { conductData, playedSiblings, renderTake, wantedTakes } from './hand-off/conduct-takes';
export { conductJson, takeBytes } from './hand-off/conduct-pack';
export { asItCounts, gameDelivery } from './hand-off/plan-behaviours';
export { readScript } from './hand-off/conduct-script';
export type { ConductAssetFile, ConductFile } from './hand-off/conduct-file';
export { conductFileSchema, conductJsonSchema } from './hand-off/conduct-file';

export type { Behaviour, ConductData, ConductEvent, GameMove, GamePull, Place, PulledProperty, Room, Walk } from './conduct/conduct-data';
export { heightAt, ownTurn } from './conduct/curve';
export { ConductEngine } from './conduct/engine';
export type { Foreseen, VoiceSpan } from './conduct/foresee';
export { followVoices, foresee } from './conduct/foresee';
export { levelAt } from './conduct/hearing';
export { conductLog } from './conduct/log';
export type { LogEntry } from './conduct/log';
export { ConductMixer } from './conduct/mixer';
export type { GroupLoad, Repeats } from './conduct/statistics';
export { assetsOf, groupLoads, repeatsOf } from './conduct/statistics';
export type { Performance, TimedMove } from './conduct/perform';
export { perform } from './conduct/perform';
export {
  behaviourDials,
  busDials,
  distanceDials,
  lowestDrawn,
  playDials,
  pulledDials,
  roomDials,
  compressorDials,
  slotDials,
  walkSpeed,
} from './project/game/behaviour-dials';
export type { GameBusSettings } from './project/game/conduct-schema';
export type { BehaviourDial } from './project/game/behaviour-dials';
export { ancestorsOf, goesInCircle, liesInEnd, withinBehaviour } from './project/game/conduct-faults';
export { startingDistance, startingCompressor, startingPlay, startingRoom } from './project/game/create-behaviour';
