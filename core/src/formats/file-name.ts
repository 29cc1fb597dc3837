/** Words that a delivery's naming template may contain in braces. */
export const namingFields = ['project', 'sound', 'number', 'seed', 'recipe', 'role', 'rate', 'bits'] as const;
export type NamingField = (typeof namingFields)[number];

/** Longest file name without its ending; leaves room for “.wav” within the 255 bytes that file systems allow. */
const longestName = 200;
const reservedNames = /^(con|prn|aux|nul|com\d|lpt\d)$/i;

/**
 * Fills a naming template such as `{project}_{sound}_{number}`. Unknown fields stay as typed, so that a typing error shows.
 * The result is safe as a file name on every system: no slashes, quotes or control characters, no leading or trailing dots.
 */
export function fillTemplate(template: string, fields: Readonly<Record<NamingField, string>>): string {
  const filled = template.replace(/\{([a-z]+)\}/g, (whole, field: string) => {
    const known = namingFields.find((name) => name === field);
    return known ? fields[known] : whole;
  });
  return safeFileName(filled);
}

/** Makes any text a file name: letters, digits and emoji stay, blanks become dashes, what file systems refuse is left out. */
export function safeFileName(text: string): string {
  const clean = text
    .normalize('NFC')

    .replace(/[\u0000-\u001f\u007f<>:"/\\|?*'`“”„]/g, '')
    .replace(/\s+/g, '-')
    .replace(/^[.-]+|[.-]+$/g, '');
  let short = '';
  let bytes = 0;
  for (const character of clean) {
    bytes += character.codePointAt(0)! < 0x80 ? 1 : 4;
    if (bytes > longestName) break;
    short += character;
  }
  if (short === '') return 'sound';
  return reservedNames.test(short) ? `${short}_` : short;
}
