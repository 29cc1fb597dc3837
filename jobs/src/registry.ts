import * as archiveJobs from './archive-jobs';
import * as conductJobs from './conduct-jobs';
import * as deliveryJobs from './delivery-jobs';
import * as familyJobs from './family-jobs';
import * as importJobs from './import-jobs';
import type { Job } from './job';
import * as makeJobs from './make-jobs';
import * as pictureJobs from './picture-jobs';
import * as recordingJobs from './recording-jobs';
import * as renderJobs from './render-jobs';

const { importFile, importDecoded, importTake, unzip } = importJobs;
const { readRanges, overview, describe, spectrogram, meanSpectrum, landing, attacks, pitchTrack, soundingParts, cut, findLoops, joinLoop } =
  recordingJobs;
const { sibling, whatDiffers, take, treat, treatPiece, chooseMethod, strain, outputMatch, seating, freeze, match, movie, print } =
  renderJobs;
const { packArchive, openArchive, overviews, zip, zipBlobs, hash } = archiveJobs;
const { deliver, deliverSheet, compareFamily } = deliveryJobs;
const { recordPerformance } = conductJobs;
const { recipes, familyMap, fire } = familyJobs;
const { motion } = pictureJobs;
const { make, mimic, takeModes } = makeJobs;

/** Every job by the name that messages call it by. */
export const jobs = {
  importFile,
  importDecoded,
  importTake,
  unzip,
  readRanges,
  overview,
  describe,
  spectrogram,
  meanSpectrum,
  landing,
  attacks,
  pitchTrack,
  soundingParts,
  cut,
  findLoops,
  joinLoop,
  sibling,
  whatDiffers,
  take,
  treat,
  treatPiece,
  chooseMethod,
  strain,
  outputMatch,
  seating,
  freeze,
  match,
  movie,
  deliver,
  deliverSheet,
  compareFamily,
  print,
  recordPerformance,
  recipes,
  familyMap,
  fire,
  packArchive,
  openArchive,
  overviews,
  zip,
  zipBlobs,
  hash,
  motion,
  make,
  mimic,
  takeModes,
};

export type JobName = keyof typeof jobs;
export type JobInput<N extends JobName> = (typeof jobs)[N] extends Job<infer Input, infer _Output, infer _News> ? Input : never;
export type JobOutput<N extends JobName> = (typeof jobs)[N] extends Job<infer _Input, infer Output, infer _News> ? Output : never;
export type JobNews<N extends JobName> = (typeof jobs)[N] extends Job<infer _Input, infer _Output, infer News> ? News : never;
