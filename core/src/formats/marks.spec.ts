import fc from 'fast-check';
import type { Clock, Mark } from '../project/schema';
import { markColours, stages } from '../project/schema';
import { readMarksCsv, readMarksVtt, writeMarksCsv, writeMarksVtt } from './marks';

const clock: Clock = { frameRate: '25', startFrame: 90_000 };
const anyMark = fc.record(
  {
    name: fc.string({ minLength: 1, maxLength: 40 }).filter((name) => name.trim() === name && name !== ''),
    time: fc.nat(80_000_000).map((ms) => ms / 1_000),
    stage: fc.constantFrom(...stages),
    colour: fc.constantFrom(...markColours),
  },
  { requiredKeys: ['name', 'time'] },
);

const withIds = (marks: Omit<Mark, 'id'>[]): Mark[] => marks.map((mark, i) => ({ ...mark, id: `mark-${i}` }));

describe('marks in files', () => {
  it('come back from CSV as they were, quotes, commas and line breaks included', () => {
    fc.assert(
      fc.property(fc.array(anyMark, { maxLength: 8 }), (marks) => {
        fc.pre(marks.every(({ name }) => !/[\r;\t]/.test(name) || /[",\n]/.test(name)));
        expect(readMarksCsv(writeMarksCsv(withIds(marks), clock), clock)).toEqual(marks);
      }),
    );
  });

  it('are no formulas in a spreadsheet, and come back without their guard', () => {
    const names = ['=HYPERLINK("x")', '+1', '-2', '@x', "'quoted'", '=1,2', "'=x", "''+y"];
    const marks = names.map((name, i) => ({ name, time: i }));
    const text = writeMarksCsv(withIds(marks), clock);
    for (const line of text.split('\r\n').slice(1)) expect(line).not.toMatch(/,"?[=+\-@]/);
    expect(readMarksCsv(text, clock)).toEqual(marks);
  });

  it('keep to a line of WebVTT, whatever they are called', () => {
    const marks = withIds([
      { name: 'Crack\n\n00:00:01.000 --> 00:00:02.000\r\nNOTE x', time: 0.5 },
      { name: 'Slab\u2028two', time: 2 },
    ]);
    const text = writeMarksVtt(marks, 4);
    expect(text.split('\n').filter((line) => line.includes('-->'))).toHaveLength(2);
    expect(readMarksVtt(text).map(({ name }) => name)).toEqual(['Crack 00:00:01.000 --> 00:00:02.000 NOTE x', 'Slab two']);
  });

  it('are found by timecode where there are no seconds', () => {
    expect(readMarksCsv('name;timecode\nCrack;01:00:02:10\n', clock)).toEqual([{ name: 'Crack', time: 2.4 }]);
  });

  it('come back from WebVTT to the millisecond', () => {
    const marks = withIds([
      { name: 'Crack <ice> & more', time: 0.4 },
      { name: 'Slab lets go', time: 3_725.125 },
    ]);
    const text = writeMarksVtt(marks, 4_000);
    expect(text).toContain('01:02:05.125 --> 01:06:40.000');
    expect(readMarksVtt(text)).toEqual(marks.map(({ name, time }) => ({ name, time })));
    expect(readMarksVtt('WEBVTT\n\n1\n02:03.500 --> 02:04.000\n<b>Hit</b>\n')).toEqual([{ name: 'Hit', time: 123.5 }]);
  });

  it.each([
    ['an empty file', '', 'is empty'],
    ['no time column', 'name\nCrack', 'no column “time”'],
    ['a word for a time', 'time,name\n1,ok\nsoon,Crack', 'line 3: “soon” is not a time'],
    ['an open quotation', 'time,name\n1,"Crack', 'line 2: a quotation mark'],
    ['a negative time', 'time,name\n-1,Crack', 'line 2'],
  ])('are refused from CSV with %s', (_, text, message) => expect(() => readMarksCsv(text, clock)).toThrow(message));

  it('are refused from what is not WebVTT', () => {
    expect(() => readMarksVtt('00:01.000 --> 00:02.000')).toThrow('line 1');
    expect(() => readMarksVtt('WEBVTT\n\nnow --> then\nx')).toThrow('line 3');
  });
});
