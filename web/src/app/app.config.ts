import type { ApplicationConfig } from '@angular/core';
import { inject, provideBrowserGlobalErrorListeners, provideEnvironmentInitializer, provideZonelessChangeDetection } from '@angular/core';
import { MAT_TOOLTIP_DEFAULT_OPTIONS } from '@angular/material/tooltip';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { routes } from './app.routes';
import { DocumentStore } from './state/document.store';
import { registerIcons } from './ui/icons';

export const appConfig: ApplicationConfig = {
  providers: [
    provideBrowserGlobalErrorListeners(),
    provideZonelessChangeDetection(),
    provideRouter(routes, withComponentInputBinding()),
    provideEnvironmentInitializer(registerIcons),
    provideEnvironmentInitializer(() => {
      const document = inject(DocumentStore);
      // The last moments before the page goes away must not be lost.
      addEventListener('pagehide', () => void document.flush());
      addEventListener('visibilitychange', () => void document.flush());
    }),
    {
      provide: MAT_TOOLTIP_DEFAULT_OPTIONS,
      useValue: { showDelay: 500, hideDelay: 0, touchendHideDelay: 0, disableTooltipInteractivity: true },
    },
  ],
};
