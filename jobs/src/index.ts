/** Everything that the application, the command line and the server may use of the jobs. */
export type { Codecs, Movie } from './job';
export type { FrameRange, SharedAudio } from './shared-audio';
export { share } from './shared-audio';
export type { StoredRecording, StoredSource } from './stored';
export type { ImportedFile, ImportPreview } from './import-jobs';
export { isSoundFile } from './import-jobs';
export type { StoredLoop } from './recording-jobs';
export type { MeasuredFamily } from './family-jobs';
export type { AudioByIdentity, RenderInput, SiblingAudio, SoundInput, StoredPrint } from './render-jobs';
export type { JobInput, JobName, JobNews, JobOutput } from './registry';
export { jobs } from './registry';
export type { JobAnswer, JobMessage } from './run-job';
export { runJob } from './run-job';
export type { JobOptions, JobStatus, JobWorker, SpawnWorker } from './pool';
export { FormatUnknown, JobCancelled, JobRefused, WorkerPool } from './pool';
export type { WantedTreatment } from './treatments';
export { makeTreatments, wantedTreatments } from './treatments';
