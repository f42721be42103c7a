export default {
  testEnvironment: 'node',
  testMatch: ['<rootDir>/packages/*/test/**/*.test.{ts,tsx}'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  modulePathIgnorePatterns: ['/dist/', '<rootDir>/var/'],
  transform: { '^.+\\.tsx?$': '<rootDir>/scripts/jestTransform.mjs' },
  testSequencer: '<rootDir>/scripts/jestOrder.mjs',
  testTimeout: 60000,
};
