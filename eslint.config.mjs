import next from 'eslint-config-next/core-web-vitals';
import nextTs from 'eslint-config-next/typescript';

/** Imports point one way: core <- contract <- engine <- server, ui <- app. Each folder lists what it may not see. */
const forbidden = (files, groups, message) => ({
  files,
  ignores: ['**/*.test.ts', '**/*.testing.ts'],
  rules: { 'no-restricted-imports': ['error', { patterns: groups.map((group) => ({ group: [group], message })) }] },
});
const outward = {
  core: [
    '@/contract/**',
    '@/engine/**',
    '@/server/**',
    '@/ui/**',
    '@/app/**',
    '@demo/**',
    'react',
    'react-dom',
    '@mui/**',
    'echarts*',
    'next',
    'next/**',
    'node:*',
    '@electric-sql/**',
    'zustand',
    'zod',
  ],
  contract: ['@/engine/**', '@/server/**', '@/ui/**', '@/app/**', '@demo/**', 'react', '@mui/**'],
  engine: ['@/server/**', '@/ui/**', '@/app/**', '@demo/**', 'react', '@mui/**'],
  server: ['@/ui/**', '@/app/**', 'react', '@mui/**'],
  ui: ['@/server/**', '@/app/**', '@demo/**', 'node:*', '@electric-sql/**'],
};
/** Inside core: units, geometry <- radio, building <- propagation <- fields <- planning, survey. `design` sees value types of all. */
const inner = {
  '{units,geometry,errors,random}': ['@/core/{radio,building,propagation,fields,planning,survey,design}/**'],
  '{radio,building}': ['@/core/{propagation,fields,planning,survey,design}/**'],
  propagation: ['@/core/{fields,planning,survey,design}/**'],
  fields: ['@/core/{planning,survey,design}/**'],
  '{planning,survey}': ['@/core/design/**'],
};

const config = [
  { ignores: ['.next/**', 'node_modules/**', 'data/**', '.setup/**', 'assembly/**', 'next-env.d.ts'] },
  ...next,
  ...nextTs,
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-empty': ['error', { allowEmptyCatch: false }],
      eqeqeq: 'error',
    },
  },
  ...Object.entries(outward).map(([dir, groups]) =>
    forbidden([`src/${dir}/**/*.{ts,tsx}`], groups, `src/${dir} may not import this: dependencies point inward (ARCHITECTURE.md).`),
  ),
  ...Object.entries(inner).map(([dir, groups]) =>
    forbidden([`src/core/${dir}/**/*.ts`], [...groups, ...outward.core], `core/${dir} may not import this (ARCHITECTURE.md, "Inside core").`),
  ),
  // The records' schemas are part of what they are: zod describes them, and nothing else in core.
  forbidden(
    ['src/core/design/**/*.ts'],
    outward.core.filter((group) => group !== 'zod'),
    'core/design may not import this (ARCHITECTURE.md, "Inside core").',
  ),
];
export default config;
