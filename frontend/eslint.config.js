import pluginVue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'
import prettier from 'eslint-config-prettier'

export default tseslint.config(
  { ignores: ['dist', 'node_modules', 'src/api/schema.d.ts', 'src/components.d.ts'] },
  ...tseslint.configs.strict,
  ...pluginVue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: tseslint.parser } } },
  { rules: { 'vue/multi-word-component-names': 'off' } },
  {
    // One door a feature: only the shell opens it, and what several features use lives in the kit.
    files: ['src/**/*.ts', 'src/**/*.vue'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [{ regex: 'features/[^/]+/', message: 'A feature is entered by its index.ts.' }] },
      ],
    },
  },
  {
    files: ['src/features/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: 'features/',
              message: 'Features know nothing of each other: what both need goes to the kit.',
            },
            {
              regex: '^\\.\\./(?!\\.\\./\\.\\./\\.\\./tests/)',
              message: 'Nothing reaches out of its feature.',
            },
            {
              regex: '^@/app/(App|router|TrialFrame|StageRail|DueStrip)',
              message: 'The shell is not for features.',
            },
          ],
        },
      ],
    },
  },
  {
    files: ['src/kit/**', 'src/api/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            { regex: '^@/(app|features)', message: 'Kit and api stand below the shell and the features.' },
          ],
        },
      ],
    },
  },
  { files: ['**/*.test.ts'], rules: { '@typescript-eslint/no-non-null-assertion': 'off' } },
  prettier,
)
