import { inject, provideEnvironmentInitializer } from '@angular/core';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import {
  mdiArrowDown,
  mdiArrowUp,
  mdiCheck,
  mdiChevronLeft,
  mdiChevronRight,
  mdiClose,
  mdiMenu,
} from '@mdi/js';

/** The icons that the screens use, by the name that `mat-icon` knows them by. */
const ICONS = {
  check: mdiCheck,
  close: mdiClose,
  down: mdiArrowDown,
  earlier: mdiChevronLeft,
  later: mdiChevronRight,
  menu: mdiMenu,
  up: mdiArrowUp,
};

export const provideIcons = () =>
  provideEnvironmentInitializer(() => {
    const registry = inject(MatIconRegistry);
    const sanitizer = inject(DomSanitizer);
    for (const [name, path] of Object.entries(ICONS))
      registry.addSvgIconLiteral(
        name,
        sanitizer.bypassSecurityTrustHtml(`<svg viewBox="0 0 24 24"><path d="${path}"/></svg>`),
      );
  });
