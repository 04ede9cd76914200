declare module 'commonmark-spec';
