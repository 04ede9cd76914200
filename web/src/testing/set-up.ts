import { setupZonelessTestEnv } from 'jest-preset-angular/setup-env/zoneless/index.mjs';

setupZonelessTestEnv({ errorOnUnknownElements: true, errorOnUnknownProperties: true });
// Nothing is laid out here, so there is nowhere to scroll.
Element.prototype.scrollIntoView = () => undefined;
