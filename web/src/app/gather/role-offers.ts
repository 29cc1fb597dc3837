import type { Role } from '@tangled-choir/core';
import { roles } from '@tangled-choir/core';
import type { Offer } from '../ui/choice-field';
import { offersOf } from '../ui/choice-field';

/** A role, or none. */
export type ChosenRole = Role | '';

export const roleOffers: readonly Offer<ChosenRole>[] = [{ value: '', name: 'none' }, ...offersOf(roles)];
