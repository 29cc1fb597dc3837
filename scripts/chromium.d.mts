export const chromiumPath: string;
export const chromiumArguments: string[];
export function ensureChromium(): void;
