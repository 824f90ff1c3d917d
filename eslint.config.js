import tseslint from 'typescript-eslint'
import vue from 'eslint-plugin-vue'
import prettier from 'eslint-config-prettier'

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '.vectum/**', '**/*.cjs'] },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: tseslint.parser } },
  },
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-empty-object-type': ['error', { allowInterfaces: 'with-single-extends' }],
      'vue/multi-word-component-names': 'off',
      'vue/no-v-html': 'error',
      'vue/require-default-prop': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true, varsIgnorePattern: '^_', argsIgnorePattern: '^_' }],
      eqeqeq: ['error', 'smart'],
      'no-console': ['error', { allow: ['error', 'warn'] }],
      // the worst that stands; it only falls: whoever mends the worst lowers it
      complexity: ['error', 35],
    },
  },
  {
    // what only the types can tell: a saying put into a plain string, a promise nobody waits for
    files: ['core/src/**/*.ts', 'server/src/**/*.ts', 'web/src/**/*.ts'],
    ignores: ['web/src/**/*.test.ts', 'web/src/**/*.fixture.ts'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { arguments: false } }],
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true, allowBoolean: true, allowNullish: true }],
      '@typescript-eslint/no-base-to-string': 'error',
      '@typescript-eslint/await-thenable': 'error',
    },
  },
  {
    // how the bench was set up is what is really there: no rule of judgement may look at it
    files: ['core/src/**/*.ts'],
    ignores: ['core/src/bench/**', 'core/src/judge/**', '**/*.test.ts', '**/*.fixture.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "MemberExpression[property.name='bench'][object.property.name='choices'], MemberExpression[property.name='bench'][object.name='choices']",
          message: 'What is wrong with the bench car is hidden from every rule; judge by what was seen.',
        },
      ],
    },
  },
  {
    files: ['scripts/**', 'e2e/**', '**/bench/**', '**/score/**', 'server/src/main.ts', 'server/src/people/command.ts'],
    rules: { 'no-console': 'off' },
  },
  prettier,
)
