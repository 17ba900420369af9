/** Two kinds of unit tests: the computation and storage in plain Node, components with Expo's preset for the web. */
/** Style sheets say nothing to these tests. */
const moduleNameMapper = {
  '\\.css$': '<rootDir>/tests/helpers/noStyle.js',
  // As the browser has it.
  '^webdav$': '<rootDir>/node_modules/webdav/dist/web/index.js',
};
/** Looked up in the sandbox of a test at every use, otherwise: what computes would take twice the time. */
const sandboxInjectedGlobals = ['Math', 'Number', 'Array', 'Object', 'Map', 'Set', 'Uint8Array', 'Uint8ClampedArray', 'Uint16Array', 'Uint32Array', 'Int16Array', 'Int32Array', 'Float32Array', 'Float64Array', 'DataView', 'Infinity'];
const core = {
  moduleNameMapper,
  sandboxInjectedGlobals,
  displayName: 'core',
  testEnvironment: 'node',
  transform: { '\\.m?[jt]sx?$': ['babel-jest', { presets: ['babel-preset-expo'], caller: { name: 'metro', platform: 'web', bundler: 'metro' } }] },
  transformIgnorePatterns: ['/node_modules/(?!(rbush|quickselect|mediabunny|@react-native-async-storage|idb|fast-xml-parser|@noble/hashes|fractional-indexing|d3-polygon|comlink|nanoid|simple-statistics|tinyqueue|webdav|ical\\.js)/)'],
  testMatch: ['<rootDir>/src/{core,storage,platform,store}/**/*.test.ts', '<rootDir>/server/**/*.test.ts', '<rootDir>/src/{ui,features}/**/*.test.ts'],
};
const ui = {
  displayName: 'ui',
  moduleNameMapper,
  preset: 'jest-expo/web',
  transformIgnorePatterns: ['/node_modules/(?!(react-native(-[a-z-]+)?|@react-native(-[a-z-]+)?/.*|expo(-[a-z-]+)?|@expo/.*|@react-navigation/.*)/)'],
  testMatch: ['<rootDir>/src/{ui,features}/**/*.test.tsx'],
};
// A machine that others load takes its time; that is no error.
module.exports = { projects: [core, ui], testTimeout: 300_000 };
