import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import vue from 'eslint-plugin-vue';
import globals from 'globals';
import ts from 'typescript-eslint';

export default [
  { ignores: ['node_modules', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.{ts,vue}'],
    languageOptions: { globals: globals.browser, parserOptions: { parser: ts.parser } },
    rules: { 'vue/multi-word-component-names': 'off', 'no-undef': 'off' },
  },
  {
    // every control is Element Plus; only our own instruments draw theirs
    files: ['src/**/*.vue'],
    ignores: ['src/instruments/**'],
    rules: {
      'vue/no-restricted-html-elements': [
        'error',
        ...['button', 'select', 'input', 'textarea', 'table', 'details'].map((element) => ({
          element,
          message: `Take the component of Element Plus instead of a raw <${element}>.`,
        })),
      ],
    },
  },
  prettier,
];
