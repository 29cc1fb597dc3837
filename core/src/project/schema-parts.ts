import * as z from 'zod';

/** What many parts of the document are made of. */
export const id = z.string().regex(/^[A-Za-z0-9-]{1,64}$/, 'is not an id of letters, digits and dashes');
export const name = z.string().min(1, 'is empty').max(300, 'is longer than 300 characters');
export const hash = z.string().regex(/^[0-9a-f]{64}$/, 'is not a SHA-256 hash');
export const time = z.number().min(0).max(86_400);
export const gain = z.number().min(-96).max(36);
export const pan = z.number().min(-1).max(1);
