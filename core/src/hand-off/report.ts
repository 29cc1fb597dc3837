import type { Measurement } from '../analysis/loudness/measure';
import { writeCsv } from '../formats/csv-write';
import type { Finding } from './pre-flight';

/** What a report tells of one file. */
export interface ReportRow {
  readonly delivery: string;
  readonly sound: string;
  readonly file: string;
  /** `WAV 24 bit, 48 kHz, stereo` */
  readonly form: string;
  readonly recipe: string;
  readonly measured: Pick<Measurement, 'seconds' | 'integratedLufs' | 'truePeakDbtp'>;
  readonly findings: readonly Pick<Finding, 'severity' | 'text'>[];
}

/** The report as a table for spreadsheets; levels of silence are empty. */
export function reportCsv(rows: readonly ReportRow[]): string {
  const head = ['delivery', 'sound', 'file', 'form', 'seconds', 'LUFS', 'dBTP', 'recipe', 'faults', 'advice'];
  const of = (row: ReportRow, severity: Finding['severity']): string =>
    row.findings
      .filter((finding) => finding.severity === severity)
      .map(({ text }) => text)
      .join(' ');
  return writeCsv([
    head,
    ...rows.map((row) => {
      const { delivery, sound, file, form, measured, recipe } = row;
      const { seconds, integratedLufs, truePeakDbtp } = measured;
      const rounded = (value: number, digits: number): number => Number(value.toFixed(digits));
      const levels = [rounded(integratedLufs, 2), rounded(truePeakDbtp, 2)];
      return [delivery, sound, file, form, rounded(seconds, 4), ...levels, recipe, of(row, 'fault'), of(row, 'advice')];
    }),
  ]);
}

/** The report as a page that needs nothing else. */
export function reportHtml(project: string, made: string, rows: readonly ReportRow[]): string {
  const faults = rows.filter(({ findings }) => findings.some(({ severity }) => severity === 'fault')).length;
  const verdict = faults === 0 ? 'No file has a fault.' : faults === 1 ? 'One file has a fault.' : `${faults} files have faults.`;
  const level = (value: number): string => (Number.isFinite(value) ? value.toFixed(1).replace('-', '−') : '');
  const body = rows.map(({ delivery, sound, file, form, measured, recipe, findings }) => {
    const found = findings.map(({ severity, text }) => `<li class="${severity}">${escaped(text)}</li>`).join('');
    const cells = [delivery, sound, file, form].map((text) => `<td>${escaped(text)}</td>`).join('');
    const numbers = [measured.seconds.toFixed(3), level(measured.integratedLufs), level(measured.truePeakDbtp)];
    return `<tr>${cells}${numbers.map((text) => `<td class="n">${text}</td>`).join('')}<td>${escaped(recipe)}</td><td>${found && `<ul>${found}</ul>`}</td></tr>`;
  });
  const head = ['Delivery', 'Sound', 'File', 'Form', 'Seconds', 'LUFS', 'dBTP', 'Recipe', 'Found'].map((text) => `<th>${text}</th>`);
  return `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<title>${escaped(project)}: delivery report</title>
<style>
body { font: 14px/1.45 system-ui, sans-serif; margin: 2rem; color: #1d2226; background: #fff }
table { border-collapse: collapse; width: 100% }
th, td { text-align: left; vertical-align: top; padding: .35rem .6rem; border-bottom: 1px solid #d8dde0 }
.n { text-align: right; font-variant-numeric: tabular-nums }
ul { margin: 0; padding-left: 1.1em }
.fault { color: #a12c1c }
</style>
<h1>${escaped(project)}</h1>
<p>${rows.length === 1 ? '1 file' : `${rows.length} files`}, ${escaped(made)}. ${verdict}</p>
<table>
<tr>${head.join('')}</tr>
${body.join('\n')}
</table>
</html>
`;
}

function escaped(text: string): string {
  return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');
}
