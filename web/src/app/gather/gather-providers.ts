import type { Provider } from '@angular/core';
import { SpectrogramTiles } from './close-up/spectrogram-tiles';
import { ExportSources } from './export-sources';
import { SourceChoice } from './source-choice';
import { SourceRegions } from './source-regions';

/** What the parts of Gather share. */
export const gatherProviders: Provider[] = [SourceRegions, SourceChoice, ExportSources, SpectrogramTiles];
