import type {
  Delivery,
  DeliveryItem,
  FamilyFile,
  Finding,
  ManifestFile,
  Measurement,
  Moment,
  Project,
  RenderedItem,
  TimbrePrint,
  Writing,
} from '@tangled-choir/core';
import {
  asDecoded,
  checkFamily,
  commentsOf,
  formOf,
  integerSamples,
  isLossless,
  joinSheet,
  levelledAsHeard,
  manifestEntry,
  renderContext,
  refuseEmpty,
  renderItem,
  seedOf,
  timbrePrint,
  wavOf,
} from '@tangled-choir/core';
import type { Codecs, EncodedFile } from './job';
import { defineJob } from './job';
import type { AudioByIdentity } from './render-jobs';
import type { SharedAudio } from './shared-audio';
import { share } from './shared-audio';

/** What of a project decides its files, beside their sounds. */
export type DeliveredProject = Pick<Project, 'name' | 'sources' | 'sampleRate'>;

/** What all files of a delivery have in common. */
interface DeliveryInput {
  readonly delivery: Delivery;
  /** No more of it than a file needs. */
  readonly project: DeliveredProject;
  readonly moment: Moment;
}

/** A file as it was written. */
export interface WrittenFile {
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly entry: ManifestFile;
}

/** What became of an item: what was measured and found, and what was asked for of it. */
export interface DeliveredItem {
  readonly measured: Measurement;
  readonly findings: readonly Finding[];
  /** How a sibling is heard, for comparing it with the others. */
  readonly print?: TimbrePrint;
  readonly file?: WrittenFile;
  /** For a sheet, which is made of all items. */
  readonly audio?: SharedAudio;
}

/** Renders and checks one item of a delivery; `give` says what is wanted beside what was found. */
export const deliver = defineJob<
  DeliveryInput & {
    readonly item: DeliveryItem;
    readonly audio: AudioByIdentity;
    readonly treated?: AudioByIdentity;
    readonly give: 'findings' | 'file' | 'audio';
  },
  DeliveredItem
>({
  async run({ item, delivery, project, moment, audio, treated, give }, { progress, codecs }) {
    const context = { ...renderContext(project, audio), ...(treated && { treated }) };
    const rendered = renderItem(item, delivery, context, { progress });
    const isEmpty = rendered.measured.frames === 0;
    const isMember = item.sibling !== undefined && item.stem === undefined && !isEmpty;
    const found = ({ measured, findings }: RenderedItem): DeliveredItem => ({
      measured,
      findings,
      ...(isMember && { print: timbrePrint(rendered.audio) }),
    });
    if (give === 'audio') return { ...found(rendered), audio: share(rendered.audio) };
    // What becomes of peaks in a lossy format is only known when it is coded.
    if (give === 'findings' && (isEmpty || isLossless(delivery.format))) return found(rendered);
    const written = await write({ item, rendered, delivery, project, moment }, codecs);
    return { ...found(written.rendered), ...(give === 'file' && { file: written.file }) };
  },
  movable: ({ file }) => (file ? [file.bytes.buffer] : []),
});

/** What is wrong with files of one family, by their places in the list: all pairs are compared, which takes its time. */
export const compareFamily = defineJob<{ readonly files: readonly FamilyFile[] }, ReadonlyMap<number, readonly Finding[]>>({
  run: ({ files }) => checkFamily(files),
});

/** Joins the rendered items of a sheet, in the order of `items`, and writes its one file. */
export const deliverSheet = defineJob<
  DeliveryInput & {
    readonly sheet: DeliveryItem;
    readonly items: readonly Pick<DeliveryItem, 'key' | 'of' | 'loops'>[];
    readonly takes: readonly SharedAudio[];
  },
  { readonly file: WrittenFile; readonly rendered: Pick<RenderedItem, 'measured' | 'findings'> }
>({
  async run({ sheet, items, takes, delivery, project, moment }, { codecs }) {
    const planar = takes.map(({ sampleRate, channels }) => ({ sampleRate, channels: [...channels] }));
    const { rendered, parts } = joinSheet(items, planar, delivery);
    const written = await write({ item: sheet, rendered, delivery, project, moment }, codecs);
    const { bytes, entry } = written.file;
    const { measured, findings } = written.rendered;
    return { file: { bytes, entry: { ...entry, parts } }, rendered: { measured, findings } };
  },
  movable: ({ file }) => [file.bytes.buffer],
});

/** How often a file is coded until what is decoded lies where it was asked for. */
const mostTries = 4;

async function write(writing: Writing, codecs: Codecs): Promise<{ readonly file: WrittenFile; readonly rendered: RenderedItem }> {
  refuseEmpty(writing);
  const { item, delivery } = writing;
  let coded = writing.rendered;
  for (let tries = 1; ; tries++) {
    const { bytes, heard } = await encode({ ...writing, rendered: coded }, codecs);
    const rendered = heard ? asDecoded(coded, { sampleRate: coded.audio.sampleRate, channels: [...heard] }, item, delivery) : coded;
    // What was turned up may come out too high: after the first try it only goes down.
    const turned = heard && tries < mostTries ? levelledAsHeard(coded, rendered, item, delivery, tries > 1) : undefined;
    if (!turned) return { file: { bytes, entry: manifestEntry({ ...writing, rendered }, bytes) }, rendered };
    coded = turned;
  }
}

async function encode(writing: Writing, codecs: Codecs): Promise<EncodedFile> {
  const { format, sampleRate, encoding, bitrate } = formOf(writing.delivery);
  const { channels } = writing.rendered.audio;
  if (format === 'wav') return { bytes: wavOf(writing) };
  const comments = commentsOf(writing);
  if (format === 'flac') {
    const bits = encoding === '16' ? 16 : 24;
    return codecs.encodeFile({ format, sampleRate, channelCount: channels.length, bits, samples: integerSamples(writing), comments });
  }
  return codecs.encodeFile({ format, sampleRate, channels, bitrate, comments, serial: seedOf('stream', writing.item.recipe) });
}
