// What only the types can tell (.oxlintrc.json: a saying put into a plain string, a promise nobody waits for) is checked by the native checker, since it is six times as quick.
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
