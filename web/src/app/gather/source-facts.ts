import type { RecordingFacts, Source } from '@tangled-choir/core';
import { frequencyToNote } from '@tangled-choir/core';
import { formatPitch } from '../ui/pitch-line';
import { formatDuration, formatLevel, formatPlace, signed } from '../ui/quantity';

function frequencyText(frequency: number): string {
  return frequency >= 1_000 ? `${(frequency / 1_000).toFixed(1)} kHz` : `${frequency.toFixed(0)} Hz`;
}

/** What is measured and known of a source, for reading: names and values. */
export function sourceFacts(source: Source, facts: RecordingFacts | undefined, sampleRate: number): [string, string][] {
  const { origin, channels, frames } = source;
  const sides = channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`;
  const rows: [string, string][] = [['Length', formatDuration(frames / sampleRate, 3, 3)]];
  if (facts) {
    const { measured, character } = facts;
    const pitch = character.pitch !== undefined && character.pitchConfidence > 0.3 ? character.pitch : undefined;
    rows.push(
      ['Loudness', `${formatLevel(measured.integratedLufs, 'LUFS')}, peak ${formatLevel(measured.truePeakDbtp, 'dBTP')}`],
      ['Noise floor', formatLevel(character.noiseFloorDbfs, 'dBFS')],
      ['Attack', `${attackText(character.attackTime)} at ${formatDuration(character.attackAt, 3, 3)}`],
      ['Brightness', frequencyText(character.brightness)],
      [
        'Pitch',
        pitch === undefined ? 'none (noisy)' : `${formatPitch(frequencyToNote(pitch))} (${Math.round(character.pitchConfidence * 100)} %)`,
      ],
      ['Steadiness', `${Math.round(character.stationarity * 100)} %`],
    );
    if (channels === 2) {
      const side =
        Math.abs(character.leansLeft) < 0.1
          ? 'centred'
          : `leans ${character.leansLeft > 0 ? 'left' : 'right'} ${Math.abs(character.leansLeft).toFixed(1)} dB`;
      rows.push(['Stereo', `${character.correlation.toFixed(2)}, ${side}`]);
    }
    rows.push(['DC offset', `${signed(measured.dcOffset * 100, 2)} %`]);
  }
  rows.push(['Stored as', `${sampleRate / 1_000} kHz ${sides}`], ['Came as', `${origin.sampleRate / 1_000} kHz, ${origin.encoding}`]);
  if (origin.date) rows.push(['Recorded', origin.date]);
  if (origin.cutFrom)
    rows.push(['Cut from', `${origin.cutFrom.name}, ${formatPlace(origin.cutFrom.from)}–${formatPlace(origin.cutFrom.to)}`]);
  if (origin.print) {
    const { part, recipe, sources } = origin.print;
    rows.push(['Printed from', `${recipe.name}, ${part}`], ['Sources', sources.map(({ name }) => name).join(', ')]);
  }
  if (source.loop) rows.push(['Loop', `${source.loop.from.toFixed(3)}–${source.loop.to.toFixed(3)} s`]);
  return rows;
}

function attackText(seconds: number): string {
  return seconds < 1 ? `${(seconds * 1_000).toFixed(1)} ms` : formatDuration(seconds, 1);
}
