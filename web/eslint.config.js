import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import ts from 'typescript-eslint'

const message =
  'Numbers for people are written by figures/format: thousands, sign, digits that u carries.'
const WRITTEN = [
  { selector: 'CallExpression[callee.property.name="toLocaleString"]', message },
  {
    selector:
      ':not(CallExpression[callee.name="Number"]) > CallExpression[callee.property.name="toFixed"]',
    message,
  },
]

export default ts.config(
  { ignores: ['dist/', 'dist-draw/', 'node_modules/', 'components.d.ts', 'src/api/schema.d.ts'] },
  ...ts.configs.strict,
  ...vue.configs['flat/recommended'],
  {
    languageOptions: {
      globals: globals.browser,
      parserOptions: { parser: ts.parser, extraFileExtensions: ['.vue'] },
    },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      'vue/multi-word-component-names': 'off',
      // Names end in their unit, in props too.
      'vue/prop-name-casing': 'off',
      // What people read is written in one place; a number may be rounded anywhere.
      'no-restricted-syntax': ['error', ...WRITTEN],
      'vue/no-restricted-syntax': ['error', ...WRITTEN],
      'vue/block-order': ['error', { order: ['script', 'template', 'style'] }],
    },
  },
  {
    // Paths of drawings, digits of what is typed, and the place itself.
    files: [
      'src/figures/{format,SmallCurve}.{ts,vue}',
      'src/features/imports/ColumnTrace.vue',
      'src/features/intake/typed.ts',
      '**/*.test.ts',
    ],
    rules: { 'no-restricted-syntax': 'off', 'vue/no-restricted-syntax': 'off' },
  },
  prettier,
)
