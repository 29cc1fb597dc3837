import { writeCsv } from './csv-write';
import { DataError } from '../project/parse';
import type { Clock, Mark } from '../project/schema';
import { markColours, stages } from '../project/schema';
import { formatTimecode, frameTime, parseFrame } from '../project/time/timecode';
import type { Seconds } from '../units';

/** Marks without ids, as files hold them. */
export type NewMarks = Omit<Mark, 'id'>[];

const columns = ['time', 'timecode', 'name', 'stage', 'colour'] as const;
const mostMarks = 10_000;

/** Marks as CSV (RFC 4180): seconds, timecode, name, stage and colour, with a header. */
export function writeMarksCsv(marks: readonly Mark[], clock: Clock): string {
  return writeCsv([
    [...columns],
    ...marks.map((mark) => [mark.time.toFixed(6), formatTimecode(mark.time, clock), mark.name, mark.stage ?? '', mark.colour ?? '']),
  ]);
}

/**
 * Reads marks from CSV with a header: a column “time” in seconds or “timecode”, and a column “name”; stage and colour if they are there.
 * Throws DataError that names the line.
 */
export function readMarksCsv(text: string, clock: Clock, what = 'The file'): NewMarks {
  const [header, ...rows] = parseCsv(text.replace(/^\uFEFF/, ''), what);
  if (!header) throw new DataError(`${what} is empty.`);
  const place = (name: string): number => header.fields.findIndex((field) => field.trim().toLowerCase() === name);
  const [time, timecode, name, stage, colour] = columns.map(place) as [number, number, number, number, number];
  if (time < 0 && timecode < 0) throw new DataError(`${what} has no column “time” or “timecode” in its first line.`);
  if (rows.length > mostMarks) throw new DataError(`${what} has ${rows.length} marks; at most ${mostMarks} can be read.`);
  return rows.map(({ line, fields }, index) => {
    const field = (at: number): string => (at >= 0 ? (fields[at] ?? '').trim() : '');
    const seconds = field(time) !== '' ? Number(field(time)) : timecodeSeconds(field(timecode), clock);
    if (seconds === undefined || !Number.isFinite(seconds) || seconds < 0 || seconds > 86_400)
      throw new DataError(`${what}, line ${line}: “${field(time) || field(timecode)}” is not a time from 0 to 86400 s.`);
    return newMark(withoutGuard(field(name)) || `Mark ${index + 1}`, seconds, field(stage), field(colour));
  });
}

/** The apostrophe that keeps spreadsheets from taking a name for a formula is not part of it. */
function withoutGuard(name: string): string {
  return /^'+[=+\-@\t\r]/.test(name) ? name.slice(1) : name;
}

function timecodeSeconds(text: string, clock: Clock): Seconds | undefined {
  const frame = parseFrame(text, clock.frameRate);
  return frame === undefined ? undefined : frameTime(frame - clock.startFrame, clock.frameRate);
}

function newMark(name: string, time: Seconds, stage: string, colour: string): NewMarks[number] {
  const known = { stage: stages.find((each) => each === stage), colour: markColours.find((each) => each === colour) };
  return {
    name: name.slice(0, 300),
    time,
    ...(known.stage && { stage: known.stage }),
    ...(known.colour && { colour: known.colour }),
  };
}

interface Row {
  readonly line: number;
  readonly fields: string[];
}

function parseCsv(text: string, what: string): Row[] {
  const rows: Row[] = [];
  let fields: string[] = [];
  let field = '';
  let quoted = false;
  let line = 1;
  let began = 1;
  const endRow = (): void => {
    fields.push(field);
    if (fields.some((each) => each.trim() !== '')) rows.push({ line: began, fields });
    fields = [];
    field = '';
    began = line;
  };
  for (let i = 0; i < text.length; i++) {
    const char = text[i]!;
    if (char === '\n') line++;
    if (quoted) {
      if (char !== '"') field += char;
      else if (text[i + 1] === '"') {
        field += '"';
        i++;
      } else quoted = false;
    } else if (char === '"' && field === '') quoted = true;
    else if (char === ',' || char === ';' || char === '\t') {
      fields.push(field);
      field = '';
    } else if (char === '\n') endRow();
    else if (char !== '\r') field += char;
  }
  if (quoted) throw new DataError(`${what}, line ${began}: a quotation mark is never closed.`);
  endRow();
  return rows;
}

const stamp = (time: Seconds): string => {
  const ms = Math.round(time * 1_000);
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${two(Math.floor(ms / 3_600_000))}:${two(Math.floor(ms / 60_000) % 60)}:${two(Math.floor(ms / 1_000) % 60)}.${String(ms % 1_000).padStart(3, '0')}`;
};

/** Marks as WebVTT chapters: each lasts until the next one. */
export function writeMarksVtt(marks: readonly Mark[], end: Seconds): string {
  const cues = marks.map((mark, i) => {
    const until = Math.max(mark.time + 0.001, marks[i + 1]?.time ?? end);
    // A cue ends with an empty line, and one with an arrow begins another.
    const line = mark.name.replace(/\s*[\r\n\u2028\u2029]+\s*/g, ' ').trim();
    const name = line.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;') || `Mark ${i + 1}`;
    return `${stamp(mark.time)} --> ${stamp(until)}\n${name}\n`;
  });
  return `WEBVTT\n\n${cues.join('\n')}`;
}

/** Reads the beginnings of WebVTT cues as marks. Throws DataError that names the line. */
export function readMarksVtt(text: string, what = 'The file'): NewMarks {
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/);
  if (!/^WEBVTT([ \t]|$)/.test(lines[0] ?? '')) throw new DataError(`${what}, line 1: a WebVTT file begins with WEBVTT.`);
  const marks: NewMarks = [];
  for (let i = 1; i < lines.length; i++) {
    if (!lines[i]!.includes('-->')) continue;
    const match = /^\s*(?:(\d{2,}):)?(\d{2}):(\d{2})\.(\d{3})\s*-->/.exec(lines[i]!);
    if (!match) throw new DataError(`${what}, line ${i + 1}: “${lines[i]!.trim()}” is not a WebVTT time.`);
    const time = Number(match[1] ?? 0) * 3_600 + Number(match[2]) * 60 + Number(match[3]) + Number(match[4]) / 1_000;
    if (time > 86_400) throw new DataError(`${what}, line ${i + 1}: the time is beyond 24 hours.`);
    const name = (lines[i + 1] ?? '')
      .replace(/<[^>]*>/g, '')
      .replaceAll('&lt;', '<')
      .replaceAll('&gt;', '>')
      .replaceAll('&amp;', '&');
    marks.push({ name: name.trim().slice(0, 300) || `Mark ${marks.length + 1}`, time });
    if (marks.length > mostMarks) throw new DataError(`${what} has more than ${mostMarks} marks.`);
  }
  return marks;
}
