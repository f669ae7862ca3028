import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import ts from 'typescript-eslint'

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
      'vue/block-order': ['error', { order: ['script', 'template', 'style'] }],
    },
  },
  prettier,
)
