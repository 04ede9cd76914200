import { provideHttpClient, withFetch, withInterceptors } from '@angular/common/http';
import { inject, isDevMode, provideZonelessChangeDetection, type ApplicationConfig } from '@angular/core';
import { MAT_FORM_FIELD_DEFAULT_OPTIONS } from '@angular/material/form-field';
import { MAT_SELECT_CONFIG } from '@angular/material/select';
import { MAT_SNACK_BAR_DEFAULT_OPTIONS } from '@angular/material/snack-bar';
import { provideServiceWorker } from '@angular/service-worker';
import {
  provideRouter,
  withComponentInputBinding,
  withInMemoryScrolling,
  withPreloading,
} from '@angular/router';
import { timer } from 'rxjs';
import { blogInterceptor } from './api/blog-choice';
import { clockInterceptor } from './api/clock';
import { problemInterceptor } from './api/problem.interceptor';
import { SessionService } from './accounts/session.service';
import { routes } from './app.routes';
import { provideIcons } from './ui/icons';
import { WhenIdle } from './when-idle';
import { WALL_CALENDAR, type WallCalendar } from './ui/fields/wall-calendar';

/** When the first screen is in use, in ms. */
const SETTLED_MS = 30_000;

export const config: ApplicationConfig = {
  providers: [
    provideZonelessChangeDetection(),
    provideHttpClient(withFetch(), withInterceptors([blogInterceptor, clockInterceptor, problemInterceptor])),
    provideIcons(),
    // What it fetches ahead would be in the way of the first post that somebody opens, for seconds. On the page that
    // works without a connection it is wanted at once.
    provideServiceWorker('ngsw-worker.js', {
      enabled: !isDevMode(),
      registrationStrategy: () => timer(location.pathname.endsWith('/capture') ? 0 : SETTLED_MS),
    }),
    provideRouter(
      routes,
      withComponentInputBinding(),
      withPreloading(WhenIdle),
      withInMemoryScrolling({ scrollPositionRestoration: 'enabled' }),
    ),
    {
      provide: WALL_CALENDAR,
      useFactory: (): WallCalendar => {
        const session = inject(SessionService);
        return { today: () => session.today(), firstWeekday: () => session.blog()?.firstWeekday ?? 1 };
      },
    },
    {
      provide: MAT_FORM_FIELD_DEFAULT_OPTIONS,
      useValue: { appearance: 'outline', subscriptSizing: 'dynamic' },
    },
    { provide: MAT_SELECT_CONFIG, useValue: { hideSingleSelectionIndicator: true, panelWidth: null } },
    {
      provide: MAT_SNACK_BAR_DEFAULT_OPTIONS,
      useValue: { duration: 8000, horizontalPosition: 'start', verticalPosition: 'bottom' },
    },
  ],
};
