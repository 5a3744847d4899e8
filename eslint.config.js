import tseslint from 'typescript-eslint';
import vue from 'eslint-plugin-vue';
import vueParser from 'vue-eslint-parser';

/** One clock (server/clock) and one place (web/time): days and hours are the district's, not the machine's. */
const clockRules = [
  {
    selector: "NewExpression[callee.name='Date'][arguments.length=0]",
    message: 'Ask server/clock. For how long something takes: performance.now().',
  },
  {
    selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']",
    message: 'Ask server/clock. For how long something takes: performance.now().',
  },
  {
    selector:
      'CallExpression[callee.property.name=/^(get|set)(FullYear|Month|Date|Day|Hours|Minutes|TimezoneOffset)$/]',
    message: 'This asks the machine’s zone. Use core/time with the district’s.',
  },
  {
    selector: "CallExpression[callee.property.name='slice'][arguments.0.value=11]",
    message: 'The hour of a moment in UTC. Use core/time with the district’s zone, or web/time on pages.',
  },
  {
    selector: 'CallExpression[callee.property.name=/^toLocale(Date|Time)String$/]',
    message: 'Use core/time, or web/time on pages.',
  },
];
/** Rows are read and written by the models; what is measured to need SQL of its own stands in a room's queries, with the reason. */
const sqlRules = ['name', 'property.name'].map((of) => ({
  selector: `CallExpression[callee.object.${of}='db'][callee.property.name=/^(one|select|run|batch|update|rows|atomic)$/]`,
  message: 'Ask the models, or joined() and insertMany() of server/db. Where SQL is measured to be needed: queries.ts.',
}));

export default tseslint.config(
  {
    ignores: ['dist/**', 'node_modules/**', 'data/**', '.test-data/**', '.bench-data/**', '.shots-data/**', '**/*.cjs'],
  },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parser: vueParser, parserOptions: { parser: tseslint.parser, sourceType: 'module' } },
  },
  {
    // What only types can show: a promise that nobody waits for.
    files: ['**/*.ts', '**/*.vue'],
    languageOptions: {
      parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname, extraFileExtensions: ['.vue'] },
    },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
      '@typescript-eslint/await-thenable': 'error',
    },
  },
  {
    files: ['server/**', 'web/**'],
    ignores: ['**/*.test.ts', 'server/testing/**', 'server/clock.ts', 'web/fields.ts'],
    rules: { 'no-restricted-syntax': ['error', ...clockRules] },
  },
  {
    files: ['server/**'],
    ignores: [
      ...['**/*.test.ts', 'server/testing/**', 'server/clock.ts'],
      ...['server/db/**', '**/queries.ts', '**/*.queries.ts'],
    ],
    rules: { 'no-restricted-syntax': ['error', ...clockRules, ...sqlRules] },
  },
  {
    // Controls come from Ant Design Vue, by way of web/kit.
    files: ['web/**/*.vue'],
    ignores: ['web/kit/**'],
    rules: {
      'vue/no-restricted-html-elements': [
        'error',
        ...[
          'button',
          'input',
          'select',
          'textarea',
          'table',
          'dialog',
          'details',
          'progress',
          'meter',
          'datalist',
          'option',
        ],
      ],
    },
  },
  {
    // What pages say is in the catalog, see core/messages.
    files: ['web/**/*.vue'],
    ignores: ['web/kit/Kit.vue'],
    rules: {
      'vue/no-bare-strings-in-template': [
        'error',
        {
          attributes: {
            '/.+/': [
              ...['title', 'label', 'extra', 'placeholder', 'description', 'message', 'alt'],
              ...['aria-label', 'aria-placeholder', 'aria-roledescription', 'aria-valuetext'],
            ],
          },
          allowlist: [
            ...['(', ')', ',', '.', '&', '+', '-', '=', '*', '/', '#', '%', '!', '?', ':', '[', ']', '<', '>', '|'],
            ...[
              '·',
              '—',
              '–',
              '…',
              '⋯',
              '›',
              '×',
              '→',
              '←',
              '↑',
              '↓',
              '▾',
              '▸',
              '▲',
              '■',
              '≈',
              '≠',
              '“',
              '”',
              '✓',
              '⚑',
            ],
            ...[
              'Sheaf',
              'Ctrl+Enter',
              'Enter',
              'Esc',
              'S',
              'D',
              'L',
              'U',
              '±',
              'Space',
              'Ctrl',
              'Shift',
              'Alt',
              'Tab',
              'mm',
              'CSV',
              '/d/',
            ],
          ],
          attributes: {
            '/.+/': ['title', 'aria-label', 'placeholder', 'alt', 'label', 'empty'],
            input: ['placeholder'],
          },
        },
      ],
    },
  },
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      eqeqeq: 'error',
      'no-console': 'off',
      // Layout of templates is prettier's business.
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
    },
  },
);
