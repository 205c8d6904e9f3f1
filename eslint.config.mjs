import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';
import { wallsRule } from './lint/walls.mjs';

export default tseslint.config(
  { ignores: ['node_modules/', '.next/', '.basil/', 'next-env.d.ts', 'coverage/', 'core/trace/kernel/'] },
  ...tseslint.configs.recommended,
  {
    plugins: { house: { rules: { walls: wallsRule } } },
    rules: {
      'house/walls': 'error',
      eqeqeq: 'error',
      'no-console': ['error', { allow: ['error'] }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports', disallowTypeAnnotations: false }],
    },
  },
  { files: ['bin/**', 'demo/**'], rules: { 'no-console': 'off' } },
  { files: ['studio/**/*.{ts,tsx}'], ...hooks.configs.flat['recommended-latest'] },
  // The rules' place is this file and core's purity is part of the walls: no framework, no page, no database in core.
  {
    files: ['core/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: ['react', 'react-dom', 'react/*', 'next', 'next/*', 'antd', 'pg', 'pg-boss', 'kysely', '@react-three/*'] },
      ],
      'no-restricted-globals': ['error', 'window', 'document', 'localStorage', 'navigator'],
    },
  },
);
