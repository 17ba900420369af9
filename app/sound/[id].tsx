export { SoundOnlyScreen as default } from '../../src/features/today/SoundOnlyScreen';
