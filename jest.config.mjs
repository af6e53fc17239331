export default {
  testEnvironment: 'node',
  roots: ['<rootDir>/test'],
  transform: { '^.+\\.ts$': '<rootDir>/scripts/jest-transform.cjs' },
  // Sources name their neighbours as Node wants them (./x.js); the tests run on ./x.ts.
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  testTimeout: 30_000,
  // Most of the time goes by in programs that the tests start; with Jest's own number one of two cores would wait.
  maxWorkers: '100%',
};
