/**
 * Writes rows as CSV (RFC 4180). A text that a spreadsheet would take for a formula gets an apostrophe in front, which spreadsheets do not show;
 * numbers stay numbers.
 */
export function writeCsv(rows: readonly (readonly (string | number)[])[]): string {
  return rows.map((row) => `${row.map(field).join(',')}\r\n`).join('');
}

function field(value: string | number): string {
  if (typeof value === 'number') return Number.isFinite(value) ? String(value) : '';
  // What begins with such an apostrophe itself gets another one, so that reading takes the right one away.
  const safe = /^'*[=+\-@\t\r]/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
