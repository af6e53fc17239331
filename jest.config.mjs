const shared = {
  testEnvironment: 'node',
  transform: { '^.+\\.ts$': '<rootDir>/scripts/jest-transform.cjs' },
  // Sources name their neighbours as Node wants them (./x.js); the tests run on ./x.ts.
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
};
const long = '<rootDir>/test/long';
export default {
  projects: [
    { ...shared, displayName: 'quick', roots: ['<rootDir>/test'], testPathIgnorePatterns: [long] },
    // What takes long by nature: kills, random input, other languages and validators. At a desk a small part of it runs.
    { ...shared, displayName: 'long', roots: [long] },
  ],
  testTimeout: 30_000,
  // Most of the time goes by in programs that the tests start; with Jest's own number one of two cores would wait.
  maxWorkers: '100%',
};
