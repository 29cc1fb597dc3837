/** Words that a delivery's naming template may contain in braces. */
export const namingFields = [
  'project',
  'sound',
  'number',
  'variant',
  'stem',
  'seed',
  'recipe',
  'role',
  'rate',
  'bits',
  'delivery',
] as const;
export type NamingField = (typeof namingFields)[number];

/** Longest file name without its ending; leaves room for “.wav” within the 255 bytes that file systems allow. */
const longestName = 200;
/** Whatever ending stands behind them. */
const reservedNames = /^(con|prn|aux|nul|conin\$|conout\$|com[\d¹²³]|lpt[\d¹²³])(?=\.|$)/i;

/** How names are written: their letters, and how many characters the last part of a path has at most. */
export interface NamingStyle {
  readonly letters: 'as typed' | 'lower' | 'upper';
  readonly longest: number;
}

/**
 * Fills a naming template such as `{project}/{sound}_{number}`. Unknown fields stay as typed, so that a typing error shows. Slashes of the template
 * part folders, those of what it is filled with do not. Each part is safe as a file name on every system: no quotes or control characters, no
 * leading or trailing dots, so that no path leads out of its folder. What is too long loses the middle of its name and keeps its end, which tells files apart.
 */
export function fillTemplate(template: string, fields: Readonly<Record<NamingField, string>>, { letters, longest }: NamingStyle): string {
  const parts = template.split('/').filter((part, index, all) => index === all.length - 1 || part.trim() !== '');
  return parts
    .map((part) => {
      const filled = part.replace(/\{([a-z]+)\}/g, (whole, field: string) => {
        const known = namingFields.find((name) => name === field);
        return known ? fields[known] : whole;
      });
      const safe = shortened(safeFileName(filled), longest);
      return letters === 'lower' ? safe.toLowerCase() : letters === 'upper' ? safe.toUpperCase() : safe;
    })
    .join('/');
}

/** Characters at the end of a name that stay when it is too long: a number, and what parts it from the rest. */
const keptEnd = 4;

function shortened(name: string, longest: number): string {
  const characters = [...name];
  if (characters.length <= longest) return name;
  return safeFileName([...characters.slice(0, longest - keptEnd), ...characters.slice(-keptEnd)].join(''));
}

/** Makes any text a file name: letters, digits and emoji stay, blanks become dashes, what file systems refuse is left out. */
export function safeFileName(text: string): string {
  const clean = text
    .normalize('NFC')
    // Neither what is not seen, such as marks that turn the direction of writing, nor halves of characters.
    .replace(/[\p{Cc}\p{Cs}\u061c\u200b\u200e\u200f\u202a-\u202e\u2060-\u2069\ufeff]/gu, '')
    .replace(/[<>:"/\\|?*'`“”„]/g, '')
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
  return short.replace(reservedNames, '$1_');
}
