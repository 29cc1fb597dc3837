import type { Delivery, FrameRate, Project } from '../project/schema';
import { frameTime, framesPerSecond } from '../project/time/timecode';
import { formOf } from './form';
import type { DeliveryItem } from './plan';
import type { RenderedItem } from './render-item';

/** What an iXML document tells beside what other chunks do: the clock of the picture, and which channel is what (iXML specification 1.61). */
export function ixmlOf(item: DeliveryItem, { audio, start }: RenderedItem, delivery: Delivery, project: Pick<Project, 'name'>): string {
  const { clock } = item.sound;
  const { sampleRate, encoding } = formOf(delivery);
  const samples = Math.round(frameTime(clock.startFrame, clock.frameRate) * sampleRate) + start;
  const channels = audio.channels.length;
  const names = channels === 1 ? ['Mono'] : channels === 2 ? ['Left', 'Right'] : audio.channels.map((_, index) => `Channel ${index + 1}`);
  const tracks = names.map(
    (name, index) =>
      `<TRACK><CHANNEL_INDEX>${index + 1}</CHANNEL_INDEX><INTERLEAVE_INDEX>${index + 1}</INTERLEAVE_INDEX><NAME>${name}</NAME></TRACK>`,
  );
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<BWFXML>',
    '<IXML_VERSION>1.61</IXML_VERSION>',
    `<PROJECT>${escaped(project.name)}</PROJECT>`,
    `<SCENE>${escaped(item.of.name)}</SCENE>`,
    `<TAKE>${item.sibling === undefined ? 'original' : item.sibling + 1}</TAKE>`,
    `<NOTE>${escaped(`recipe ${item.recipe}${item.stem === undefined ? '' : `; stem ${item.stem}`}`)}</NOTE>`,
    '<SPEED>',
    `<TIMECODE_RATE>${fraction(clock.frameRate)}</TIMECODE_RATE>`,
    `<TIMECODE_FLAG>${clock.frameRate.endsWith('drop') ? 'DF' : 'NDF'}</TIMECODE_FLAG>`,
    `<FILE_SAMPLE_RATE>${sampleRate}</FILE_SAMPLE_RATE>`,
    `<AUDIO_BIT_DEPTH>${encoding === '32f' ? 32 : encoding}</AUDIO_BIT_DEPTH>`,
    `<TIMESTAMP_SAMPLE_RATE>${sampleRate}</TIMESTAMP_SAMPLE_RATE>`,
    `<TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI>${Math.floor(samples / 2 ** 32)}</TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI>`,
    `<TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO>${samples % 2 ** 32}</TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO>`,
    '</SPEED>',
    `<TRACK_LIST><TRACK_COUNT>${channels}</TRACK_COUNT>${tracks.join('')}</TRACK_LIST>`,
    '</BWFXML>',
    '',
  ].join('\n');
}

/** Frames of a second as iXML has them: `24000/1001`, `25/1`. */
function fraction(rate: FrameRate): string {
  const exact = framesPerSecond(rate);
  return Number.isInteger(exact) ? `${exact}/1` : `${Math.round(exact * 1_001)}/1001`;
}

function escaped(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');
}
