import { Injectable, signal } from '@angular/core';

/** Level of the loudspeakers in dB; it belongs to the room that one sits in, not to a project. */
@Injectable({ providedIn: 'root' })
export class MonitorLevel {
  readonly level = signal(0);
}
