import { inject } from '@angular/core';
import type { NavigationError } from '@angular/router';
import { Router } from '@angular/router';
import { Notices } from '../state/notices';

/** What browsers say of a part of the application that did not arrive. */
const notArrived = /dynamically imported module|module script failed|loading chunk/i;

/** Says that a view could not be opened, and opens it when asked again; the view that was there stays. */
export function tellNotOpened({ error, url }: NavigationError): void {
  const router = inject(Router);
  const message = error instanceof Error ? error.message : String(error);
  const why = notArrived.test(message) ? 'it could not be loaded. Is the server there?' : message;
  inject(Notices).offer(`This view could not be opened: ${why}`, 'Try again', () => void router.navigateByUrl(url));
}
