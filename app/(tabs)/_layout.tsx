export { Frame as default } from '../../src/features/frame/Frame';
