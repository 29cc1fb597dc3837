import { InjectionToken } from '@angular/core';
import { ChoirDatabase } from './database';

export const CHOIR_DATABASE = new InjectionToken<ChoirDatabase>('ChoirDatabase', {
  providedIn: 'root',
  factory: () => new ChoirDatabase(),
});
