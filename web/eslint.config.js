import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import ts from 'typescript-eslint'

const renderIsPlain = {
  patterns: [
    {
      group: ['vue', 'vuetify', 'vuetify/*', 'pinia', 'vue-router', '*.vue'],
      message: 'render is plain TypeScript: no Vue.',
    },
    {
      regex: '^(@/(?!api/types$|render/|lib/)|\\.\\./)',
      message: 'render imports only itself, lib, and what documents and answers are.',
    },
  ],
}
const onlyUiKnowsVuetify = {
  selector: 'VElement[rawName=/^v-/]',
  message: 'only ui/ knows Vuetify: use a component of ours.',
}
const noArithmeticInComponents = {
  patterns: [
    {
      group: ['d3-array'],
      message: 'components do no arithmetic on data; ask render or the server.',
    },
  ],
}

export default ts.config(
  {
    ignores: [
      'dist',
      'src/api/schema.d.ts',
      'src/figure-model/vocabulary.ts',
      '../src/yarrowdew/web',
    ],
  },
  js.configs.recommended,
  ...ts.configs.strict,
  ...ts.configs.stylistic,
  ...vue.configs['flat/recommended'],
  {
    languageOptions: { globals: globals.browser, parserOptions: { parser: ts.parser } },
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      'no-bitwise': 'off',
      'vue/multi-word-component-names': 'off',
      'vue/block-order': ['error', { order: ['script', 'template', 'style'] }],
    },
  },
  {
    files: ['src/render/**/*.ts'],
    ignores: ['src/**/*.test.ts'],
    rules: { 'no-restricted-imports': ['error', renderIsPlain] },
  },
  {
    files: ['src/**/*.vue'],
    rules: { 'no-restricted-imports': ['error', noArithmeticInComponents] },
  },
  {
    files: ['src/**/*.vue'],
    ignores: ['src/ui/**'],
    rules: { 'vue/no-restricted-syntax': ['error', onlyUiKnowsVuetify] },
  },
  prettier,
)
