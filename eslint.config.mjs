import tseslint from 'typescript-eslint';
import reactHooks from 'eslint-plugin-react-hooks';

export default tseslint.config(
  {
    ignores: [
      '**/node_modules/',
      '**/dist/',
      'var/',
      '**/*.generated.ts',
      'packages/core/kernels/',
      'packages/core/codecs/',
      'test-results/',
    ],
  },
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/no-explicit-any': 'error',
      'no-console': 'off',
      eqeqeq: 'error',
      'no-self-compare': 'off',
    },
  },
  { files: ['packages/core/src/**'], rules: { 'no-console': 'error' } },
  { files: ['packages/web/src/**'], ...reactHooks.configs.flat['recommended-latest'] },
);
