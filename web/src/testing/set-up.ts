import { setupZonelessTestEnv } from 'jest-preset-angular/setup-env/zoneless/index.mjs';

setupZonelessTestEnv({ errorOnUnknownElements: true, errorOnUnknownProperties: true });
// Nothing is laid out here, so there is nowhere to scroll.
Element.prototype.scrollIntoView = () => undefined;

// Charts follow the size of their place, which nothing has here.
globalThis.ResizeObserver ??= class {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
};
// Nor is anything drawn: charts measure their words by guess.
HTMLCanvasElement.prototype.getContext = (() => null) as typeof HTMLCanvasElement.prototype.getContext;
