const { defineConfig, globalIgnores } = require('eslint/config');
const expo = require('eslint-config-expo/flat');

/** `jobs` is no feature of its own but a place on the screens of all. Imports point one way: app -> features -> store, ui -> platform, storage -> core (docs/decisions/0001). */
const zone = (target, from, why) => ({ target: `./${target}`, from: from.map((f) => `./${f}`), message: why });
const FEATURES = ['frame', 'today', 'library', 'note', 'review', 'settings'];

/** Rules of another plugin by their names. */
const off = (prefix, names) => Object.fromEntries(names.map((n) => [`${prefix}/${n}`, 'off']));
const hooks = [...new Set(expo.flatMap((part) => Object.keys(part.rules ?? {})))].filter((name) => name.startsWith('react-hooks/')).map((name) => name.slice(12));

module.exports = defineConfig([
  globalIgnores(['dist/*', 'public/speech/*', 'public/pdf/**', 'public/replay/**', 'node_modules/*', '.cache/*', '.expo/*', 'test-results/*']),
  expo,
  { rules: off('import', ['namespace', 'no-named-as-default', 'no-named-as-default-member']) },
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      // What the compiler of TypeScript says anyway, and with `namespace` in half of the time that all rules take (typescript-eslint.io, "Performance", eslint-plugin-import).
      ...off('import', ['export', 'no-unresolved']),
      'import/no-restricted-paths': [
        'error',
        {
          zones: [
            zone('src/core', ['src/platform', 'src/storage', 'src/store', 'src/ui', 'src/features', 'app'], 'The core knows nothing outside itself.'),
            zone('src/platform', ['src/storage', 'src/store', 'src/ui', 'src/features', 'app'], 'The platform builds on the core alone.'),
            zone('src/storage', ['src/platform', 'src/store', 'src/ui', 'src/features', 'app'], 'Storage builds on the core alone.'),
            zone('src/store', ['src/ui', 'src/features', 'app'], 'The store knows no screens.'),
            zone('src/ui', ['src/storage', 'src/store', 'src/features', 'app'], 'Shared controls know neither the store nor the screens.'),
            zone('src/features', ['app'], 'Routes name screens, not the other way round.'),
            zone('app', ['src/core', 'src/platform', 'src/storage', 'src/store', 'src/ui'], 'A route names a screen of src/features and nothing else.'),
            zone('tests', ['app', 'src/features', 'src/store', 'src/ui'], 'Tests of the interface go through the browser.'),
            ...FEATURES.map((f) => zone(`src/features/${f}`, FEATURES.filter((o) => o !== f).map((o) => `src/features/${o}`), 'A feature does not reach into another feature.')),
          ],
        },
      ],
      'no-restricted-globals': ['error', { name: 'localStorage', message: 'Data goes through src/storage.' }],
      '@typescript-eslint/no-explicit-any': 'error',
      'no-console': 'off',
    },
  },
  {
    files: ['src/**/*.{ts,tsx}'],
    ignores: ['**/*.test.{ts,tsx}'],
    rules: { 'no-restricted-imports': ['error', { patterns: [{ group: ['**/tests/**', '**/demo/*', '**/server/*', '**/scripts/*'], message: 'The application knows neither its tests nor its server.' }] }] },
  },
  {
    files: ['src/{features,store,ui}/**/*.{ts,tsx}'],
    ignores: ['**/*.test.{ts,tsx}'],
    rules: { 'no-restricted-properties': ['error', { object: 'URL', property: 'createObjectURL', message: 'What is shown gets its address from platform/shownUrl: no foreign drawing comes to the screen untamed.' }] },
  },
  // No component and no hook stands there.
  { files: ['src/{core,platform,storage}/**/*.ts', 'server/**/*.ts', 'tests/**/*.ts', 'demo/**/*.ts', 'scripts/**/*.ts'], rules: off('react-hooks', hooks) },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', 'window', 'document', 'navigator', 'localStorage', 'performance', 'requestAnimationFrame', 'setTimeout', 'setInterval'],
      'no-restricted-properties': ['error', { object: 'Date', property: 'now', message: 'The core has no clock of its own.' }],
    },
  },
]);
