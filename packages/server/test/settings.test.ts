import { describe, expect, test } from '@jest/globals';
import { settingsFromEnvironment } from '../src/open.ts';

describe('settings from the environment', () => {
  const env = { JUNE_DATABASE: 'db', JUNE_MEDIA: '/a:/b', JUNE_OUTPUT: '/out', JUNE_DATA: '/data' };

  test('are what is said; threads are as many as there are processors unless somebody says otherwise', () => {
    expect(settingsFromEnvironment(env)).toEqual({
      databaseUrl: 'db',
      mediaFolders: ['/a', '/b'],
      outputFolder: '/out',
      dataFolder: '/data',
    });
    expect(settingsFromEnvironment({ ...env, JUNE_THREADS: '3' }).threads).toBe(3);
  });

  test.each(['0', '1.5', 'many', '1000'])('%j is no number of threads', (threads) => {
    expect(() => settingsFromEnvironment({ ...env, JUNE_THREADS: threads })).toThrow(/whole number from 1 to 256/);
  });

  test('what is missing is named', () => {
    expect(() => settingsFromEnvironment({ ...env, JUNE_OUTPUT: '' })).toThrow(/lacks JUNE_OUTPUT/);
  });
});
