import type { ApplicationConfig } from '@angular/core';
import {
  inject,
  isDevMode,
  provideBrowserGlobalErrorListeners,
  provideEnvironmentInitializer,
  provideZonelessChangeDetection,
} from '@angular/core';
import { MAT_TOOLTIP_DEFAULT_OPTIONS } from '@angular/material/tooltip';
import { provideRouter, RouteReuseStrategy, withComponentInputBinding, withNavigationErrorHandler } from '@angular/router';
import { provideServiceWorker } from '@angular/service-worker';
import { routes } from './app.routes';
import { FrameOfItsProject } from './frame/frame-of-its-project';
import { tellNotOpened } from './frame/not-opened';
import { OwnCopy } from './own-copy';
import { registerIcons } from './ui/icons';

export const appConfig: ApplicationConfig = {
  providers: [
    provideBrowserGlobalErrorListeners(),
    provideZonelessChangeDetection(),
    provideRouter(routes, withComponentInputBinding(), withNavigationErrorHandler(tellNotOpened)),
    provideServiceWorker('ngsw-worker.js', { enabled: !isDevMode(), registrationStrategy: 'registerWhenStable:5000' }),
    provideEnvironmentInitializer(() => inject(OwnCopy).watch()),
    { provide: RouteReuseStrategy, useClass: FrameOfItsProject },
    provideEnvironmentInitializer(registerIcons),
    {
      provide: MAT_TOOLTIP_DEFAULT_OPTIONS,
      useValue: { showDelay: 500, hideDelay: 0, touchendHideDelay: 0, disableTooltipInteractivity: true },
    },
  ],
};
