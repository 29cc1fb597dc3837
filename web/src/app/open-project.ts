import type { Provider } from '@angular/core';
import { computed, inject } from '@angular/core';
import { framesPerSecond } from '@tangled-choir/core';
import { AudioLibrary } from './engine/audio-library';
import { MidiInput } from './engine/midi-input';
import { LiveEngine } from './engine/live/live-engine';
import { ProjectJobs } from './engine/project-jobs';
import { Recorder } from './engine/record/recorder';
import { ConductOutput } from './engine/conduct-output';
import { Deliveries } from './state/deliveries.store';
import { LandingFinder } from './loft/arrange/landing-finder';
import { PictureWindow } from './loft/picture/picture-window';
import { TimeDisplay } from './loft/timeline/time-display';
import { OpenMake } from './sounds/open-make';
import { ConductTakes } from './state/conduct-takes.store';
import { DiskCopy } from './state/project/disk-copy.store';
import { DocumentStore } from './state/project/document.store';
import { FamilyDifferences } from './state/family-differences.store';
import { FamilyMap } from './state/family-map.store';
import { FamilyRenders } from './state/family-renders.store';
import { Freezing } from './state/freezing.store';
import { PitchTracks } from './state/pitch-tracks.store';
import { StretchJudging } from './state/stretch-judging';
import { PartlyHeard } from './state/partly-heard';
import { Judging } from './state/judging.store';
import { HandsStore } from './state/hands.store';
import { LaneHeights } from './state/lane-heights.store';
import { LecternPanel } from './state/lectern-panel.store';
import { PictureSound } from './state/picture-sound';
import { PictureStore } from './state/picture.store';
import { OutputMatch } from './state/output-match.store';
import { PlaceInLoft } from './state/place-in-loft';
import { Playback } from './state/playback.store';
import { PreviewMovie } from './state/preview-movie';
import { Printing } from './state/printing';
import { ProjectLock } from './state/project/project-lock';
import { ProjectTransfer } from './state/project/project-transfer.store';
import { ReferenceSpectrum } from './state/reference-spectrum.store';
import { Renderables } from './state/renderables';
import { SeatingChart } from './state/seating-chart.store';
import { Simulator } from './state/simulator.store';
import { SimulatorCourse } from './state/simulator-course';
import { SpectrumMatch } from './state/spectrum-match.store';
import { Transport } from './state/transport';
import { TreatedClips } from './state/treated-clips.store';
import { TreatedPieces } from './state/treated-pieces.store';
import { Turning } from './state/turning';
import { WorkbenchStore } from './state/workbench.store';
import { quantityContext } from './ui/read-quantity';

/**
 * Everything that lives as long as a project is open in this tab: provided by its frame, and gone with it. Whatever goes on in the background
 * holds what it was given here, so that its result can only end in the project that it began in.
 */
export const openProjectProviders: Provider[] = [
  ProjectLock,
  DocumentStore,
  DiskCopy,
  WorkbenchStore,
  ProjectJobs,
  AudioLibrary,
  LiveEngine,
  Recorder,
  TreatedClips,
  TreatedPieces,
  Renderables,
  Judging,
  Freezing,
  StretchJudging,
  PitchTracks,
  PartlyHeard,
  Playback,
  Turning,
  MidiInput,
  HandsStore,
  PictureStore,
  PictureSound,
  ReferenceSpectrum,
  SpectrumMatch,
  OutputMatch,
  LecternPanel,
  LaneHeights,
  SeatingChart,
  FamilyDifferences,
  FamilyMap,
  FamilyRenders,
  ProjectTransfer,
  PlaceInLoft,
  OpenMake,
  Printing,
  PreviewMovie,
  ConductOutput,
  ConductTakes,
  Simulator,
  SimulatorCourse,
  Transport,
  Deliveries,
  { provide: quantityContext, useFactory: framesAndNotes },
  LandingFinder,
  TimeDisplay,
  PictureWindow,
];

/** What frames and notes last in the sound that is worked on. */
function framesAndNotes() {
  const workbench = inject(WorkbenchStore);
  return computed(() => {
    const sound = workbench.sound();
    return { framesPerSecond: framesPerSecond(sound?.clock.frameRate ?? '25'), bpm: sound?.tempo.bpm ?? 120 };
  });
}
