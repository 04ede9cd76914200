import { Injectable, signal } from '@angular/core';

export type Theme = 'system' | 'light' | 'dark';
const KEY = 'key-roster.theme';

/** Light, dark, or as the system says; remembered on this device. */
@Injectable({ providedIn: 'root' })
export class ThemeService {
  readonly theme = signal<Theme>((localStorage.getItem(KEY) as Theme | null) ?? 'system');

  constructor() {
    this.apply(this.theme());
  }

  set(theme: Theme): void {
    this.theme.set(theme);
    localStorage.setItem(KEY, theme);
    this.apply(theme);
  }

  private apply(theme: Theme): void {
    if (theme === 'system') delete document.documentElement.dataset['theme'];
    else document.documentElement.dataset['theme'] = theme;
  }
}
