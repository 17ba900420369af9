export { SettingsScreen as default } from '../../src/features/settings/SettingsScreen';
