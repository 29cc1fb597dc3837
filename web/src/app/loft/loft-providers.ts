import type { Provider } from '@angular/core';
import { ArrangeCommands } from './arrange/arrange-commands';
import { LaneCommands } from './automation/lane-commands';
import { ChannelNames } from './channels/channel-names';
import { LayerCopies } from './channels/layer-copies';
import { StepCopies } from './chain/step-copies';
import { ReferenceOffers } from './editors/reference-offers';
import { StretchCommands } from './stretch/stretch-commands';
import { TuningCommands } from './stretch/tuning-commands';
import { NoteCommands } from './notes/note-commands';
import { PatchCommands } from './patch/patch-commands';
import { PropertyRows } from './editors/property-rows';
import { StepValues } from './editors/step-values';
import { PresetNames } from './presets/preset-names';
import { ZeroCrossings } from './timeline/zero-crossings';

/** What the rooms of the Loft share; none of it remembers anything, so that it may go with the view. */
export const loftProviders: Provider[] = [
  ArrangeCommands,
  LaneCommands,
  ChannelNames,
  LayerCopies,
  StepCopies,
  ReferenceOffers,
  NoteCommands,
  PatchCommands,
  PropertyRows,
  StepValues,
  StretchCommands,
  TuningCommands,
  PresetNames,
  ZeroCrossings,
];
