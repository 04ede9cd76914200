import presets from 'jest-preset-angular/presets/index.js';

const angular = presets.createEsmPreset();

// Specs run as ES modules from source; workspaces find each other's source, so no build is needed before a
// test.
const shared = {
  testEnvironment: 'node',
  extensionsToTreatAsEsm: ['.ts'],
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      { jsc: { target: 'es2022', parser: { syntax: 'typescript' } }, module: { type: 'es6' } },
    ],
  },
  moduleNameMapper: {
    '^@keyroster/(core|contract|server|demo|standins)$': '<rootDir>/../$1/src/index.ts',
    '^@keyroster/core/texts$': '<rootDir>/../core/src/texts/index.ts',
    '^@keyroster/core/word-frequency$': '<rootDir>/../core/src/titles/word-frequency.ts',
    '^@keyroster/contract/schemas$': '<rootDir>/../contract/src/schemas.ts',
    '^(\\.{1,2}/.*)\\.js$': '$1',
  },
  transformIgnorePatterns: ['/node_modules/'],
  testMatch: ['<rootDir>/src/**/*.spec.ts'],
};

export default {
  projects: [
    { ...shared, displayName: 'house', rootDir: 'scripts/house', testMatch: ['<rootDir>/*.spec.ts'] },
    { ...shared, displayName: 'core', rootDir: 'core' },
    { ...shared, displayName: 'contract', rootDir: 'contract' },
    { ...shared, displayName: 'demo', rootDir: 'demo' },
    { ...shared, displayName: 'standins', rootDir: 'standins' },
    { ...shared, displayName: 'server', rootDir: 'server' },
    {
      ...shared,
      displayName: 'web',
      rootDir: 'web',
      testEnvironment: 'jsdom',
      setupFilesAfterEnv: ['<rootDir>/src/testing/set-up.ts'],
      moduleFileExtensions: angular.moduleFileExtensions,
      snapshotSerializers: angular.snapshotSerializers,
      transform: {
        '/web/src/.+\\.(ts|html)$': angular.transform['^.+\\.(ts|js|html|svg)$'],
        ...shared.transform,
        '/node_modules/.+\\.mjs$': '<rootDir>/link-packages.mjs',
      },
      moduleNameMapper: {
        ...angular.moduleNameMapper,
        ...shared.moduleNameMapper,
        // In one file instead of over two hundred.
        '^rxjs(/operators)?$': '<rootDir>/../node_modules/rxjs/dist/bundles/rxjs.umd.js',
      },
      // Of the packages, only Angular's and those made with it have something to link.
      transformIgnorePatterns: ['/node_modules/(?!(@angular|ngx-tiptap)/)'],
    },
  ],
  testTimeout: 120_000,
};
