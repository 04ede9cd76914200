declare module 'wcag-contrast';
